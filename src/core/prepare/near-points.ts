/** Pairs of points that lie near each other: 2 numbers per pair, the lower first, and the distance of each. */
export interface NearPairs {
  readonly pairs: number[];
  readonly distances: number[];
}

/**
 * Pairs of points no farther apart than a distance, by a hash of cells of that size; linear in points and pairs.
 *
 * @param points 3 per point
 * @param accept whether a pair counts
 * @param most pairs after which the search ends
 */
export function nearPairs(
  points: Float64Array,
  distance: number,
  accept: (a: number, b: number) => boolean = () => true,
  most = Infinity,
): NearPairs {
  const out: NearPairs = { pairs: [], distances: [] };
  // A cell of no size would hash every coordinate to infinity: equal points are found in the smallest that is sound.
  let extent = 1e-300;
  for (const x of points) extent = Math.max(extent, Math.abs(x));
  const cell = Math.max(distance, extent * 1e-15);
  const count = points.length / 3;
  let size = 16;
  while (size < 2 * count) size *= 2;
  const head = new Int32Array(size).fill(-1);
  const next = new Int32Array(count);
  const slot = (x: number, y: number, z: number) => {
    let h = Math.imul(Math.round(x % 2147483647) | 0, 73856093);
    h ^= Math.imul(Math.round(y % 2147483647) | 0, 19349663);
    h ^= Math.imul(Math.round(z % 2147483647) | 0, 83492791);
    h ^= h >>> 13;
    return h & (size - 1);
  };
  const tried = new Int32Array(27);
  for (let i = 0; i < count; i++) {
    const cx = Math.floor(points[3 * i]! / cell);
    const cy = Math.floor(points[3 * i + 1]! / cell);
    const cz = Math.floor(points[3 * i + 2]! / cell);
    let known = 0;
    for (let k = 0; k < 27; k++) {
      const at = slot(cx + (k % 3) - 1, cy + (((k / 3) | 0) % 3) - 1, cz + ((k / 9) | 0) - 1);
      // Two cells may share a slot, which is then looked into once.
      let seen = false;
      for (let t = 0; t < known; t++) seen ||= tried[t] === at;
      if (seen) continue;
      tried[known++] = at;
      for (let j = head[at]!; j >= 0; j = next[j]!) {
        const d = Math.hypot(
          points[3 * i]! - points[3 * j]!,
          points[3 * i + 1]! - points[3 * j + 1]!,
          points[3 * i + 2]! - points[3 * j + 2]!,
        );
        if (d > distance || !accept(j, i)) continue;
        out.pairs.push(j, i);
        out.distances.push(d);
        if (out.distances.length >= most) return out;
      }
    }
    const own = slot(cx, cy, cz);
    next[i] = head[own]!;
    head[own] = i;
  }
  return out;
}

/**
 * The least distance between points that lie farther apart than `beyond` and are not related; Infinity when there are
 * none. Looks at cells that double in size until a pair is found.
 *
 * @param start a distance within which few pairs lie, from which the search begins
 */
export function leastDistance(
  points: Float64Array,
  beyond: number,
  related: (a: number, b: number) => boolean,
  extent: number,
  start = 0,
): number {
  const far = (a: number, b: number): boolean =>
    Math.hypot(
      points[3 * a]! - points[3 * b]!,
      points[3 * a + 1]! - points[3 * b + 1]!,
      points[3 * a + 2]! - points[3 * b + 2]!,
    ) > beyond && !related(a, b);
  for (let r = Math.max(2 * beyond, extent * 1e-5, start); r <= 4 * extent; r *= 2) {
    const { distances } = nearPairs(points, r, far, 2_000_000);
    if (distances.length) return distances.reduce((least, d) => Math.min(least, d), Infinity);
  }
  return Infinity;
}
