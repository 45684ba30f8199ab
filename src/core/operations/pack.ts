import { z } from "zod";
import { FIRST_TILES, GROUPED_BY, PLACES, SEARCHES, SIZES, TURNS } from "../layout/pack-wishes";
import { type EditOperation, loaded, resolutionOption } from "./operation";

/** What every way of packing is asked. */
export const packBasics = z.object({
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
  turns: z.enum(TURNS).default("quarters").meta({
    title: "Turns",
    description:
      "Quarters fill the tile better than none, any angle (free) better still; without, shells stay as they stand",
  }),
  step: z
    .number()
    .min(1)
    .max(90)
    .default(15)
    .meta({
      title: "Step",
      description: "Shells are turned by this or a multiple",
      unit: "°",
      only: { turns: ["steps"] },
    }),
});

export const packOptions = packBasics.extend({
  sizes: z.enum(SIZES).default("level and fill").meta({
    title: "Sizes",
    description:
      "Levelled and scaled together until they fill the tile; scaled together as they are; levelled only; or kept as they are",
  }),
  search: z.enum(SEARCHES).default("thorough").meta({
    title: "Search",
    description: "How long better places are looked for, a second to a minute; stopped, it keeps the best so far",
  }),
  into: z.enum(["tiles", "plots"]).default("tiles").meta({
    title: "Into",
    description: "Whole tiles, or the plots that were drawn in Sheet",
  }),
  tiles: z
    .string()
    .max(200)
    .default("1001")
    .meta({
      title: "Tiles",
      description: "Where to: 1001, or 1001-1004 1011; 1001+ takes as many tiles as are needed for the sizes there are",
      only: { into: ["tiles"] },
    }),
  first: z.enum(FIRST_TILES).default("the largest").meta({
    title: "First tiles get",
    description: "Of several tiles or plots: the largest shells, or those whose density ratio is highest",
    more: true,
  }),
  groups: z.enum(GROUPED_BY).default("nothing").meta({
    title: "Groups by",
    description: "Shells of a group lie together, apart from others",
  }),
  apart: z
    .enum(["blocks", "tiles"])
    .default("blocks")
    .meta({
      title: "A group gets",
      description: "A rectangular block, named in Sheet, or tiles (or plots) of its own",
      only: { groups: GROUPED_BY.slice(1) },
    }),
  places: z.enum(PLACES).default("anywhere").meta({
    title: "Places",
    description:
      "Wherever they fill most; the top of the model at the top, its left at the left; or as near as there is room to where they lie, in their tiles and at the sizes they have",
  }),
  begin: z.enum(["anew", "as they lie"]).default("anew").meta({
    title: "Begin",
    description: "As they lie goes on with what is packed already, and can only make it denser",
    more: true,
  }),
  mirrored: z.boolean().default(false).meta({
    title: "May mirror",
    description: "Shells may be mirrored to fit: lettering would not be readable",
    more: true,
  }),
  keepUpright: z
    .boolean()
    .default(true)
    .meta({
      title: "Keep upright",
      description: "Shells on which up on the model is up on the sheet are not turned",
      only: { turns: ["halves", "quarters", "steps", "free"] },
    }),
  keepStacks: z.boolean().default(true).meta({
    title: "Keep stacks",
    description: "Shells that lie exactly on one another are packed as one, where the asset's rules allow stacks",
  }),
  scale: z
    .number()
    .min(0.001)
    .max(1000)
    .default(1)
    .meta({
      title: "Scaled by",
      description: "What kept or levelled sizes are multiplied by",
      more: true,
      only: { sizes: ["level", "keep"] },
    }),
});

/** Places shells in tiles or plots without overlap. */
export const pack: EditOperation<z.infer<typeof packOptions>> = {
  id: "pack",
  title: "Pack",
  about:
    "Lays shells into a tile, some tiles or plots, as large as they fit or at their sizes, with the padding between them. Shells that are not picked, hidden, locked or pinned stay where they are, and are kept clear of.",
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
  searches: true,
  options: packOptions,
  run: loaded(() => import("./large/pack")),
};
