import { type Bits, getBit, makeBits, setBit } from "../layout/bits";
import type { PolyMesh } from "../mesh/poly-mesh";
import { subMesh } from "../mesh/sub-mesh";
import { seedTopology, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { type Form, formOf, regionsOf } from "./form";
import { type Frame, frameAbout } from "./frame";

/** Faces that are projected by one form, as a mesh of their own: the time goes by their number, and not by that of all. */
export interface Piece {
  /** With its vertices in world space. */
  readonly mesh: PolyMesh;
  /** By corner: which it is of the whole mesh. */
  readonly corner: Int32Array | Uint32Array;
  /** Edges along which it is opened. */
  readonly cut: Bits;
}

/**
 * @param whole with its vertices in world space @param cut by edge of the whole
 * @returns makes pieces of the whole; the faces of each are given ascending
 */
export function piecesFrom(whole: PolyMesh, cut: Bits): (faces: Uint32Array) => Piece {
  const t = topologyOf(whole);
  const local = new Int32Array(whole.positions.length / 3).fill(-1);
  return (faces) => {
    if (faces.length === whole.faceStart.length - 1)
      return { mesh: whole, corner: iota(whole.cornerVertex.length), cut };
    const { mesh, corner } = subMesh(whole, faces, local);
    const own = topologyOf(mesh);
    const open = makeBits(own.edgeCount);
    for (let c = 0; c < corner.length; c++)
      if (getBit(cut, t.cornerEdge[corner[c]!]!)) setBit(open, own.cornerEdge[c]!);
    return { mesh, corner, cut: open };
  };
}

/** A mesh with its vertices in world space. @param world 3 per vertex */
export function placedIn(mesh: PolyMesh, world: Float64Array): PolyMesh {
  if (world === mesh.positions) return mesh;
  const placed = { ...mesh, positions: world };
  seedTopology(placed, topologyOf(mesh));
  return placed;
}

/** All faces of a piece as a projection sees them. */
export const pieceForm = ({ mesh, cut }: Piece, frame: Frame): Form =>
  formOf(mesh, mesh.positions, iota(mesh.faceStart.length - 1), cut, frame);

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
  return regionsOf(form, marks ?? form.inside);
}
