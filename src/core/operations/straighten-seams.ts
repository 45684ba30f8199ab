import { z } from "zod";
import { type EditOperation, loaded } from "./operation";
import { limitOption } from "./shorten";

const options = z.object({ limit: limitOption });

/** Draws ragged seams smooth. */
export const straightenSeams: EditOperation<z.infer<typeof options>> = {
  id: "straighten-seams",
  title: "Straighten seams",
  about:
    "Draws ragged seams smooth along better edges between the same ends, or slides their ends along, and lays the shells out again.",
  kind: "edit",
  stage: "seams",
  moves: true,
  heading: "Improve",
  acts: "shells",
  keeps: true,
  options,
  run: loaded(() => import("./large/straighten-seams")),
};
