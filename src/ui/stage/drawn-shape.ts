import type { BufferAttribute } from "three";
import type { PartId, ShapeId } from "@/core/layout/asset";
import type { PolyMesh } from "@/core/mesh/poly-mesh";
import type { Mat4 } from "@/core/mesh/transform";
import type { TexelTable } from "./texel-table";

/** A part that draws a shape. */
export interface DrawnPart {
  readonly id: PartId;
  readonly transform: Mat4;
  /** Number of its first face among all drawn faces: the number that picking reads. */
  readonly firstFace: number;
}

/** A shape that is drawn, with its parts. */
export interface DrawnShape {
  readonly id: ShapeId;
  readonly mesh: PolyMesh;
  /** Where it stands in the list of shapes: what its tints follow from. */
  readonly order: number;
  readonly parts: readonly DrawnPart[];
  /** Wedges and shells that there is to be room for. */
  readonly wedges: number;
  readonly shells: number;
}

/** The tables of a chunk that a shape writes its layout and its marks into. */
export interface ShapeTables {
  readonly wedge: BufferAttribute;
  readonly uvs: TexelTable<Float32Array>;
  readonly faceShell: TexelTable<Uint32Array>;
  readonly faceMarks: TexelTable<Uint8Array>;
  readonly shells: TexelTable<Uint8Array>;
  readonly stretches: TexelTable<Float32Array>;
  /** Makes room for more wedges and shells: the tables may be others afterwards. */
  reserve(wedges: number, shells: number): void;
}
