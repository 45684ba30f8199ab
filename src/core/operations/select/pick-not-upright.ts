import { z } from "zod";
import { loaded, type SelectOperation } from "../operation";
import { UPS } from "../place/ups";

const options = z.object({
  up: z
    .enum(UPS)
    .default("as the asset")
    .meta({ title: "Up", description: "Which way on the model should lie upwards" }),
  off: z.number().min(0.1).max(180).default(1).meta({
    title: "Off by more than",
    description: "Shells that stand square in their box count as upright where up is within 15 degrees of that",
    unit: "°",
  }),
  mirrored: z
    .boolean()
    .default(true)
    .meta({ title: "Mirrored ones too", description: "Lettering on them reads backwards" }),
});

/** Picks shells that do not stand upright, or are mirrored. */
export const pickNotUpright: SelectOperation<z.infer<typeof options>> = {
  id: "pick-not-upright",
  title: "Pick: Not upright",
  about:
    "Picks every shell on which up on the model is not up on the sheet, and those that are mirrored: nothing when all is done.",
  kind: "select",
  stage: "level",
  heading: "Upright",
  acts: "parts",
  options,
  run: loaded(() => import("../large/pick-not-upright")),
};
