import { FaceTable } from "../mesh/face-table";
import { faceCount, type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { iota } from "../numeric/iota";
import { PointGrid } from "../numeric/point-grid";

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
  for (let i = 0; i < p.length; i++) size = Math.max(size, Math.abs(p[i]!));
  const reach = NEAR * size;
  const grid = new PointGrid(p, reach);
  const count = p.length / 3;
  for (let v = 0; v < count; v++) grid.add(v);
  const out = new Int32Array(count).fill(-1);
  const place = new Float64Array(3);
  let v = 0;
  let least = 0;
  const look = (w: number) => {
    const x = p[3 * w]! - place[0]!;
    const y = p[3 * w + 1]! - place[1]!;
    const z = p[3 * w + 2]! - place[2]!;
    const square = x * x + y * y + z * z;
    // Of several as near, the first.
    if (square > least || (square === least && out[v]! >= 0 && w > out[v]!)) return;
    least = square;
    out[v] = w;
  };
  for (; v < count; v++) {
    for (let d = 0; d < 3; d++) place[d] = p[3 * v + d]!;
    place[axis] = 2 * at - place[axis]!;
    least = reach * reach;
    grid.near(place[0]!, place[1]!, place[2]!, look);
  }
  return out;
}

function mirroredFaces(mesh: PolyMesh, vertex: Int32Array): Int32Array {
  const own = iota(vertexCount(mesh));
  const table = new FaceTable(mesh, own);
  const out = new Int32Array(faceCount(mesh));
  // A vertex without a mirror image has the label -1, which no vertex of the table has.
  for (let f = 0; f < out.length; f++) out[f] = table.find(mesh, f, vertex);
  return out;
}
