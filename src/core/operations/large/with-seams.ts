import type { PlacedShape } from "../../layout/asset";
import { setBit } from "../../layout/bits";
import { type Layout, withBits } from "../../layout/layout";
import { joinEdges } from "./join";

/** Edges that are to become seams, and seams that are to be joined. */
export interface SeamChange {
  readonly cut: Uint32Array;
  readonly join: Uint32Array;
}

/** A layout with some seams joined, its shells brought together or unfolded again, and others cut, which moves nothing. */
export function withSeams(shape: PlacedShape, layout: Layout, { cut, join }: SeamChange): Layout {
  const joined = join.length ? joinEdges(shape, layout, join) : layout;
  const bits = joined.cut.slice();
  for (const e of cut) setBit(bits, e);
  return withBits(shape.mesh, joined, bits);
}
