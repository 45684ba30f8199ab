import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  size: z.number().min(0.0001).max(1).default(0.02).meta({
    title: "Size",
    description: "Spikes and kinks up to this size are smoothed; where the border turns for good its corners stay",
    unit: "tiles",
  }),
  passes: z
    .number()
    .int()
    .min(1)
    .max(500)
    .default(30)
    .meta({ title: "Passes", description: "How often every point is moved", unit: "passes" }),
});

/** Takes spikes and kinks off the borders of shells. */
export const smoothBorders: EditOperation<z.infer<typeof options>> = {
  id: "smooth-borders",
  title: "Smooth borders",
  about:
    "Takes spikes and kinks off the borders of shells, or off their picked points; corners and pinned points stay, what lies about follows.",
  kind: "edit",
  stage: "unfold",
  heading: "Flatten",
  acts: "faces",
  keeps: true,
  options,
  run: loaded(() => import("./large/smooth-borders")),
};
