import type { Kernels } from "../kernels/kernels";
import { convexHull } from "../layout/orient";
import { moved, type Placement } from "./page";
import { boundsOf, type Item } from "./raster";

/** A shell in the memory of kernels, as shells that are settled are: about its middle, in nodes of rasters. */
export interface SettleShape {
  /** Its middle, in its own units. */
  readonly u: number;
  readonly v: number;
  readonly mirrored: boolean;
  /** Farthest a point lies from the middle, nodes. */
  readonly radius: number;
  /** Corners of its convex hull about its middle, nodes: 2 numbers each. */
  readonly hull: Float32Array;
  /** What kernels are told of it, 20 numbers of 4 bytes. */
  readonly record: Uint8Array;
}

/** Bytes of a shell's record. */
export const RECORD = 80;
/** Nodes apart: samples inside, and on long edges; those this near are one. */
const [INSIDE, SAME] = [20, 0.08];
export const ON_EDGES = 4;
/** Keys of columns of samples are apart by more than any of them has rows. */
const COLUMN = 2 ** 26;
/** Samples by which places are told roughly. */
const COARSE = 40;
/** Of the deepest samples, those that come first of these. */
const DEEPEST = 4;

export interface ShapeOptions {
  readonly mirrored: boolean;
  /** Nodes that a unit of the shell is. */
  readonly perUnit: number;
  /** Nodes in which distances from its outline are exact. */
  readonly band: number;
  /** Nodes between samples on long edges. */
  readonly apart: number;
}

/** @param next a number from 0 to before 1 */
export function settleShape(
  kernels: Kernels,
  item: Item,
  { mirrored, perUnit, band, apart }: ShapeOptions,
  next: () => number,
): SettleShape {
  const { u0, v0, u1, v1 } = boundsOf(item);
  const [u, v] = [(u0 + u1) / 2, (v0 + v1) / 2];
  const flip = mirrored ? -perUnit : perUnit;
  const to: Placement = { xx: flip, xy: 0, yx: 0, yy: perUnit, du: -flip * u, dv: -perUnit * v };
  const outline = moved(item.outline, to);
  const edge = Math.ceil(band) + 2;
  const [halfW, halfH] = [((u1 - u0) / 2) * perUnit, ((v1 - v0) / 2) * perUnit];
  const [ox, oy] = [-halfW - edge, -halfH - edge];
  const [nx, ny] = [Math.ceil(2 * (halfW + edge)) + 2, Math.ceil(2 * (halfH + edge)) + 2];
  const raster = kernels.take(4 * nx * ny);
  kernels.during(() => {
    const shifted: Placement = { ...to, du: to.du - ox, dv: to.dv - oy };
    const segments = kernels.put(Float32Array.from(moved(item.outline, shifted)));
    const triangles = kernels.put(Float32Array.from(moved(item.triangles, shifted)));
    const counts = [item.outline.length / 4, item.triangles.length / 6] as const;
    kernels.code.shellDistances(raster, kernels.take(nx * ny), nx, ny, segments, counts[0], triangles, counts[1], band);
  });
  const inside = samplesInside(kernels.f32(raster, nx * ny), nx, ny, ox, oy, edge);
  const outer = samplesOf(outline, apart);
  const all = Float32Array.from([...outer, ...inside]);
  const coarse = coarseOf(outer, inside, next);
  const hull = Float32Array.from(convexHull(outline).flatMap((p) => [outline[2 * p]!, outline[2 * p + 1]!]));
  let radius = 0;
  for (let i = 0; i < hull.length; i += 2) radius = Math.max(radius, Math.hypot(hull[i]!, hull[i + 1]!));
  const record = new Uint8Array(RECORD);
  const whole = new Int32Array(record.buffer);
  const broken = new Float32Array(record.buffer);
  whole.set([raster, nx, ny]);
  broken.set([ox, oy], 3);
  whole.set([kernels.put(all), all.length / 2, kernels.put(coarse), coarse.length / 2], 5);
  whole.set([kernels.put(hull), hull.length / 2], 9);
  broken[11] = Math.max(radius, 1e-3);
  return { u, v, mirrored, radius, hull, record };
}

/** Points of the outline: its corners, and some on long edges, so that nothing is missed between them. */
function samplesOf(outline: Float64Array, apart: number): number[] {
  const out: number[] = [];
  const seen = new Set<number>();
  const add = (x: number, y: number) => {
    const key = Math.round(x / SAME) * COLUMN + Math.round(y / SAME);
    if (seen.has(key)) return;
    seen.add(key);
    out.push(x, y);
  };
  for (let i = 0; i < outline.length; i += 4) {
    const [ax, ay, bx, by] = [outline[i]!, outline[i + 1]!, outline[i + 2]!, outline[i + 3]!];
    const count = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / apart));
    for (let k = 0; k <= count; k++) add(ax + ((bx - ax) * k) / count, ay + ((by - ay) * k) / count);
  }
  return out;
}

/**
 * Points well inside, by which a shell is found that lies wholly within another; the deepest first.
 *
 * @param edge nodes about the shell's box
 */
function samplesInside(raster: Float32Array, nx: number, ny: number, ox: number, oy: number, edge: number): number[] {
  const found: Array<{ x: number; y: number; depth: number }> = [];
  for (let j = 0; j < ny; j += INSIDE)
    for (let i = 0; i < nx; i += INSIDE) {
      const depth = raster[j * nx + i]!;
      if (depth < -0.35 * INSIDE) found.push({ x: ox + i, y: oy + j, depth });
    }
  if (found.length) return found.sort((a, b) => a.depth - b.depth).flatMap(({ x, y }) => [x, y]);
  let deepest = edge * nx + edge;
  for (let j = edge; j < ny - edge; j++)
    for (let at = j * nx + edge; at < (j + 1) * nx - edge; at++) if (raster[at]! < raster[deepest]!) deepest = at;
  return [ox + (deepest % nx), oy + Math.floor(deepest / nx)];
}

/** Some samples from all over a shell. */
function coarseOf(outer: readonly number[], inside: readonly number[], next: () => number): Float32Array {
  const out = inside.slice(0, 2 * DEEPEST);
  const rest = [...inside.slice(2 * DEEPEST), ...outer];
  const order = Array.from({ length: rest.length / 2 }, (_, i) => i);
  for (let k = 0; k < order.length && out.length < 2 * COARSE; k++) {
    const j = k + Math.floor(next() * (order.length - k));
    [order[k], order[j]] = [order[j]!, order[k]!];
    out.push(rest[2 * order[k]!]!, rest[2 * order[k]! + 1]!);
  }
  return Float32Array.from(out);
}
