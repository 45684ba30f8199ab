import { SELECTION_KINDS } from "../../layout/selection-kind";
import { grown } from "../../select/grow";
import { pickBeside } from "./pick-beside";

/** Adds the elements beside those that are picked. */
export const grow = pickBeside({
  id: "grow",
  title: "Pick: Grow",
  about:
    "Adds the neighbours of what is picked: vertices and UV points along edges, edges and faces that share a vertex, shells across a seam.",
  key: ".",
  kinds: SELECTION_KINDS,
  fits: ["vertices", "points", "edges", "faces"],
  pick: (shape, layout, kind, flags) => grown(shape.mesh, layout, kind, flags),
});
