import { z } from "zod";
import { mirroredFlags } from "../../select/mirrored";
import { axisOption } from "../operation";
import { pickFromPicked } from "./pick-beside";

const options = z.object({
  axis: axisOption,
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
  kinds: ["vertices", "edges", "faces", "shells"],
  options,
  pick({ mesh }, layout, kind, flags, { axis, keep }) {
    const other = mirroredFlags(mesh, layout, kind, flags, "xyz".indexOf(axis));
    return keep === "other" ? other : other.map((on, i) => on | flags[i]!);
  },
});
