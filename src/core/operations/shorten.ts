import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

/** The least and the most mean stretch that may be asked for. */
export const limitOption = z
  .number()
  .min(1.001)
  .max(4)
  .default(1.06)
  .meta({ title: "Stretch limit", description: "Mean stretch that no shell is led beyond; 1 is none" });

const options = z.object({
  limit: limitOption,
  sameStretch: z.boolean().default(false).meta({
    title: "Same stretch",
    description:
      "All shells together are stretched no more than before: cuts where they help buy shorter seams elsewhere",
  }),
});

/** Makes the seams of shells shorter within a limit of stretch. */
export const shorten: EditOperation<z.infer<typeof options>> = {
  id: "shorten",
  title: "Shorten",
  about:
    "Makes seams shorter: takes them off, straightens and slides them, as long as every shell they touch stays within the limit.",
  kind: "edit",
  stage: "seams",
  moves: true,
  heading: "Improve",
  key: "shift+K",
  acts: "shells",
  keeps: true,
  options,
  run: loaded(() => import("./large/shorten")),
};
