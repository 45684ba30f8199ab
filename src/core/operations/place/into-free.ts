import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

/** A place on the sheet. */
const placeOption = z.number().min(0).max(100).optional();

const options = z.object({
  grow: z.boolean().default(false).meta({
    title: "Grow to fill it",
    description: "Shells become as large as the box allows, and keep that ratio when they are levelled",
  }),
  turn: z.boolean().default(true).meta({ title: "May turn", description: "By a quarter, where they fit better so" }),
  padding: z.number().min(0).max(256).default(8).meta({
    title: "Padding",
    description: "Kept to everything else and to the border of the tile",
    unit: "px",
  }),
  u: placeOption.meta({
    title: "Box at u",
    description: "A place in the empty box that is meant",
    unit: "tiles",
    empty: "any",
    more: true,
  }),
  v: placeOption.meta({
    title: "Box at v",
    description: "A place in the empty box that is meant",
    unit: "tiles",
    empty: "any",
    more: true,
  }),
});

/** Moves shells into the empty boxes of their tile. */
export const intoFree: EditOperation<z.infer<typeof options>> = {
  id: "into-free",
  title: "Into free space",
  about:
    "Moves the picked shells, the largest first, into the smallest empty box of the tile that holds each, or grows each to fill the one that gives it most.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  picks: true,
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/into-free")),
};
