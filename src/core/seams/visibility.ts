import { type Asset, drawnParts, type ShapeId } from "../layout/asset";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { worldPositions } from "../mesh/transform";
import { trianglesOf } from "../mesh/triangulate";
import { length3 } from "../numeric/length";
import { BACK } from "./turned-sections";

const SIDE = 256;
const DIRECTIONS = 26;

/** A part as it stands, for others to be seen past. */
export interface ViewedPart {
  readonly mesh: PolyMesh;
  /** 3 per vertex, world space. */
  readonly world: Float64Array;
}

/** Numbers of all directions that are looked along. */
export const ALL_DIRECTIONS: readonly number[] = Array.from({ length: DIRECTIONS }, (_, d) => d);

/** Upright coordinate: y or z. */
export const upAxisOf = (asset: Pick<Asset, "up">): 1 | 2 => (asset.up === "y" ? 1 : 2);

/** The way up of an asset, unit. */
export const upOf = (asset: Pick<Asset, "up">): readonly [number, number, number] =>
  upAxisOf(asset) === 1 ? [0, 1, 0] : [0, 0, 1];

/** The parts of an asset as they stand. */
export const viewedParts = (asset: Asset): ViewedPart[] =>
  drawnParts(asset).map((part) => ({ mesh: part.mesh, world: worldPositions(part.mesh, part.transform) }));

/**
 * How openly faces are seen along some directions: for every part the weights of those in which the middle of a face is
 * the nearest surface. Sums over directions add up, so they can be looked along side by side.
 *
 * @param weights of all directions
 * @returns by part, one per face
 */
export function visibleFrom(
  parts: readonly ViewedPart[],
  weights: Float64Array,
  directions: readonly number[],
  onStep: (share: number) => void = () => {},
): Float32Array[] {
  const middles = parts.map(({ mesh, world }) => faceMiddles(mesh, world));
  const out = parts.map(({ mesh }) => new Float32Array(faceCount(mesh)));
  const bounds = boundsOf(parts.map((p) => p.world));
  const depth = new Float32Array(SIDE * SIDE);
  for (const [n, d] of directions.entries()) {
    onStep(n / directions.length);
    const view = viewAlong(spiral(d), bounds);
    const weight = weights[d]!;
    depth.fill(-Infinity);
    for (const { mesh, world } of parts) drawDepth(depth, world, mesh.cornerVertex, trianglesOf(mesh).corners, view);
    for (const [i, { mesh, world }] of parts.entries()) {
      const seen = out[i]!;
      for (let f = 0; f < seen.length; f++) {
        const open = facing(world, mesh.cornerVertex, mesh.faceStart, f, view, middles[i]!);
        if (open > 0 && inFront(depth, middles[i]!, f, view)) seen[f]! += weight * Math.min(1, 2 * open);
      }
    }
  }
  return out;
}

/** What a direction counts that no marked view looks along, and how narrowly a view is meant. */
const AROUND = 0.01;
const NARROW = 6;

/** What every direction counts: from below a third, as things mostly stand on something; where views are marked, as near as it is to one. */
export function directionWeights(asset: Pick<Asset, "up" | "views">): Float64Array {
  const up = upAxisOf(asset);
  return Float64Array.from(ALL_DIRECTIONS, (d) => {
    const way = spiral(d);
    if (!asset.views.length) return way[up]! > -0.2 ? 1 : 1 / 3;
    const near = asset.views.map((v) => Math.max(0, v[0] * way[0]! + v[1] * way[1]! + v[2] * way[2]!) ** NARROW);
    return AROUND + Math.max(...near);
  });
}

/** Away from who looks: the side on which seams lie that could lie anywhere. */
export function backOf(asset: Pick<Asset, "up" | "views">): readonly [number, number, number] {
  const sum = [0, 1, 2].map((d) => asset.views.reduce((all, view) => all - view[d]!, 0));
  // Views from all sides have no other side.
  return Math.hypot(...sum) > 0.1 ? [sum[0]!, sum[1]!, sum[2]!] : BACK[upAxisOf(asset)];
}

/**
 * How openly every face can be seen from outside, 0 to 1, with all parts in the way of one another. A shape drawn by
 * several parts is as open as its most open.
 *
 * @param sums what `visibleFrom` gave for all directions, by part
 */
export function openness(asset: Asset, sums: readonly Float32Array[]): Map<ShapeId, Float32Array> {
  const total = directionWeights(asset).reduce((sum, weight) => sum + weight, 0);
  const byShape = new Map<ShapeId, Float32Array>();
  asset.parts.forEach(({ shape }, i) => {
    // A convex body's faces see half of all directions; that counts as fully open.
    const seen = sums[i]!.map((x) => Math.min(1, (2.6 * x) / total));
    const most = byShape.get(shape);
    if (!most) byShape.set(shape, seen);
    else for (let f = 0; f < seen.length; f++) most[f] = Math.max(most[f]!, seen[f]!);
  });
  return byShape;
}

/** The same in one go, here. */
export const faceVisibility = (asset: Asset, onStep?: (share: number) => void): Map<ShapeId, Float32Array> =>
  openness(asset, visibleFrom(viewedParts(asset), directionWeights(asset), ALL_DIRECTIONS, onStep));

interface View {
  readonly x: readonly number[];
  readonly y: readonly number[];
  /** Towards the eye. */
  readonly z: readonly number[];
  readonly centre: readonly number[];
  readonly scale: number;
}

/** Directions spread evenly over the sphere (Fibonacci spiral). */
function spiral(i: number): [number, number, number] {
  const y = 1 - (2 * (i + 0.5)) / DIRECTIONS;
  const r = Math.sqrt(1 - y * y);
  const angle = i * Math.PI * (3 - Math.sqrt(5));
  return [r * Math.cos(angle), y, r * Math.sin(angle)];
}

function boundsOf(clouds: readonly Float64Array[]): { centre: number[]; radius: number } {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const points of clouds)
    for (let i = 0; i < points.length; i++) {
      low[i % 3] = Math.min(low[i % 3]!, points[i]!);
      high[i % 3] = Math.max(high[i % 3]!, points[i]!);
    }
  return {
    centre: low.map((x, i) => (x + high[i]!) / 2),
    radius: Math.hypot(...low.map((x, i) => high[i]! - x)) / 2 || 1,
  };
}

function viewAlong(z: readonly number[], bounds: { centre: number[]; radius: number }): View {
  const helper = Math.abs(z[1]!) < 0.9 ? [0, 1, 0] : [1, 0, 0];
  const cross = (a: readonly number[], b: readonly number[]) => [
    a[1]! * b[2]! - a[2]! * b[1]!,
    a[2]! * b[0]! - a[0]! * b[2]!,
    a[0]! * b[1]! - a[1]! * b[0]!,
  ];
  const raw = cross(helper, z);
  const length = Math.hypot(...raw);
  const x = raw.map((v) => v / length);
  return { x, y: cross(z, x), z, centre: bounds.centre, scale: (SIDE / 2 - 1) / bounds.radius };
}

const along = (p: Float64Array, i: number, axis: readonly number[], c: readonly number[]): number =>
  (p[i]! - c[0]!) * axis[0]! + (p[i + 1]! - c[1]!) * axis[1]! + (p[i + 2]! - c[2]!) * axis[2]!;

function drawDepth(
  depth: Float32Array,
  world: Float64Array,
  cornerVertex: Uint32Array,
  corners: Uint32Array,
  view: View,
): void {
  const n = world.length / 3;
  const screen = new Float64Array(3 * n);
  for (let v = 0; v < n; v++) {
    screen[3 * v] = along(world, 3 * v, view.x, view.centre) * view.scale + SIDE / 2;
    screen[3 * v + 1] = along(world, 3 * v, view.y, view.centre) * view.scale + SIDE / 2;
    screen[3 * v + 2] = along(world, 3 * v, view.z, view.centre) * view.scale;
  }
  for (let t = 0; t < corners.length; t += 3) {
    const a = 3 * cornerVertex[corners[t]!]!;
    const b = 3 * cornerVertex[corners[t + 1]!]!;
    const c = 3 * cornerVertex[corners[t + 2]!]!;
    drawTriangle(depth, screen, a, b, c);
  }
}

function drawTriangle(depth: Float32Array, s: Float64Array, a: number, b: number, c: number): void {
  const x0 = Math.floor(Math.min(s[a]!, s[b]!, s[c]!));
  const x1 = Math.ceil(Math.max(s[a]!, s[b]!, s[c]!));
  const y0 = Math.floor(Math.min(s[a + 1]!, s[b + 1]!, s[c + 1]!));
  const y1 = Math.ceil(Math.max(s[a + 1]!, s[b + 1]!, s[c + 1]!));
  const area = (s[b]! - s[a]!) * (s[c + 1]! - s[a + 1]!) - (s[c]! - s[a]!) * (s[b + 1]! - s[a + 1]!);
  if (area === 0) return;
  for (let y = y0; y < y1; y++) {
    for (let x = x0; x < x1; x++) {
      const px = x + 0.5;
      const py = y + 0.5;
      const u = ((s[b]! - px) * (s[c + 1]! - py) - (s[c]! - px) * (s[b + 1]! - py)) / area;
      const v = ((s[c]! - px) * (s[a + 1]! - py) - (s[a]! - px) * (s[c + 1]! - py)) / area;
      if (u < 0 || v < 0 || u + v > 1) continue;
      const z = u * s[a + 2]! + v * s[b + 2]! + (1 - u - v) * s[c + 2]!;
      const at = y * SIDE + x;
      if (z > depth[at]!) depth[at] = z;
    }
  }
}

function faceMiddles(mesh: PolyMesh, world: Float64Array): Float64Array {
  const out = new Float64Array(3 * faceCount(mesh));
  for (let f = 0; f < faceCount(mesh); f++) {
    const size = mesh.faceStart[f + 1]! - mesh.faceStart[f]!;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
      for (let d = 0; d < 3; d++) out[3 * f + d]! += world[3 * mesh.cornerVertex[c]! + d]! / size;
  }
  return out;
}

/** Cosine between a face's normal (of its fan from the middle) and the eye. */
function facing(
  world: Float64Array,
  cornerVertex: Uint32Array,
  faceStart: Uint32Array,
  f: number,
  view: View,
  middles: Float64Array,
): number {
  let [nx, ny, nz] = [0, 0, 0];
  const end = faceStart[f + 1]!;
  for (let c = faceStart[f]!; c < end; c++) {
    const a = 3 * cornerVertex[c]!;
    const b = 3 * cornerVertex[c + 1 === end ? faceStart[f]! : c + 1]!;
    const ax = world[a]! - middles[3 * f]!;
    const ay = world[a + 1]! - middles[3 * f + 1]!;
    const az = world[a + 2]! - middles[3 * f + 2]!;
    const bx = world[b]! - middles[3 * f]!;
    const by = world[b + 1]! - middles[3 * f + 1]!;
    const bz = world[b + 2]! - middles[3 * f + 2]!;
    nx += ay * bz - az * by;
    ny += az * bx - ax * bz;
    nz += ax * by - ay * bx;
  }
  return (nx * view.z[0]! + ny * view.z[1]! + nz * view.z[2]!) / (length3(nx, ny, nz) || 1);
}

function inFront(depth: Float32Array, middles: Float64Array, f: number, view: View): boolean {
  const x = Math.floor(along(middles, 3 * f, view.x, view.centre) * view.scale + SIDE / 2);
  const y = Math.floor(along(middles, 3 * f, view.y, view.centre) * view.scale + SIDE / 2);
  const z = along(middles, 3 * f, view.z, view.centre) * view.scale;
  return z >= depth[y * SIDE + x]! - 3; // within three cells: its own slope and its neighbours'
}
