import { z } from "zod";
import { type EditOperation, loaded, resolutionOption } from "./operation";

export const packOptions = z.object({
  resolution: resolutionOption,
  padding: z
    .number()
    .min(0)
    .max(256)
    .default(8)
    .meta({ title: "Padding", description: "Least distance between shells", unit: "px" }),
  margin: z.number().min(0).max(256).optional().meta({
    title: "Margin",
    description: "Least distance from the tile's border; the padding when not given",
    unit: "px",
    empty: "as padding",
  }),
  turns: z.enum(["none", "quarter"]).default("quarter").meta({
    title: "Turns",
    description: "Quarter turns fill the tile better; without them, shells stay as they stand",
  }),
  search: z.enum(["quick", "thorough", "long"]).default("thorough").meta({
    title: "Search",
    description: "How long better places are looked for, seconds to a minute; stopped, it keeps the best so far",
  }),
  keepUpright: z
    .boolean()
    .default(true)
    .meta({
      title: "Keep upright",
      description: "Shells on which up on the model is up on the sheet are not turned",
      only: { turns: ["quarter"] },
    }),
  keepStacks: z.boolean().default(true).meta({
    title: "Keep stacks",
    description: "Shells that lie exactly on one another are packed as one, where the asset's rules allow stacks",
  }),
  keepScale: z
    .boolean()
    .default(false)
    .meta({ title: "Keep sizes", description: "Neither level nor scale; fails when the shells do not fit" }),
});

/** Places shells in the first tile without overlap, as large as they fit. */
export const pack: EditOperation<z.infer<typeof packOptions>> = {
  id: "pack",
  title: "Pack",
  about:
    "Levels the shells and places them in one tile, as large as they fit together with the padding between them. Shells that are not picked, hidden, locked or pinned stay where they are, and are kept clear of.",
  kind: "edit",
  stage: "place",
  fits: ["shells"],
  heading: "Arrange",
  key: "P",
  command: "pack",
  mends: { findings: ["overlap", "out of tile", "gap"] },
  acts: "shells",
  big: true,
  keeps: true,
  options: packOptions,
  run: loaded(() => import("./large/pack")),
};
