import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

const options = z.object({
  limit: z
    .number()
    .min(1)
    .max(4)
    .default(1.05)
    .meta({ title: "Stretch up to", description: "Mean stretch that a shell may come to as a rectangle; 1 is none" }),
  added: z
    .number()
    .min(0)
    .max(3)
    .default(0.03)
    .meta({ title: "Stretch added", description: "By how much its stretch may grow" }),
});

/** Straightens every shell that gains by it. */
export const straightenAll: EditOperation<z.infer<typeof options>> = {
  id: "straighten-all",
  title: "Straighten all that gain",
  about:
    "Finds shells that can be rectangles, and lays those so that stay within the stretch you allow. Each is listed with what it costs.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  acts: "shells",
  options,
  run: loaded(() => import("../large/straighten-all")),
};
