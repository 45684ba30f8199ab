import type { PolyMesh } from "@/core/mesh/poly-mesh";
import { faceNormals } from "@/core/seams/edge-cost";

/** Cosine of 40 degrees: a face that leans further from the mean at a vertex is shaded on its own. */
const SHARP = 0.76;

/**
 * Normals to shade with, 3 signed bytes and a spare one per triangle corner: smooth over gentle edges, sharp where a face
 * leans more than 40 degrees from the mean.
 *
 * @param corners mesh corner of every triangle corner
 */
export function cornerNormals(mesh: PolyMesh, corners: Uint32Array): Int8Array {
  const face = faceNormals(mesh, mesh.positions);
  const mean = new Float64Array(mesh.positions.length);
  const faceOf = new Uint32Array(mesh.cornerVertex.length);
  for (let f = 0; f + 1 < mesh.faceStart.length; f++)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      faceOf[c] = f;
      const v = 3 * mesh.cornerVertex[c]!;
      mean[v]! += face[3 * f]!;
      mean[v + 1]! += face[3 * f + 1]!;
      mean[v + 2]! += face[3 * f + 2]!;
    }
  for (let v = 0; v < mean.length; v += 3) {
    const length = Math.sqrt(mean[v]! ** 2 + mean[v + 1]! ** 2 + mean[v + 2]! ** 2) || 1;
    mean[v]! /= length;
    mean[v + 1]! /= length;
    mean[v + 2]! /= length;
  }
  const out = new Int8Array(4 * corners.length);
  for (let k = 0; k < corners.length; k++) {
    const c = corners[k]!;
    const [v, f] = [3 * mesh.cornerVertex[c]!, 3 * faceOf[c]!];
    const cos = mean[v]! * face[f]! + mean[v + 1]! * face[f + 1]! + mean[v + 2]! * face[f + 2]!;
    const [from, at] = cos > SHARP ? [mean, v] : [face, f];
    out[4 * k] = Math.round(127 * from[at]!);
    out[4 * k + 1] = Math.round(127 * from[at + 1]!);
    out[4 * k + 2] = Math.round(127 * from[at + 2]!);
  }
  return out;
}
