import { z } from "zod";
import { axisOption, type EditOperation, loaded } from "./operation";

const options = z.object({
  axis: axisOption,
  where: z
    .enum(["hidden sides", "all round"])
    .default("hidden sides")
    .meta({ title: "Where", description: "Where the line is seen less than on average, or all the way round" }),
});

/** Proposes seams along the line in which the two halves of a symmetric part meet. */
export const centreLine: EditOperation<z.infer<typeof options>> = {
  id: "centre-line",
  title: "Propose seams: Centre line",
  about: "Cuts symmetric parts along the line in which their halves meet, so that they open evenly into two alike.",
  kind: "edit",
  stage: "seams",
  heading: "Propose",
  acts: "parts",
  proposes: true,
  options,
  run: loaded(() => import("./large/centre-line")),
};
