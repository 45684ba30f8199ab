import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  angle: z
    .number()
    .min(1)
    .max(179)
    .default(50)
    .meta({ title: "Angle", description: "Faces meeting at this angle or more are parted", unit: "°" }),
  materials: z
    .boolean()
    .default(false)
    .meta({ title: "Material borders", description: "Also where two materials meet" }),
  tidy: z
    .boolean()
    .default(true)
    .meta({ title: "Whole lines only", description: "Leave out creases that end in the middle of the surface" }),
});

/** Proposes seams along creases. */
export const creased: EditOperation<z.infer<typeof options>> = {
  id: "creased",
  title: "Propose seams: Creased",
  about: "Sets seams where faces meet at an angle, as at the rim of a lid.",
  kind: "edit",
  stage: "seams",
  heading: "Propose",
  key: "K",
  acts: "parts",
  foretells: true,
  options,
  run: loaded(() => import("./large/creased")),
};
