import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  angle: z
    .number()
    .min(1)
    .max(179)
    .default(50)
    .meta({ title: "Angle", description: "Faces meeting at this angle or more are parted", unit: "°" }),
  down: z.number().min(1).max(179).optional().meta({
    title: "Goes on down to",
    description: "Lines that begin at the angle go on over edges down to this one; when not given they end there",
    unit: "°",
    empty: "as angle",
  }),
  materials: z
    .boolean()
    .default(false)
    .meta({ title: "Material borders", description: "Also where two materials meet" }),
  groups: z
    .boolean()
    .default(false)
    .meta({ title: "Group borders", description: "Also where two groups of faces meet" }),
  normals: z
    .boolean()
    .default(false)
    .meta({ title: "Hard normals", description: "Also where the file's normals differ on the two sides of an edge" }),
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
  proposes: true,
  options,
  run: loaded(() => import("./large/creased")),
};
