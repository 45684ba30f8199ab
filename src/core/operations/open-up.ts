import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  tips: z
    .boolean()
    .default(true)
    .meta({ title: "Reach tips", description: "Lead seams to corners and far ends that could not lie flat otherwise" }),
});

/** Cuts shells that are closed, or tubes, or have handles, so that they can lie flat. */
export const openUp: EditOperation<z.infer<typeof options>> = {
  id: "open-up",
  title: "Propose seams: Open up",
  about: "Cuts shells that cannot lie flat, along creases and where little is seen, through points of high curvature.",
  kind: "edit",
  stage: "seams",
  heading: "Propose",
  key: "O",
  acts: "shells",
  proposes: true,
  options,
  run: loaded(() => import("./large/open-up")),
};
