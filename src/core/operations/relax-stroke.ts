import { z } from "zod";
import { plainText } from "../formats/schema-words";
import { BRUSH_WAYS, MOST_DABS } from "../layout/stroke";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  stroke: plainText(40 * MOST_DABS)
    .default("")
    .meta({
      title: "Stroke",
      description: "Dabs of the brush, each as u, v and radius in tiles with spaces between, and commas between dabs",
    }),
  strength: z.number().min(0.01).max(1).default(0.5).meta({
    title: "Strength",
    description: "How far points in the middle of the brush go with every dab, of the way they have",
  }),
  way: z.enum(BRUSH_WAYS).default("even").meta({
    title: "Way",
    description: "Even evens out stretch; smooth draws points to the middle of their neighbours, and borders straight",
  }),
});

export type StrokeInput = z.infer<typeof options>;

/** Relaxes what a brush is drawn over. */
export const relaxStroke: EditOperation<StrokeInput> = {
  id: "relax-stroke",
  title: "Relax along a stroke",
  about:
    "Evens out stretch, or smooths, under a brush that is drawn over the sheet; pinned points stay, nothing flips.",
  kind: "edit",
  stage: "unfold",
  acts: "faces",
  options,
  run: loaded(() => import("./large/relax-stroke")),
};
