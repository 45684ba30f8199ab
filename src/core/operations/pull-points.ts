import { z } from "zod";
import { shiftOptions } from "./motion";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  ...shiftOptions,
});
export type PullInput = z.infer<typeof options>;

/** Draws the picked points of the sheet somewhere; their shells open up after them. */
export const pullPoints: EditOperation<PullInput> = {
  id: "pull-points",
  title: "Pull points",
  about:
    "Draws the picked UV points along, and the rest of their shells after them with the least stretch; other pinned points stay, no face flips.",
  kind: "edit",
  stage: "unfold",
  heading: "Points",
  fits: ["points"],
  acts: "faces",
  picks: true,
  movesPins: true,
  options,
  run: loaded(() => import("./large/pull-points")),
};
