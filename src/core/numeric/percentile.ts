/** Values with their weights; zeros are left out, and signs do not count. */
export interface Weighted {
  readonly values: Float32Array;
  readonly weights: Float32Array;
}

const HALF = 1 << 16;

/**
 * The least magnitude below which, itself included, lies a share of the weight. The bits of positive single floats are
 * in the order of their values, so that two counts of 16 bits each find it, in linear time and without sorting.
 *
 * @param lists taken together; weights are not negative
 * @param share 0 to 1
 * @param guess a value that it is thought to be near: one pass is then enough where that is so
 * @returns 0 when there is nothing but zeros
 */
export function weightedPercentile(lists: readonly Weighted[], share: number, guess = 0): number {
  return (guess > 0 ? nearGuess(lists, share, guess) : null) ?? byBits(lists, share);
}

/** How far from the guess values are gathered. */
const NEAR = 0.002;

/** Sums what is below and above the guess, and sorts what is near it; null when the percentile is not among that. */
function nearGuess(lists: readonly Weighted[], share: number, guess: number): number | null {
  const [from, to] = [guess * (1 - NEAR), guess * (1 + NEAR)];
  let [below, above, count, at] = [0, 0, 0, 0];
  for (const { values } of lists) count += values.length;
  const near = new Float64Array(2 * Math.min(4096, count));
  for (const { values, weights } of lists)
    for (let i = 0; i < values.length; i++) {
      const x = Math.abs(values[i]!);
      if (x > to) above += weights[i]!;
      else if (x < from) below += x > 0 ? weights[i]! : 0;
      else {
        if (at === near.length) return null; // a value that many have
        near[at++] = x;
        near[at++] = weights[i]!;
      }
    }
  const order = Uint32Array.from({ length: at / 2 }, (_, k) => 2 * k).sort((a, b) => near[a]! - near[b]!);
  const total = order.reduce((sum, k) => sum + near[k + 1]!, below + above);
  let left = share * total - below;
  if (left <= 0) return null;
  for (const k of order) {
    left -= near[k + 1]!;
    if (left <= 0) return near[k]!;
  }
  return null;
}

function byBits(lists: readonly Weighted[], share: number): number {
  const high = new Float64Array(HALF / 2);
  for (const list of lists) countHigh(list, high);
  high[0] = 0; // zero, and what is too small to matter
  const top = reach(high, share * high.reduce((a, b) => a + b, 0));
  if (!top.bin) return 0;
  const low = new Float64Array(HALF);
  for (const list of lists) countLow(list, top.bin, low);
  const { bin } = reach(low, top.left);
  return new Float32Array(Uint32Array.of((top.bin << 16) | bin).buffer)[0]!;
}

const bitsOf = (values: Float32Array) => new Uint32Array(values.buffer, values.byteOffset, values.length);

/** Sums the weights by the upper half of the bits, the sign left out. */
function countHigh({ values, weights }: Weighted, bins: Float64Array): void {
  const bits = bitsOf(values);
  for (let i = 0; i < bits.length; i++) bins[(bits[i]! >>> 16) & 0x7fff]! += weights[i]!;
}

/** Sums the weights by the lower half of the bits, for those whose upper half is `top`. */
function countLow({ values, weights }: Weighted, top: number, bins: Float64Array): void {
  const bits = bitsOf(values);
  for (let i = 0; i < bits.length; i++)
    if (((bits[i]! >>> 16) & 0x7fff) === top) bins[bits[i]! & 0xffff]! += weights[i]!;
}

/** The bin in which the sum from the first reaches what is wanted, and what was left of that before it. */
function reach(bins: Float64Array, wanted: number): { bin: number; left: number } {
  let [last, left] = [0, wanted];
  for (let bin = 0; bin < bins.length; bin++) {
    if (!(bins[bin]! > 0)) continue;
    last = bin;
    if (bins[bin]! >= left) break;
    left -= bins[bin]!;
  }
  return { bin: last, left };
}
