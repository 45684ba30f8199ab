import { z } from "zod";
import { axisOption, type EditOperation, loaded } from "../operation";

const options = z.object({
  axis: axisOption,
  from: z
    .enum(["positive", "negative"])
    .default("positive")
    .meta({ title: "From", description: "The side whose layout is copied" }),
  place: z.enum(["beside", "on top"]).default("beside").meta({
    title: "Lay it",
    description:
      "Turned over beside the half it is of, joined to it where the mirror line lies straight, or on top of it",
  }),
});

/** Copies the layout of one half of a symmetric part to the other. */
export const mirrorHalf: EditOperation<z.infer<typeof options>> = {
  id: "mirror-half",
  title: "Mirror to the other half",
  about: "Copies seams and coordinates of one half of a symmetric part to the other half.",
  kind: "edit",
  stage: "brief",
  moves: true,
  heading: "Parts",
  acts: "parts",
  big: true,
  options,
  run: loaded(() => import("../large/mirror-half")),
};
