import { z } from "zod";
import { WAYS } from "../layout/ways";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  passes: z.number().int().min(0).max(200).default(20).meta({
    title: "Passes",
    description: "Passes of minimising stretch; 0 keeps angles only (conformal)",
    unit: "passes",
  }),
  form: z.enum(["any", "hard-edged", "rounded"]).default("any").meta({
    title: "Kind of form",
    description: "Hard-edged keeps areas before angles, rounded angles before areas; any does as Angles or areas says",
  }),
  along: z
    .enum(WAYS)
    .default("both")
    .meta({ title: "Along", description: "Points go along both axes of the sheet, or along one alone" }),
  lean: z
    .number()
    .min(-1)
    .max(1)
    .default(0)
    .meta({
      title: "Angles or areas",
      description: "-1 keeps angles, 1 keeps areas, 0 as much of both as can be",
      ends: ["keep angles", "keep areas"],
    }),
  what: z.enum(["shells", "picked", "rest"]).default("shells").meta({
    title: "Move",
    description: "Whole shells, only the points that are picked, or all but those; the others stay where they are",
  }),
  weight: z.number().min(0.05).max(100).default(1).meta({
    title: "Weight of picks",
    description: "How many times as much the stretch of the picked faces counts; the rest of their shells takes it up",
  }),
  symmetric: z.boolean().default(true).meta({
    title: "Symmetric where the form is",
    description: "Shells that mirror in space come out the same on both sides",
  }),
  smoothed: z.number().int().min(0).max(3).default(0).meta({
    title: "Smoothed by",
    description:
      "Lengths are those of the form after so many levels of Catmull-Clark subdivision; 0 for the form as it is",
    unit: "levels",
  }),
  overItself: z.boolean().default(false).meta({
    title: "May lie over itself",
    description: "Less stretch for shells that wind about themselves; off, no shell comes to cross itself",
  }),
  skip: z
    .boolean()
    .default(false)
    .meta({ title: "Leave out what cannot lie flat", description: "Unfold the other shells when one cannot lie flat" }),
});

/** Lays shells flat: conformal with a free border, then with less stretch, never flipping a face. */
export const unfold: EditOperation<z.infer<typeof options>> = {
  id: "unfold",
  title: "Unfold",
  about:
    "Flattens shells along their seams with little stretch, never flipped and never over themselves. Those that are laid out already keep their place, turn and density; pinned points stay.",
  kind: "edit",
  stage: "unfold",
  fits: ["faces", "shells"],
  heading: "Flatten",
  key: "U",
  command: "unfold",
  given: { skip: true },
  mends: { findings: ["unmapped", "flipped"] },
  acts: "shells",
  keeps: true,
  options,
  run: loaded(() => import("./large/unfold")),
};
