import { z } from "zod";
import { DRAFT_STYLES, SEAMS_OR_SHEET } from "../layout/seam-wishes";
import { type EditOperation, loaded } from "./operation";
import { packBasics } from "./pack";

const options = z.object({
  fill: z.enum(SEAMS_OR_SHEET).default("balanced").meta({
    title: "Seams or sheet",
    description: "The fewest seams, the fullest tile, or the fewest that fill it nearly as well",
  }),
  style: z.enum(DRAFT_STYLES).default("by its form").meta({
    title: "Style",
    description: "Each form as it asks for (turned, creased or rounded), or all of them in one style",
  }),
  limit: z
    .number()
    .min(1.001)
    .max(4)
    .default(1.06)
    .meta({ title: "Stretch limit", description: "Mean stretch beyond which a shell is split; 1 is none" }),
  mean: z.number().min(1).max(4).optional().meta({
    title: "Mean stretch",
    description:
      "What all shells together come to at the most: seams are as short as that allows; Draft may take several times as long",
    empty: "as limit",
  }),
  keepSeams: z
    .boolean()
    .default(false)
    .meta({ title: "Keep seams", description: "Begin from the seams that are there" }),
  angle: z
    .number()
    .min(1)
    .max(179)
    .default(60)
    .meta({ title: "Crease", description: "Faces meeting at this angle or more are parted first", unit: "°" }),
  ...packBasics.shape,
  turns: packBasics.shape.turns.default("none").meta({
    ...packBasics.shape.turns.meta(),
    description: "Shells stand upright, as their parts do; quarter turns fill the tile better and give that up",
  }),
});

/** A whole layout in one press: seams, unfolding, checking and splitting, levelling, packing. */
export const draft: EditOperation<z.infer<typeof options>> = {
  id: "draft",
  title: "Draft",
  about:
    "Makes a whole layout: proposes seams, unfolds, splits what flips, overlaps itself or stretches too much, levels and packs.",
  kind: "edit",
  stage: "seams",
  moves: true,
  heading: "Whole layout",
  key: "D",
  command: "make",
  acts: "parts",
  big: true,
  keeps: true,
  options,
  run: loaded(() => import("./large/draft")),
};
