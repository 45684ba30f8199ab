import { faceCount, type PolyMesh } from "@/core/mesh/poly-mesh";
import { writeFaceNormals } from "@/core/seams/edge-cost";

/** Cosine of 40 degrees: a face that leans further from the mean at a vertex is shaded on its own. */
const SHARP = 0.76;
/** Corners done at a stretch; between them other work has its turn. */
const STRETCH = 60_000;

/**
 * Normals to shade with, 3 signed bytes and a spare one per triangle corner: smooth over gentle edges, sharp where a face
 * leans more than 40 degrees from the mean. Done in stretches: it yields between them.
 *
 * @param corners mesh corner of every triangle corner
 * @param out 4 per triangle corner
 */
export function* fillCornerNormals(mesh: PolyMesh, corners: Uint32Array, out: Int8Array): Generator<void> {
  const faces = faceCount(mesh);
  const face = new Float64Array(3 * faces);
  const mean = new Float32Array(mesh.positions.length);
  const faceOf = new Uint32Array(mesh.cornerVertex.length);
  for (let from = 0; from < faces; from += STRETCH) {
    const to = Math.min(faces, from + STRETCH);
    writeFaceNormals(mesh, mesh.positions, face, from, to);
    addUp(mesh, face, mean, faceOf, from, to);
    yield;
  }
  for (let v = 0; v < mean.length; v += 3) {
    const length = Math.sqrt(mean[v]! ** 2 + mean[v + 1]! ** 2 + mean[v + 2]! ** 2) || 1;
    mean[v]! /= length;
    mean[v + 1]! /= length;
    mean[v + 2]! /= length;
  }
  for (let from = 0; from < corners.length; from += STRETCH) {
    yield;
    choose(mesh, corners, face, mean, faceOf, out, from, Math.min(corners.length, from + STRETCH));
  }
}

/** Adds the normals of the faces at every vertex, and notes the face of every corner. */
function addUp(
  mesh: PolyMesh,
  face: Float64Array,
  mean: Float32Array,
  faceOf: Uint32Array,
  from: number,
  to: number,
): void {
  for (let f = from; f < to; f++)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      faceOf[c] = f;
      const v = 3 * mesh.cornerVertex[c]!;
      mean[v]! += face[3 * f]!;
      mean[v + 1]! += face[3 * f + 1]!;
      mean[v + 2]! += face[3 * f + 2]!;
    }
}

function choose(
  mesh: PolyMesh,
  corners: Uint32Array,
  face: Float64Array,
  mean: Float32Array,
  faceOf: Uint32Array,
  out: Int8Array,
  from: number,
  to: number,
): void {
  for (let k = from; k < to; k++) {
    const c = corners[k]!;
    const v = 3 * mesh.cornerVertex[c]!;
    const f = 3 * faceOf[c]!;
    let x = face[f]!;
    let y = face[f + 1]!;
    let z = face[f + 2]!;
    if (mean[v]! * x + mean[v + 1]! * y + mean[v + 2]! * z > SHARP) {
      x = mean[v]!;
      y = mean[v + 1]!;
      z = mean[v + 2]!;
    }
    out[4 * k] = Math.round(127 * x);
    out[4 * k + 1] = Math.round(127 * y);
    out[4 * k + 2] = Math.round(127 * z);
  }
}
