import { PointGrid } from "../numeric/point-grid";
import { signedArea } from "./area";
import type { ShellMesh } from "./shell-mesh";
import { type Beside, besideOf } from "./shell-pattern";

/** Of a shell's size, how far a point may lie from where another mirrors to. */
const NEAR = 1e-4;
const AXES: ReadonlyArray<readonly [number, number, number]> = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
/** Rounds of the search for the directions in which a shell is longest. */
const ROUNDS = 60;

/**
 * The mirror image of every point of a shell, where the shell mirrors in space: across a plane through its middle, along
 * an axis or one of the directions in which it is longest and shortest. Where points lie in one place, as on both sides
 * of a seam, neighbours tell them apart.
 *
 * @returns for every point another, or itself; nothing where the shell does not mirror
 */
export function mirrorOf(shell: ShellMesh): Uint32Array | null {
  const { positions: p } = shell;
  const points = p.length / 3;
  const middle = [0, 1, 2].map((d) => sumOf(points, (i) => p[3 * i + d]!) / points);
  const around = Float64Array.from(p, (x, i) => x - middle[i % 3]!);
  const size = Math.sqrt(sumOf(p.length, (i) => around[i]! ** 2) / points);
  if (!(size > 0)) return null;
  const grid = new PointGrid(around, NEAR * size);
  for (let i = 0; i < points; i++) grid.add(i);
  let beside: Beside | null = null;
  const besideOnce = () => {
    beside ??= besideOf(shell.triangles, points);
    return beside;
  };
  for (const normal of [...longestWays(around), ...AXES]) {
    const found = imagesAcross(around, normal, grid, NEAR * size, besideOnce);
    // A flat shell lies in a plane of its own, across which every point is its own image.
    if (found?.some((image, i) => image !== i)) return found;
  }
  return null;
}

function sumOf(count: number, of: (i: number) => number): number {
  let sum = 0;
  for (let i = 0; i < count; i++) sum += of(i);
  return sum;
}

type Direction = readonly [number, number, number];

/** The directions in which points about the origin spread most and least, and the one across both. By power iteration. */
function longestWays(p: Float64Array): Direction[] {
  const m = new Float64Array(9);
  for (let i = 0; i < p.length; i += 3)
    for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) m[3 * a + b]! += p[i + a]! * p[i + b]!;
  const first = powerOf(m, [0.36, 0.48, 0.8]);
  const value = sumOf(3, (a) => first[a]! * sumOf(3, (b) => m[3 * a + b]! * first[b]!));
  const rest = m.map((x, i) => x - value * first[Math.floor(i / 3)]! * first[i % 3]!);
  const second = powerOf(rest, cross(first, Math.abs(first[0]) < 0.9 ? AXES[0]! : AXES[1]!));
  return [first, second, cross(first, second)];
}

function powerOf(m: Float64Array, start: Direction): Direction {
  let v = start;
  for (let k = 0; k < ROUNDS; k++) {
    const next = [0, 1, 2].map((a) => sumOf(3, (b) => m[3 * a + b]! * v[b]!));
    const length = Math.hypot(...next);
    if (!(length > 0)) return v;
    v = [next[0]! / length, next[1]! / length, next[2]! / length];
  }
  return v;
}

const cross = (a: Direction, b: Direction): Direction => {
  const out = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const length = Math.hypot(...out) || 1;
  return [out[0]! / length, out[1]! / length, out[2]! / length];
};

/** The images across one plane through the origin; nothing where a point has none. */
function imagesAcross(
  p: Float64Array,
  normal: Direction,
  grid: PointGrid,
  reach: number,
  beside: () => Beside,
): Uint32Array | null {
  const points = p.length / 3;
  const found = new Int32Array(points).fill(-1);
  const several: number[][] = [];
  const unclear: number[] = [];
  for (let i = 0; i < points; i++) {
    const [x, y, z] = [p[3 * i]!, p[3 * i + 1]!, p[3 * i + 2]!];
    const twice = 2 * (x * normal[0] + y * normal[1] + z * normal[2]);
    const [mx, my, mz] = [x - twice * normal[0], y - twice * normal[1], z - twice * normal[2]];
    const near: number[] = [];
    grid.near(mx, my, mz, (j) => {
      if (Math.hypot(p[3 * j]! - mx, p[3 * j + 1]! - my, p[3 * j + 2]! - mz) <= reach) near.push(j);
    });
    if (!near.length) return null;
    if (near.length === 1) found[i] = near[0]!;
    else {
      unclear.push(i);
      several.push(near);
    }
  }
  if (unclear.length === points) return null;
  if (unclear.length) tellApart(found, unclear, several, beside());
  // Two that are each other's images, and no two with the same.
  for (let i = 0; i < points; i++) if (found[i]! < 0 || found[found[i]!] !== i) return null;
  return Uint32Array.from(found);
}

/** Chooses among several images of points by what lies beside them, going on from those that are known. */
function tellApart(
  found: Int32Array,
  unclear: readonly number[],
  several: readonly number[][],
  { start, neighbours }: Beside,
): void {
  const isBeside = (a: number, b: number): boolean => {
    for (let k = start[a]!; k < start[a + 1]!; k++) if (neighbours[k] === b) return true;
    return false;
  };
  for (let isOn = true; isOn; ) {
    isOn = false;
    unclear.forEach((i, n) => {
      if (found[i]! >= 0) return;
      for (let k = start[i]!; k < start[i + 1]!; k++) {
        const known = found[neighbours[k]!]!;
        const image = known < 0 ? undefined : several[n]!.find((j) => isBeside(known, j));
        if (image === undefined) continue;
        found[i] = image;
        isOn = true;
        return;
      }
    });
  }
}

/**
 * A map made the same on both sides of a line, the one across which it is nearest to its own mirror image: every point
 * goes to the middle of where it is and where its image's mirror image is.
 *
 * @param uv 2 a point @param images as of `mirrorOf` @returns nothing where that flips a triangle
 */
export function madeSymmetric(triangles: Uint32Array, uv: Float64Array, images: Uint32Array): Float64Array | null {
  const points = images.length;
  const [mu, mv] = [0, 1].map((d) => sumOf(points, (i) => uv[2 * i + d]!) / points) as [number, number];
  let [c, s] = [0, 0];
  for (let i = 0; i < points; i++) {
    const j = images[i]!;
    const [x, y, z, w] = [uv[2 * i]! - mu, uv[2 * i + 1]! - mv, uv[2 * j]! - mu, uv[2 * j + 1]! - mv];
    c += x * z - y * w;
    s += x * w + y * z;
  }
  const length = Math.hypot(c, s);
  if (!(length > 0)) return null;
  [c, s] = [c / length, s / length];
  const out = new Float64Array(uv.length);
  for (let i = 0; i < points; i++) {
    const j = images[i]!;
    if (j < i) continue;
    const [x, y, z, w] = [uv[2 * i]! - mu, uv[2 * i + 1]! - mv, uv[2 * j]! - mu, uv[2 * j + 1]! - mv];
    const [u, v] = [(x + c * z + s * w) / 2, (y + s * z - c * w) / 2];
    // Its image last: a point of the line is its own.
    out[2 * j] = mu + c * u + s * v;
    out[2 * j + 1] = mv + s * u - c * v;
    out[2 * i] = mu + u;
    out[2 * i + 1] = mv + v;
  }
  for (let t = 0; t < triangles.length; t += 3) if (!(signedArea(out, triangles, t) > 0)) return null;
  return out;
}
