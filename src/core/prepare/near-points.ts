import { PointGrid } from "../numeric/point-grid";

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
  const grid = new PointGrid(points, distance);
  let i = 0;
  const pair = (j: number) => {
    if (out.distances.length >= most) return;
    const d = between(points, i, j);
    if (d > distance || !accept(j, i)) return;
    out.pairs.push(j, i);
    out.distances.push(d);
  };
  for (; 3 * i < points.length && out.distances.length < most; i++) {
    grid.near(points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!, pair);
    grid.add(i);
  }
  return out;
}

function between(points: Float64Array, a: number, b: number): number {
  const x = points[3 * a]! - points[3 * b]!;
  const y = points[3 * a + 1]! - points[3 * b + 1]!;
  const z = points[3 * a + 2]! - points[3 * b + 2]!;
  return Math.sqrt(x * x + y * y + z * z);
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
  const far = (a: number, b: number): boolean => between(points, a, b) > beyond && !related(a, b);
  for (let r = Math.max(2 * beyond, extent * 1e-5, start); r <= 4 * extent; r *= 2) {
    const { distances } = nearPairs(points, r, far, 2_000_000);
    if (distances.length) return distances.reduce((least, d) => Math.min(least, d), Infinity);
  }
  return Infinity;
}
