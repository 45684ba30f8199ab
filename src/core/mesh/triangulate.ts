import { Derived } from "./derived";
import { faceCount, type PolyMesh } from "./poly-mesh";
import { writeVectorArea } from "./vector-area";

/** The one triangulation that measuring, unfolding, drawing and writing share. */
export interface Triangles {
  /** 3 corners per triangle. */
  readonly corners: Uint32Array;
  /** Face of every triangle. */
  readonly face: Uint32Array;
  /** Triangles of face f: faceStart[f] .. faceStart[f + 1] - 1. */
  readonly faceStart: Uint32Array;
}

const cache = new Derived<PolyMesh, Triangles>("triangles");

/** Triangles of a mesh: a fan for faces convex in 3D, best ears first for the rest. Faces under three corners have none. */
export function trianglesOf(mesh: PolyMesh): Triangles {
  let triangles = cache.get(mesh);
  if (!triangles) {
    triangles = triangulate(mesh);
    cache.set(mesh, triangles);
  }
  return triangles;
}

/** Keeps triangles that were made elsewhere (another thread) for a mesh. */
export const seedTriangles = (mesh: PolyMesh, triangles: Triangles): void => cache.set(mesh, triangles);

/**
 * Area of a triangle.
 *
 * @param points 3 per vertex
 * @param corners list in which the triangle's corners stand at `at` and after it
 */
export function triangleArea(
  { cornerVertex }: PolyMesh,
  points: Float64Array,
  corners: Uint32Array,
  at: number,
): number {
  const i = 3 * cornerVertex[corners[at]!]!;
  const j = 3 * cornerVertex[corners[at + 1]!]!;
  const l = 3 * cornerVertex[corners[at + 2]!]!;
  const ax = points[j]! - points[i]!;
  const ay = points[j + 1]! - points[i + 1]!;
  const az = points[j + 2]! - points[i + 2]!;
  const bx = points[l]! - points[i]!;
  const by = points[l + 1]! - points[i + 1]!;
  const bz = points[l + 2]! - points[i + 2]!;
  const x = ay * bz - az * by;
  const y = az * bx - ax * bz;
  const z = ax * by - ay * bx;
  return Math.sqrt(x * x + y * y + z * z) / 2;
}

function triangulate(mesh: PolyMesh): Triangles {
  const faceStart = new Uint32Array(faceCount(mesh) + 1);
  for (let f = 0; f < faceCount(mesh); f++)
    faceStart[f + 1] = faceStart[f]! + Math.max(0, mesh.faceStart[f + 1]! - mesh.faceStart[f]! - 2);
  const count = faceStart[faceCount(mesh)]!;
  const corners = new Uint32Array(3 * count);
  const face = new Uint32Array(count);
  let at = 0;
  const add = (f: number, a: number, b: number, c: number) => {
    face[at] = f;
    corners[3 * at] = a;
    corners[3 * at + 1] = b;
    corners[3 * at + 2] = c;
    at++;
  };
  for (let f = 0; f < faceCount(mesh); f++) {
    const start = mesh.faceStart[f]!;
    const size = mesh.faceStart[f + 1]! - start;
    if (size > 3 && isBent(mesh, start, size)) {
      for (const [a, b, c] of clipEars(flatten(mesh, start, size))) add(f, start + a, start + b, start + c);
    } else {
      for (let k = 1; k + 1 < size; k++) add(f, start, start + k, start + k + 1);
    }
  }
  return { corners, face, faceStart };
}

/** Scratch: the normal of the face looked at, twice as long as its area. */
const normal = new Float64Array(3);

/** Whether some corner of the face turns inwards, seen along its summed normal. */
function isBent(mesh: PolyMesh, start: number, size: number): boolean {
  writeVectorArea(mesh.positions, mesh.cornerVertex, start, start + size, normal);
  const nx = normal[0]!;
  const ny = normal[1]!;
  const nz = normal[2]!;
  const limit = 1e-9 * (nx * nx + ny * ny + nz * nz);
  if (limit === 0) return false;
  const { positions: p, cornerVertex } = mesh;
  let before = 3 * cornerVertex[start + size - 1]!;
  for (let k = 0; k < size; k++) {
    const here = 3 * cornerVertex[start + k]!;
    const after = 3 * cornerVertex[start + (k + 1 < size ? k + 1 : 0)]!;
    const ax = p[here]! - p[before]!;
    const ay = p[here + 1]! - p[before + 1]!;
    const az = p[here + 2]! - p[before + 2]!;
    const bx = p[after]! - p[here]!;
    const by = p[after + 1]! - p[here + 1]!;
    const bz = p[after + 2]! - p[here + 2]!;
    if ((ay * bz - az * by) * nx + (az * bx - ax * bz) * ny + (ax * by - ay * bx) * nz <= limit) return true;
    before = here;
  }
  return false;
}

/** A bent face seen along its normal, 2 numbers per corner; for single faces. */
function flatten(mesh: PolyMesh, start: number, size: number): Array<readonly [number, number]> {
  writeVectorArea(mesh.positions, mesh.cornerVertex, start, start + size, normal);
  const length = Math.sqrt(normal[0]! ** 2 + normal[1]! ** 2 + normal[2]! ** 2);
  const z = Array.from(normal, (x) => x / length);
  const least = [0, 1, 2].reduce((best, i) => (Math.abs(z[i]!) < Math.abs(z[best]!) ? i : best), 0);
  const across = cross(
    z,
    [0, 1, 2].map((i) => (i === least ? 1 : 0)),
  );
  const scale = Math.sqrt(across.reduce((sum, x) => sum + x * x, 0));
  const u = across.map((x) => x / scale);
  const v = cross(z, u);
  const along = (axis: readonly number[], vertex: number) =>
    axis[0]! * mesh.positions[3 * vertex]! +
    axis[1]! * mesh.positions[3 * vertex + 1]! +
    axis[2]! * mesh.positions[3 * vertex + 2]!;
  return Array.from({ length: size }, (_, k) => {
    const vertex = mesh.cornerVertex[start + k]!;
    return [along(u, vertex), along(v, vertex)] as const;
  });
}

const cross = (a: readonly number[], b: readonly number[]): number[] => [
  a[1]! * b[2]! - a[2]! * b[1]!,
  a[2]! * b[0]! - a[0]! * b[2]!,
  a[0]! * b[1]! - a[1]! * b[0]!,
];

/**
 * Ear clipping of a simple polygon, counter-clockwise: the best-shaped ear first, so that few needles arise.
 * A polygon that crosses itself is cut anyhow. Quadratic in the corners (cubic at worst), for single faces only.
 */
export function clipEars(points: ReadonlyArray<readonly [number, number]>): Array<[number, number, number]> {
  const left = points.map((_, i) => i);
  const triangles: Array<[number, number, number]> = [];
  while (left.length > 3) {
    const k = bestEar(points, left);
    const n = left.length;
    triangles.push([left[(k + n - 1) % n]!, left[k]!, left[(k + 1) % n]!]);
    left.splice(k, 1);
  }
  triangles.push([left[0]!, left[1]!, left[2]!]);
  return triangles;
}

function bestEar(points: ReadonlyArray<readonly [number, number]>, left: readonly number[]): number {
  const turn = (a: readonly number[], b: readonly number[], c: readonly number[]) =>
    (b[0]! - a[0]!) * (c[1]! - a[1]!) - (b[1]! - a[1]!) * (c[0]! - a[0]!);
  const square = (a: readonly number[], b: readonly number[]) => (a[0]! - b[0]!) ** 2 + (a[1]! - b[1]!) ** 2;
  const n = left.length;
  let best = 0;
  let at = -1;
  for (let k = 0; k < n; k++) {
    const a = points[left[(k + n - 1) % n]!]!;
    const b = points[left[k]!]!;
    const c = points[left[(k + 1) % n]!]!;
    const area = turn(a, b, c);
    if (area <= 0) continue;
    const quality = area / (square(a, b) + square(b, c) + square(c, a));
    if (quality <= best) continue;
    const same = (p: readonly number[], q: readonly number[]) => p[0] === q[0] && p[1] === q[1];
    const blocked = left.some((i) => {
      const p = points[i]!;
      if (same(p, a) || same(p, b) || same(p, c)) return false;
      return turn(a, b, p) >= 0 && turn(b, c, p) >= 0 && turn(c, a, p) >= 0;
    });
    if (blocked) continue;
    best = quality;
    at = k;
    if (n > 64) break; // a huge polygon: the first ear will do
  }
  return at < 0 ? 1 : at;
}
