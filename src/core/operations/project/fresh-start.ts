import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

/** Lays shells out flat as one piece each, whatever became of them. */
export const freshStart: EditOperation<Record<string, never>> = {
  id: "fresh-start",
  title: "Fresh start",
  about:
    "Takes every picked shell as one flat piece again, seen from where most of it shows, beside what is there. Seams within it go; cut and unfold it from there.",
  kind: "edit",
  stage: "unfold",
  heading: "Project",
  acts: "shells",
  options: z.object({}),
  run: loaded(() => import("../large/fresh-start")),
};
