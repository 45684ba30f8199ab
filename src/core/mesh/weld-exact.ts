/** Points seen last, by a few bits of their hash: a mesh names a point again soon, and this stays near the processor. */
const RECENT = 4096;

/** A number from the bits of a point; -0 counts as 0. */
type Hash = (point: number) => number;

/**
 * Finds points at exactly the same position (0 and -0 are the same), in expected linear time.
 *
 * @param positions 3 per point, finite
 * @returns for every point its number among the different ones, counted in the order of first appearance
 */
export function weldExact(positions: Float64Array | Float32Array): { of: Uint32Array; count: number } {
  const points = positions.length / 3;
  const of = new Uint32Array(points);
  const hashOf = positions instanceof Float32Array ? hashOfSingles(positions) : hashOfDoubles(positions);
  let size = 16;
  while (size < 2 * points) size *= 2;
  // One more than the point, so that 0 is an empty place.
  const table = new Int32Array(size);
  const recent = new Int32Array(RECENT);
  let count = 0;
  for (let i = 0; i < points; i++) {
    const x = positions[3 * i]!;
    const y = positions[3 * i + 1]!;
    const z = positions[3 * i + 2]!;
    const hash = hashOf(i);
    const near = hash & (RECENT - 1);
    let other = recent[near]! - 1;
    if (other >= 0 && positions[3 * other] === x && positions[3 * other + 1] === y && positions[3 * other + 2] === z) {
      of[i] = of[other]!;
      continue;
    }
    // From the upper bits: those that are alike in the lower ones went to the same place above.
    let slot = (hash >>> 5) & (size - 1);
    for (;;) {
      other = table[slot]! - 1;
      if (other < 0) {
        table[slot] = i + 1;
        of[i] = count++;
        break;
      }
      if (positions[3 * other] === x && positions[3 * other + 1] === y && positions[3 * other + 2] === z) {
        of[i] = of[other]!;
        break;
      }
      slot = (slot + 1) & (size - 1);
    }
    recent[near] = i + 1;
  }
  return { of, count };
}

function mixed(hash: number, bits: number): number {
  const product = Math.imul(hash ^ bits, 0x9e3779b1);
  return product ^ (product >>> 15);
}

function hashOfSingles(positions: Float32Array): Hash {
  const bits = new Uint32Array(positions.buffer, positions.byteOffset, positions.length);
  const word = (k: number) => (bits[k] === 0x80000000 ? 0 : bits[k]!);
  return (i) => mixed(mixed(mixed(0, word(3 * i)), word(3 * i + 1)), word(3 * i + 2));
}

function hashOfDoubles(positions: Float64Array): Hash {
  const words = new Float64Array(3);
  const bits = new Uint32Array(words.buffer);
  return (i) => {
    let hash = 0;
    for (let d = 0; d < 3; d++) words[d] = positions[3 * i + d]! + 0;
    for (let k = 0; k < 6; k++) hash = mixed(hash, bits[k]!);
    return hash;
  };
}

/** The different points, in the order of their numbers. */
export function pickPoints(positions: Float64Array | Float32Array, of: Uint32Array, count: number): Float64Array {
  const out = new Float64Array(3 * count);
  let next = 0;
  for (let i = 0; i < of.length && next < count; i++) {
    // Numbers are given in the order of first appearance.
    if (of[i] !== next) continue;
    for (let d = 0; d < 3; d++) out[3 * next + d] = positions[3 * i + d]! + 0;
    next++;
  }
  return out;
}
