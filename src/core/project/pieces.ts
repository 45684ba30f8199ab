import { type Bits, makeBits } from "../layout/bits";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { formOf, regionsOf } from "./form";
import { frameAbout } from "./frame";

/** What is projected by its own form. */
export const EACH = ["body", "shell", "group", "material"] as const;
export type Each = (typeof EACH)[number];

/**
 * Faces parted into what is to be projected by itself: what hangs together in the mesh; of that what seams part, or what
 * is of one face group or material. Each list ascending.
 *
 * @param cut seams between the faces
 */
export function piecesOf(mesh: PolyMesh, faces: Uint32Array, cut: Bits, each: Each): Uint32Array[] {
  const parted = each === "shell" ? cut : makeBits(topologyOf(mesh).edgeCount);
  const form = formOf(mesh, mesh.positions, faces, parted, frameAbout([0, 0, 1], [0, 1, 0], [0, 0, 0]));
  const marks = each === "group" ? mesh.faceGroup : each === "material" ? mesh.faceMaterial : null;
  return regionsOf(form, (f) => marks?.[f] ?? 0);
}
