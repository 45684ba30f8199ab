import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  rings: z
    .number()
    .int()
    .min(1)
    .max(200)
    .default(2)
    .meta({ title: "Rings", description: "Rows of faces about the pole that the cap takes in" }),
});

/** Proposes a cap for every pole, and one seam for the body. */
export const dome: EditOperation<z.infer<typeof options>> = {
  id: "dome",
  title: "Propose seams: Dome",
  about: "Cuts the pole of a dome or ball off as a flat cap, and opens the body on its hidden side.",
  kind: "edit",
  stage: "seams",
  heading: "Propose",
  acts: "shells",
  proposes: true,
  options,
  run: loaded(() => import("./large/dome")),
};
