import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

const options = z.object({
  upright: z
    .boolean()
    .default(true)
    .meta({ title: "Axis upright", description: "Turns each shell so that its halves mirror left and right" }),
});

/** Makes shells whose form mirrors mirror on the sheet as well. */
export const symmetrise: EditOperation<z.infer<typeof options>> = {
  id: "symmetrise",
  title: "Symmetrise",
  about:
    "Lays shells whose two halves mirror in space so that they mirror on the sheet as well. With edges picked they are the axis: the faces on both sides of it have to be the same, whatever their form.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  acts: "shells",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/symmetrise")),
};
