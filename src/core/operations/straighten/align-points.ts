import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { restOption } from "./rest";

const options = z.object({
  line: z
    .enum(["u", "v"])
    .default("v")
    .meta({ title: "All at one", description: "u stands them upright, v lays them level" }),
  at: z
    .enum(["least", "middle", "greatest"])
    .default("middle")
    .meta({ title: "At the", description: "Least, middle or greatest of the picked points" }),
  rest: restOption,
});

/** Puts points on one line across or upright. */
export const alignPoints: EditOperation<z.infer<typeof options>> = {
  id: "align-points",
  title: "Align points",
  about: "Gives all picked UV points one u, or one v: the least, the middle or the greatest of them.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  fits: ["points"],
  acts: "faces",
  picks: true,
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/align-points")),
};
