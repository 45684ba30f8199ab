import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { restOption } from "./rest";

const options = z.object({
  within: z.number().min(0.5).max(30).default(6).meta({
    title: "Within",
    unit: "%",
    description: "Of a side's length: how far it may lie off a line or an arc to become one",
  }),
  rest: restOption,
});

/** Makes the outlines of shells regular: straight sides, arcs and circles. */
export const regularOutline: EditOperation<z.infer<typeof options>> = {
  id: "regular-outline",
  title: "Regular outlines",
  about:
    "Makes sides of shells that are nearly straight straight, and level or upright where they nearly are; nearly round ones arcs, and round borders and rings circles.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  acts: "shells",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/regular-outline")),
};
