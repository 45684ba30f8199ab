import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

/** Repeats the seams of one part on all that are like it. */
export const repeatSeams: EditOperation<Record<string, never>> = {
  id: "repeat-seams",
  title: "Repeat seams on twins",
  about:
    "Gives every part that is joined alike the seams of the picked one: turned, mirrored or numbered otherwise. Coordinates are not copied.",
  kind: "edit",
  stage: "seams",
  moves: true,
  heading: "By hand",
  acts: "parts",
  picks: true,
  options: z.object({}),
  run: loaded(() => import("./large/repeat-seams")),
};
