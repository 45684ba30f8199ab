import { SELECTION_KINDS } from "../../layout/selection-kind";
import { shrunk } from "../../select/grow";
import { pickBeside } from "./pick-beside";

/** Lets go of the elements at the edge of what is picked. */
export const shrink = pickBeside({
  id: "shrink",
  title: "Pick: Shrink",
  about: "Removes from the selection what lies at its rim.",
  key: ",",
  kinds: SELECTION_KINDS,
  pick: (shape, layout, kind, flags) => shrunk(shape.mesh, layout, kind, flags),
});
