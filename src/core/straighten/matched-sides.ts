/** A side of a strip: points in order. */
export interface Side {
  /** 2 per point. */
  readonly uv: Float64Array;
  /** From each point to the next, one less than there are points; on the sheet. */
  readonly lengths: readonly number[];
}

/**
 * Two opposite sides made alike: with as many edges each edge becomes as long as the mean of itself and that across, else
 * both sides become as long as the mean of both as a whole. Every edge keeps its way, and every side its middle.
 *
 * @returns the points of both, in their own order
 */
export function matchedSides(a: Side, b: Side): [Float64Array, Float64Array] {
  const isReversed = runsAgainst(a.uv, b.uv);
  const across = isReversed ? [...b.lengths].reverse() : b.lengths;
  const matched = meanLengths(a.lengths, across);
  const own = isReversed ? [...matched[1]].reverse() : matched[1];
  return [withLengths(a.uv, matched[0]), withLengths(b.uv, own)];
}

const sum = (list: readonly number[]): number => list.reduce((all, x) => all + x, 0);

function meanLengths(a: readonly number[], b: readonly number[]): [readonly number[], readonly number[]] {
  if (a.length === b.length) {
    const mean = a.map((length, i) => (length + b[i]!) / 2);
    return [mean, mean];
  }
  const whole = (sum(a) + sum(b)) / 2;
  const sized = (list: readonly number[]) => list.map((length) => (length * whole) / (sum(list) || 1));
  return [sized(a), sized(b)];
}

/** Whether the ends of two sides lie nearer to each other when one of them is taken from its end. */
function runsAgainst(a: Float64Array, b: Float64Array): boolean {
  const [m, n] = [a.length - 2, b.length - 2];
  const apart = (i: number, k: number) => Math.sqrt((a[i]! - b[k]!) ** 2 + (a[i + 1]! - b[k + 1]!) ** 2);
  return apart(0, n) + apart(m, 0) < apart(0, 0) + apart(m, n);
}

/** A run whose edges have other lengths; its middle stays where it is. */
function withLengths(uv: Float64Array, lengths: readonly number[]): Float64Array {
  const out = uv.slice();
  for (let i = 1; 2 * i < uv.length; i++) {
    const [du, dv] = [uv[2 * i]! - uv[2 * i - 2]!, uv[2 * i + 1]! - uv[2 * i - 1]!];
    const size = lengths[i - 1]! / (Math.sqrt(du * du + dv * dv) || 1);
    out[2 * i] = out[2 * i - 2]! + size * du;
    out[2 * i + 1] = out[2 * i - 1]! + size * dv;
  }
  const middle = (points: Float64Array, d: number) => {
    let all = 0;
    for (let i = d; i < points.length; i += 2) all += points[i]!;
    return (2 * all) / points.length;
  };
  const by = [0, 1].map((d) => middle(uv, d) - middle(out, d));
  return out.map((x, i) => x + by[i % 2]!);
}
