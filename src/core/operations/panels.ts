import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  angle: z
    .number()
    .min(5)
    .max(179)
    .default(25)
    .meta({ title: "Groove", description: "Where faces fold inwards by this angle or more, a panel ends", unit: "°" }),
});

/** Proposes seams along modelled grooves and rims. */
export const panels: EditOperation<z.infer<typeof options>> = {
  id: "panels",
  title: "Propose seams: Panels",
  about: "Cuts along modelled grooves and rims, one line for each, and opens panels that could not lie flat.",
  kind: "edit",
  stage: "seams",
  heading: "Propose",
  acts: "shells",
  proposes: true,
  options,
  run: loaded(() => import("./large/panels")),
};
