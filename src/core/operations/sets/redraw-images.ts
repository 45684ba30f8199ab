import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { BLEED } from "./bleed";
import { otherOption } from "./set-tools";

const options = z.object({
  other: otherOption.meta({
    title: "Painted for",
    description: "The UV set that the images were painted for; they are drawn anew for the target set",
    from: "sets",
  }),
  bleed: z
    .number()
    .int()
    .min(1)
    .max(256)
    .default(BLEED)
    .meta({ title: "Bleed", description: "How far images are drawn on beyond the shells", unit: "px" }),
});

/** Draws images that were painted for one UV set anew for another. */
export const redrawImages: EditOperation<z.infer<typeof options>> = {
  id: "redraw-images",
  title: "Redraw images",
  about:
    "Draws the images that are laid by another UV set anew for the target set, with bleeding, and lays them by it. The model looks as before.",
  kind: "edit",
  stage: "place",
  moves: false,
  heading: "Painted images",
  acts: "asset",
  locked: "may",
  options,
  run: loaded(() => import("../large/redraw-images")),
};
