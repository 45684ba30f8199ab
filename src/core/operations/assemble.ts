import { z } from "zod";
import { APART } from "../layout/seam-wishes";
import { type EditOperation, loaded } from "./operation";
import { limitOption } from "./shorten";

/** How shells are joined one after another. */
export const assembleOptions = z.object({
  limit: limitOption,
  wish: z
    .number()
    .int()
    .min(1)
    .max(100_000)
    .default(1)
    .meta({ title: "Shells wished for", description: "It ends when no more are left in a part" }),
  apart: z.enum(APART).default("nothing").meta({
    title: "Keep apart at",
    description: "Seams that stay: borders of materials or groups, or edges of 60° or more",
  }),
});

/** Joins shells along their longest shared borders. */
export const assemble: EditOperation<z.infer<typeof assembleOptions>> = {
  id: "assemble",
  title: "Assemble",
  about:
    "Joins shells one after another, those first that share the longest border, as long as none is stretched beyond the limit.",
  kind: "edit",
  stage: "seams",
  moves: true,
  heading: "Join",
  key: "shift+A",
  acts: "shells",
  keeps: true,
  options: assembleOptions,
  run: loaded(() => import("./large/assemble")),
};
