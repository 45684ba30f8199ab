import { z } from "zod";
import { SELECTION_KINDS } from "../../layout/selection-kind";
import { SYMMETRY_BY } from "../../layout/symmetry-by";
import { mirroredFlags } from "../../select/mirrored";
import { axisOption } from "../operation";
import { pickFromPicked } from "./pick-beside";

const options = z.object({
  axis: axisOption,
  by: z.enum(SYMMETRY_BY).default("position").meta({
    title: "Find by",
    description: "Where vertices are, or how faces are joined: that also finds the halves of a bent or posed part",
  }),
  keep: z
    .enum(["both", "other"])
    .default("both")
    .meta({ title: "Keep", description: "Pick both halves afterwards, or the mirror image alone" }),
});

/** Picks the mirror image of what is picked as well. */
export const mirrorPicked = pickFromPicked({
  id: "pick-mirror",
  title: "Pick: Mirror",
  about: "Picks the same elements on the other half of symmetric parts as well.",
  kinds: SELECTION_KINDS,
  options,
  pick({ mesh }, layout, kind, flags, { axis, by, keep }) {
    const other = mirroredFlags(mesh, layout, kind, flags, "xyz".indexOf(axis), by);
    return keep === "other" ? other : other.map((on, i) => on | flags[i]!);
  },
});
