import { faceCount, type PolyMesh } from "../mesh/poly-mesh";

/** Which vertex and face is the mirror image of which; -1 for none. */
export interface Symmetry {
  readonly vertex: Int32Array;
  readonly face: Int32Array;
  /** Where the plane cuts the axis. */
  readonly at: number;
}

/** Mirrored places may differ by this share of the mesh's size. */
const NEAR = 1e-4;

/**
 * Finds the mirror image of every vertex and face across the plane through the middle of the mesh, or through its
 * origin, whichever fits better.
 *
 * @param axis 0, 1 or 2: the plane is across it
 */
export function symmetryOf(mesh: PolyMesh, axis: number): Symmetry {
  let [low, high] = [Infinity, -Infinity];
  for (let i = axis; i < mesh.positions.length; i += 3) {
    low = Math.min(low, mesh.positions[i]!);
    high = Math.max(high, mesh.positions[i]!);
  }
  const tries = [0, (low + high) / 2].map((at) => ({ at, vertex: mirroredVertices(mesh, axis, at) }));
  const fits = tries.map((t) => t.vertex.reduce((n, v) => n + (v >= 0 ? 1 : 0), 0));
  const best = tries[fits[0]! >= fits[1]! ? 0 : 1]!;
  return { ...best, face: mirroredFaces(mesh, best.vertex) };
}

function mirroredVertices(mesh: PolyMesh, axis: number, at: number): Int32Array {
  const p = mesh.positions;
  let size = 0;
  for (const x of p) size = Math.max(size, Math.abs(x));
  const cell = Math.max(NEAR * size, 1e-300);
  const cells = new Map<string, number[]>();
  const key = (x: number, y: number, z: number) => `${x},${y},${z}`;
  const cellOf = (v: number, d: number) => Math.floor(p[3 * v + d]! / cell);
  const count = p.length / 3;
  for (let v = 0; v < count; v++) {
    const k = key(cellOf(v, 0), cellOf(v, 1), cellOf(v, 2));
    const list = cells.get(k);
    if (list) list.push(v);
    else cells.set(k, [v]);
  }
  const out = new Int32Array(count).fill(-1);
  for (let v = 0; v < count; v++) {
    const q = [p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!];
    q[axis] = 2 * at - q[axis]!;
    const c = q.map((x) => Math.floor(x / cell));
    let least = cell;
    for (let k = 0; k < 27; k++)
      for (const w of cells.get(key(c[0]! + (k % 3) - 1, c[1]! + (((k / 3) | 0) % 3) - 1, c[2]! + ((k / 9) | 0) - 1)) ??
        []) {
        const d = Math.hypot(p[3 * w]! - q[0]!, p[3 * w + 1]! - q[1]!, p[3 * w + 2]! - q[2]!);
        if (d <= least) [least, out[v]] = [d, w];
      }
  }
  return out;
}

function mirroredFaces(mesh: PolyMesh, vertex: Int32Array): Int32Array {
  const key = (list: number[]) => list.sort((a, b) => a - b).join();
  const cornersOf = (f: number) => Array.from(mesh.cornerVertex.subarray(mesh.faceStart[f]!, mesh.faceStart[f + 1]!));
  const byKey = new Map<string, number>();
  const count = faceCount(mesh);
  for (let f = 0; f < count; f++) byKey.set(key(cornersOf(f)), f);
  return Int32Array.from({ length: count }, (_, f) => {
    const images = cornersOf(f).map((v) => vertex[v]!);
    return images.includes(-1) ? -1 : (byKey.get(key(images)) ?? -1);
  });
}
