import { z } from "zod";
import { FALLOFF_CURVES } from "../select/falloff";
import { type EditOperation, loaded } from "./operation";

/** Along which axes picked faces are made larger or smaller. */
export const GRADED = ["both ways", "across", "upwards"] as const;

const options = z.object({
  by: z
    .number()
    .min(0.1)
    .max(10)
    .default(0.5)
    .meta({ title: "By", description: "How large the picked faces are to be on the sheet, as a factor; 0.5 for half" }),
  along: z.enum(GRADED).default("both ways").meta({
    title: "Along",
    description: "Both ways it is a change of density; along one axis it squeezes them, which costs stretch",
  }),
  radius: z
    .number()
    .min(0)
    .max(1)
    .default(0.1)
    .meta({ title: "Falloff", description: "How far around them it fades out; 0 for a step", unit: "tiles" }),
  curve: z.enum(FALLOFF_CURVES).default("smooth").meta({ title: "Curve", description: "How it fades out", more: true }),
});
export type GradeInput = z.infer<typeof options>;

/** Makes picked faces denser or coarser than the rest of their shell, gradually, or squeezes them along one axis. */
export const gradeDensity: EditOperation<GradeInput> = {
  id: "grade-density",
  title: "Grade density",
  about:
    "Makes picked faces larger or smaller than the rest of their shell, or squeezes them along one axis, fading out around them. The room it gives and the stretch it costs are told before.",
  kind: "edit",
  stage: "level",
  heading: "Density",
  acts: "faces",
  picks: true,
  drawnBefore: true,
  options,
  run: loaded(() => import("./large/grade-density")),
};
