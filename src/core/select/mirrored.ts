import { type Layout, structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import type { SelectionKind } from "../layout/selection-kind";
import type { SymmetryBy } from "../layout/symmetry-by";
import { edgeImages } from "../mesh/edge-images";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { type Symmetry, symmetryOf } from "../transfer/symmetry";
import { symmetryByConnectivity } from "../transfer/symmetry-by-connectivity";
import { converted } from "./convert";

/** The mirror image of every vertex and face, found as is asked for. */
export const symmetryFound = (mesh: PolyMesh, axis: number, by: SymmetryBy): Omit<Symmetry, "at"> =>
  by === "position" ? symmetryOf(mesh, axis) : symmetryByConnectivity(mesh, axis);

/**
 * The mirror image of what is picked. Elements without one are left out.
 *
 * @param flags 1 per picked element; of shells and UV points, at their names
 * @param axis 0, 1 or 2: the plane is across it
 */
export function mirroredFlags(
  mesh: PolyMesh,
  layout: Layout,
  kind: SelectionKind,
  flags: Uint8Array,
  axis: number,
  by: SymmetryBy = "position",
): Uint8Array {
  const { vertex, face } = symmetryFound(mesh, axis, by);
  if (kind === "vertices") return mappedFlags(flags, vertex);
  if (kind === "faces") return mappedFlags(flags, face);
  if (kind === "edges") return mirroredEdges(mesh, flags, vertex);
  if (kind === "points") return pointsAtCorners(mesh, layout, mappedFlags(flags, cornerImages(mesh, vertex, face)));
  // A shell's image is the shells that the images of its faces lie in.
  const faces = converted(mesh, layout, "shells", flags, "faces", "touching");
  return converted(mesh, layout, "faces", mappedFlags(faces, face), "shells", "touching");
}

/** The names of the UV points that flagged corners are part of. */
function pointsAtCorners(mesh: PolyMesh, layout: Layout, corners: Uint8Array): Uint8Array {
  const s = structureOf(mesh, layout);
  const names = pointNames(s);
  const out = new Uint8Array(corners.length);
  for (let c = 0; c < out.length; c++) if (corners[c]) out[names[s.cornerWedge[c]!]!] = 1;
  return out;
}

/** The corner of the image of every corner's face at the image of its vertex; -1 where there is none. */
function cornerImages(mesh: PolyMesh, vertex: Int32Array, face: Int32Array): Int32Array {
  const { cornerVertex, faceStart } = mesh;
  const { cornerFace } = topologyOf(mesh);
  const out = new Int32Array(cornerVertex.length).fill(-1);
  for (let c = 0; c < out.length; c++) {
    const f = face[cornerFace[c]!]!;
    if (f < 0) continue;
    for (let k = faceStart[f]!; k < faceStart[f + 1]!; k++)
      if (cornerVertex[k] === vertex[cornerVertex[c]!]) out[c] = k;
  }
  return out;
}

function mappedFlags(flags: Uint8Array, image: Int32Array): Uint8Array {
  const out = new Uint8Array(flags.length);
  for (let i = 0; i < flags.length; i++) if (flags[i] && image[i]! >= 0) out[image[i]!] = 1;
  return out;
}

/** Edges whose ends are the images of a picked edge's ends. */
function mirroredEdges(mesh: PolyMesh, flags: Uint8Array, vertex: Int32Array): Uint8Array {
  return mappedFlags(flags, edgeImages(mesh, vertex));
}

/** The mirror image of every vertex, edge, face and corner of a mesh; -1 for none. */
export interface MirrorImages {
  readonly vertices: Int32Array;
  readonly edges: Int32Array;
  readonly faces: Int32Array;
  readonly corners: Int32Array;
}

/** Of the faces that have an image by position, so many are enough to take it for the mesh's symmetry. */
const ENOUGH = 0.6;

/** Every element's mirror image: by position, or where that finds too little by how faces are joined. */
export function mirrorImages(mesh: PolyMesh, axis: number): MirrorImages {
  const found = (faces: Int32Array) => faces.reduce((n, f) => n + (f >= 0 ? 1 : 0), 0);
  let best: Omit<Symmetry, "at"> = symmetryOf(mesh, axis);
  if (found(best.face) < ENOUGH * best.face.length) {
    const other = symmetryByConnectivity(mesh, axis);
    if (found(other.face) > found(best.face)) best = other;
  }
  const { vertex, face } = best;
  return { vertices: vertex, edges: edgeImages(mesh, vertex), faces: face, corners: cornerImages(mesh, vertex, face) };
}
