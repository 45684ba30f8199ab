import { z } from "zod";
import { axisOption, type EditOperation, loaded } from "../operation";

const options = z.object({
  axis: axisOption,
  within: z.number().min(0.01).max(20).default(1).meta({
    title: "Alike within",
    description: "How far lengths of edges may differ, and how far from its mirror image a shell may lie in space",
    unit: "%",
  }),
});

/** Lays shells of the right as mirror images of those of the left. */
export const leftAndRight: EditOperation<z.infer<typeof options>> = {
  id: "left-and-right",
  title: "Left and right alike",
  about:
    "Lays every shell of the one side of the model as the mirror image of its twin on the other, across the middle of the tile that this lies in: pairs are found and painted alike, and nothing reads backwards.",
  kind: "edit",
  stage: "place",
  heading: "Stacks",
  acts: "shells",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/left-and-right")),
};
