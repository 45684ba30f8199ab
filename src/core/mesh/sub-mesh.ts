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
 * @param local a number per vertex, all -1, and so again afterwards: with it the time goes by the size of what is taken alone
 */
export function subMesh(
  mesh: PolyMesh,
  faces: Uint32Array,
  local: Int32Array = new Int32Array(mesh.positions.length / 3).fill(-1),
): SubMesh {
  const faceStart = new Uint32Array(faces.length + 1);
  for (let i = 0; i < faces.length; i++)
    faceStart[i + 1] = faceStart[i]! + mesh.faceStart[faces[i]! + 1]! - mesh.faceStart[faces[i]!]!;
  const corner = new Int32Array(faceStart[faces.length]!);
  for (let i = 0, c = 0; i < faces.length; i++)
    for (let k = mesh.faceStart[faces[i]!]!; k < mesh.faceStart[faces[i]! + 1]!; k++) corner[c++] = k;
  const used = usedVertices(mesh, corner, local);
  const cornerVertex = new Uint32Array(corner.length);
  for (let c = 0; c < corner.length; c++) cornerVertex[c] = local[mesh.cornerVertex[corner[c]!]!]!;
  const positions = new Float64Array(3 * used.length);
  for (let i = 0; i < used.length; i++) {
    for (let d = 0; d < 3; d++) positions[3 * i + d] = mesh.positions[3 * used[i]! + d]!;
    local[used[i]!] = -1;
  }
  const out: PolyMesh = {
    positions,
    faceStart,
    cornerVertex,
    faceMaterial: faces.map((f) => mesh.faceMaterial[f]!),
    faceGroup: faces.map((f) => mesh.faceGroup[f]!),
    groups: mesh.groups,
    ...(mesh.cornerNormal ? { cornerNormal: pickNormals(mesh.cornerNormal, corner) } : {}),
    origin: {
      vertex: used.map((v) => mesh.origin.vertex[v]!),
      face: faces.map((f) => mesh.origin.face[f]!),
    },
  };
  return { mesh: out, corner };
}

/** The vertices of some corners, ascending; their places in that list are written beside them. */
function usedVertices({ cornerVertex }: PolyMesh, corner: Int32Array, local: Int32Array): Uint32Array {
  const used = new Uint32Array(corner.length);
  let count = 0;
  for (const c of corner) {
    const v = cornerVertex[c]!;
    if (local[v]! >= 0) continue;
    local[v] = 0;
    used[count++] = v;
  }
  const out = used.slice(0, count).sort();
  for (let i = 0; i < count; i++) local[out[i]!] = i;
  return out;
}

/** Normals of corners, by the corner each was; a corner without one gets none that points anywhere. */
export function pickNormals(normals: Float32Array, corner: ArrayLike<number>): Float32Array {
  const out = new Float32Array(3 * corner.length);
  for (let c = 0; c < corner.length; c++)
    if (corner[c]! >= 0) out.set(normals.subarray(3 * corner[c]!, 3 * corner[c]! + 3), 3 * c);
  return out;
}
