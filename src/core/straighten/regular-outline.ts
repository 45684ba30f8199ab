import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";

/** A border of a shell in order, closed. */
export interface Border {
  /** 2 per point. */
  readonly uv: Float64Array;
  /** From each point to the next, the last to the first; in space, at any size. */
  readonly lengths: ArrayLike<number>;
}

/** From this angle on a border turns at a point, radians. */
const CORNER = (35 * Math.PI) / 180;
/** Radians within which a side is laid level or upright. */
const LEVEL = (10 * Math.PI) / 180;

/**
 * A border made regular: a side between two corners that is nearly straight becomes straight, and level or upright where it
 * nearly is; one that is nearly part of a circle becomes that; a border without corners that is nearly round becomes a
 * circle. Points are spaced as in space. Sides that are neither keep their form between their corners.
 *
 * @param within how far a side may lie off its line, by its own length @returns null where no side is near any
 */
export function regularBorder({ uv, lengths }: Border, within: number): Float64Array | null {
  const corners = cornersOf(uv);
  if (corners.length < 2) return circle(uv, lengths, within);
  const sides = corners.map((from, k) => sideOf(uv, lengths, from, corners[(k + 1) % corners.length]!));
  const forms = sides.map((side) => formOfSide(side, within));
  if (forms.every((form) => form === "own")) return null;
  const places = levelled(sides, forms);
  const out = uv.slice();
  sides.forEach((side, k) => {
    const ends = [places[k]!, places[(k + 1) % places.length]!] as const;
    layBetween(side, forms[k]!, ends).forEach(([u, v], i) => {
      out[2 * side.places[i]!] = u;
      out[2 * side.places[i]! + 1] = v;
    });
  });
  return out;
}

type Point = readonly [number, number];

interface BorderSide {
  /** Places in the border, with those of both its corners. */
  readonly places: readonly number[];
  readonly points: readonly Point[];
  /** By point: its share of the length. */
  readonly shares: readonly number[];
}

type SideForm = "straight" | "own" | { readonly bulge: number };

function cornersOf(uv: Float64Array): number[] {
  const n = uv.length / 2;
  const way = (i: number) =>
    Math.atan2(uv[(2 * i + 3) % (2 * n)]! - uv[2 * i + 1]!, uv[(2 * i + 2) % (2 * n)]! - uv[2 * i]!);
  const out: number[] = [];
  for (let i = 0; i < n; i++) {
    const turn = way(i) - way((i + n - 1) % n);
    if (Math.abs(turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI))) > CORNER) out.push(i);
  }
  return out;
}

function sideOf(uv: Float64Array, lengths: ArrayLike<number>, from: number, to: number): BorderSide {
  const n = uv.length / 2;
  const places = [from];
  const gone = [0];
  do {
    const at = places.at(-1)!;
    gone.push(gone.at(-1)! + lengths[at]!);
    places.push((at + 1) % n);
  } while (places.at(-1) !== to);
  const whole = gone.at(-1)! || 1;
  return { places, points: places.map((p) => [uv[2 * p]!, uv[2 * p + 1]!]), shares: gone.map((g) => g / whole) };
}

/** Points in the axes of a side: along it from 0 to 1, and off it to its left. */
function inSide({ points }: BorderSide): Point[] {
  const [a, b] = [points[0]!, points.at(-1)!];
  const [du, dv] = [b[0] - a[0], b[1] - a[1]];
  const square = du * du + dv * dv || 1;
  return points.map(([u, v]) => [
    ((u - a[0]) * du + (v - a[1]) * dv) / square,
    ((v - a[1]) * du - (u - a[0]) * dv) / square,
  ]);
}

function formOfSide(side: BorderSide, within: number): SideForm {
  const own = inSide(side);
  if (own.every(([, off]) => Math.abs(off) <= within)) return "straight";
  // The arc through both ends that passes where the side lies farthest off.
  const bulge = own.reduce((most, [, off]) => (Math.abs(off) > Math.abs(most) ? off : most), 0);
  const isArc = own.every(([along, off], i) => {
    const [x, y] = onArc(bulge, side.shares[i]!);
    return Math.sqrt((along - x) ** 2 + (off - y) ** 2) <= within * (1 + Math.abs(bulge));
  });
  return isArc ? { bulge } : "own";
}

/** A point of the arc over a chord of length 1. @param bulge how high it stands @param share of its length */
function onArc(bulge: number, share: number): Point {
  // Half of what the arc spans about its centre: tan(half / 2) = 2 bulge.
  const half = 2 * Math.atan(2 * bulge);
  const radius = 1 / (2 * Math.sin(half));
  const at = half * (2 * share - 1);
  return [0.5 + radius * Math.sin(at), radius * (Math.cos(at) - Math.cos(half))];
}

/** Corners with those of each level side at one height, and those of each upright one on one line. */
function levelled(sides: readonly BorderSide[], forms: readonly SideForm[]): Point[] {
  const n = sides.length;
  const corners = sides.map(({ points }) => points[0]!);
  const lines = [iota(n), iota(n)] as const;
  sides.forEach(({ points }, k) => {
    if (forms[k] !== "straight") return;
    const angle = Math.atan2(points.at(-1)![1] - points[0]![1], points.at(-1)![0] - points[0]![0]);
    const quarter = Math.round(angle / (Math.PI / 2));
    if (Math.abs(angle - (quarter * Math.PI) / 2) > LEVEL) return;
    // Level: its ends share their v; upright: their u.
    unite(lines[quarter % 2 ? 0 : 1], k, (k + 1) % n);
  });
  const means = lines.map((line, d) => {
    const [sums, counts] = [new Float64Array(n), new Uint32Array(n)];
    corners.forEach((corner, k) => {
      sums[rootOf(line, k)]! += corner[d as 0 | 1];
      counts[rootOf(line, k)]!++;
    });
    return corners.map((_, k) => sums[rootOf(line, k)]! / counts[rootOf(line, k)]!);
  });
  return corners.map((_, k) => [means[0]![k]!, means[1]![k]!]);
}

/** The points of a side between its corners where those come to lie. */
function layBetween(side: BorderSide, form: SideForm, [a, b]: readonly [Point, Point]): Point[] {
  const [du, dv] = [b[0] - a[0], b[1] - a[1]];
  const own = inSide(side);
  return side.shares.map((share, i) => {
    const [along, off] = form === "straight" ? [share, 0] : form === "own" ? own[i]! : onArc(form.bulge, share);
    return [a[0] + along * du - off * dv, a[1] + along * dv + off * du];
  });
}

/** A border as a circle about its middle, turned as it lies; null where it is not nearly round. */
function circle(uv: Float64Array, lengths: ArrayLike<number>, within: number): Float64Array | null {
  const n = uv.length / 2;
  const whole = Array.from(lengths).reduce((all, l) => all + l, 0) || 1;
  const middle = [0, 1].map((d) => {
    // By the length that each point stands for: points lie denser in some places.
    let all = 0;
    for (let i = 0; i < n; i++) all += (uv[2 * i + d]! * (lengths[i]! + lengths[(i + n - 1) % n]!)) / 2;
    return all / whole;
  }) as [number, number];
  const off = (i: number): Point => [uv[2 * i]! - middle[0], uv[2 * i + 1]! - middle[1]];
  const radii = Array.from({ length: n }, (_, i) => Math.sqrt(off(i)[0] ** 2 + off(i)[1] ** 2));
  const radius = radii.reduce((all, r) => all + r, 0) / n;
  if (radii.some((r) => Math.abs(r - radius) > within * 2 * radius)) return null;
  let area = 0;
  for (let i = 0; i < n; i++) {
    const [a, b] = [off(i), off((i + 1) % n)];
    area += a[0] * b[1] - b[0] * a[1];
  }
  const turn = area < 0 ? -1 : 1;
  // The angle of its first point that suits all of them best.
  let [x, y, gone] = [0, 0, 0];
  const angles = Array.from({ length: n }, (_, i) => {
    const angle = (turn * 2 * Math.PI * gone) / whole;
    gone += lengths[i]!;
    const [u, v] = off(i);
    x += u * Math.cos(angle) + v * Math.sin(angle);
    y += v * Math.cos(angle) - u * Math.sin(angle);
    return angle;
  });
  const first = Math.atan2(y, x);
  return Float64Array.from(
    angles.flatMap((a) => [middle[0] + radius * Math.cos(first + a), middle[1] + radius * Math.sin(first + a)]),
  );
}
