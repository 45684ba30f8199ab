import { z } from "zod";
import { SYMMETRY_BY } from "../layout/symmetry-by";
import { axisOption, type EditOperation, loaded } from "./operation";

const options = z.object({
  axis: axisOption,
  from: z
    .enum(["positive", "negative"])
    .default("positive")
    .meta({ title: "From", description: "The side whose seams are repeated on the other" }),
  by: z.enum(SYMMETRY_BY).default("position").meta({
    title: "Find by",
    description: "Where vertices are, or how faces are joined: that also finds the halves of a bent or posed part",
  }),
});

/** Repeats the seams of one half of a symmetric part on the other. */
export const mirrorSeams: EditOperation<z.infer<typeof options>> = {
  id: "mirror-seams",
  title: "Mirror seams",
  about:
    "Gives the other half of a symmetric part the seams of this one; what was seam there alone is joined. Coordinates are not copied.",
  kind: "edit",
  stage: "seams",
  moves: true,
  heading: "By hand",
  acts: "parts",
  options,
  run: loaded(() => import("./large/mirror-seams")),
};
