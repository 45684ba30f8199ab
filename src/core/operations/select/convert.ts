import { z } from "zod";
import { SELECTION_KINDS } from "../../layout/selection-kind";
import { CONVERSIONS, converted } from "../../select/convert";
import { pickFromPicked } from "./pick-beside";

const options = z.object({
  to: z
    .enum(SELECTION_KINDS)
    .default("faces")
    .meta({ title: "Into", description: "The kind of element that is picked afterwards" }),
  how: z.enum(CONVERSIONS).default("touching").meta({
    title: "Take",
    description: "Every element that touches what is picked, or only those that lie wholly in it",
  }),
});

/** Picks elements of another kind in place of those that are picked. */
export const convert = pickFromPicked({
  id: "convert",
  title: "Pick: Convert",
  about: "Picks elements of another kind instead: those that touch what is picked, or those that lie wholly in it.",
  kinds: SELECTION_KINDS,
  options,
  into: ({ to }) => to,
  pick: ({ mesh }, layout, kind, flags, { to, how }) => converted(mesh, layout, kind, flags, to, how),
});
