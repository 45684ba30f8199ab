import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

/** Where ratios come from. */
export const RATIOS_BY = ["one ratio", "what is seen"] as const;

const options = z.object({
  by: z.enum(RATIOS_BY).default("one ratio").meta({
    title: "By",
    description: "All alike, or each by how much is seen of it, from all round or from the views that are marked",
  }),
  ratio: z
    .number()
    .min(0.05)
    .max(20)
    .default(1)
    .meta({
      title: "Ratio",
      description: "How dense they are to be, by what is common: 2 for twice, 0.5 for half; of what is seen best",
      choices: [0.25, 0.5, 1, 2, 4],
    }),
});

/** Makes shells denser or coarser than what is common, for good. */
export const densityRatio: EditOperation<z.infer<typeof options>> = {
  id: "density-ratio",
  title: "Density ratio",
  about:
    "Makes shells denser or coarser than the others by a ratio, which Level and Pack keep, and Check does not blame.",
  kind: "edit",
  stage: "level",
  heading: "Density",
  acts: "shells",
  picks: true,
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/density-ratio")),
};
