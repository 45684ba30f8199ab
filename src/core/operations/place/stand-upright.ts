import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { UPS } from "./ups";

const options = z.object({
  up: z
    .enum(UPS)
    .default("as the asset")
    .meta({ title: "Up", description: "Which way on the model comes to lie upwards" }),
  square: z.boolean().default(true).meta({
    title: "Square where nearly so",
    description: "Within 15 degrees sides are stood level and upright, rather than up exactly",
  }),
  together: z.boolean().default(false).meta({
    title: "All as one",
    description: "Turns the whole layout about its middle, until the largest shell stands upright",
  }),
});

/** Turns shells so that up on the model is up on the sheet. */
export const standUpright: EditOperation<z.infer<typeof options>> = {
  id: "stand-upright",
  title: "Stand upright",
  about:
    "Turns every shell so that up on the model is up on the sheet. Lids lie with what is away from who looks upwards, floors with what is near.",
  kind: "edit",
  stage: "level",
  heading: "Upright",
  fits: ["shells"],
  key: "alt+U",
  acts: "shells",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/stand-upright")),
};
