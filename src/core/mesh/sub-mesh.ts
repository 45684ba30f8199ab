import type { PolyMesh } from "./poly-mesh";

/** Some faces as a mesh of their own, and the corner of the whole that each of its corners was. */
export interface SubMesh {
  readonly mesh: PolyMesh;
  readonly corner: Int32Array;
}

/**
 * Takes faces out of a mesh; vertices and faces keep their order, and vertices that no taken face uses stay behind.
 *
 * @param faces in the order they are to have
 */
export function subMesh(mesh: PolyMesh, faces: Uint32Array): SubMesh {
  const local = new Int32Array(mesh.positions.length / 3).fill(-1);
  const faceStart = new Uint32Array(faces.length + 1);
  for (let i = 0; i < faces.length; i++) {
    const f = faces[i]!;
    faceStart[i + 1] = faceStart[i]! + mesh.faceStart[f + 1]! - mesh.faceStart[f]!;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) local[mesh.cornerVertex[c]!] = 0;
  }
  const used: number[] = [];
  for (let v = 0; v < local.length; v++) if (local[v] === 0) local[v] = used.push(v) - 1;
  const corner = new Int32Array(faceStart[faces.length]!);
  for (let i = 0, c = 0; i < faces.length; i++)
    for (let k = mesh.faceStart[faces[i]!]!; k < mesh.faceStart[faces[i]! + 1]!; k++) corner[c++] = k;
  const positions = new Float64Array(3 * used.length);
  used.forEach((v, i) => {
    positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * i);
  });
  const out: PolyMesh = {
    positions,
    faceStart,
    cornerVertex: Uint32Array.from(corner, (k) => local[mesh.cornerVertex[k]!]!),
    faceMaterial: faces.map((f) => mesh.faceMaterial[f]!),
    faceGroup: faces.map((f) => mesh.faceGroup[f]!),
    groups: mesh.groups,
    ...(mesh.cornerNormal ? { cornerNormal: pickNormals(mesh.cornerNormal, corner) } : {}),
    origin: {
      vertex: Uint32Array.from(used, (v) => mesh.origin.vertex[v]!),
      face: faces.map((f) => mesh.origin.face[f]!),
    },
  };
  return { mesh: out, corner };
}

/** Normals of corners, by the corner each was; a corner without one gets none that points anywhere. */
export function pickNormals(normals: Float32Array, corner: ArrayLike<number>): Float32Array {
  const out = new Float32Array(3 * corner.length);
  for (let c = 0; c < corner.length; c++)
    if (corner[c]! >= 0) out.set(normals.subarray(3 * corner[c]!, 3 * corner[c]! + 3), 3 * c);
  return out;
}
