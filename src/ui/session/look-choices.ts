import { z } from "zod";
import { STRETCH_KINDS } from "@/core/check/triangle-stretch";
import { STAGES } from "@/core/operations/operation";
import { PATH_WAYS } from "@/core/seams/path-ways";
import { SWATCH_IDS } from "./swatches";

/** What faces can show. */
export const VIEWS = { shaded: "Shaded", swatch: "Swatch", stretch: "Stretch", tints: "Tints" } as const;
export type View = keyof typeof VIEWS;
export const VIEW_IDS = Object.keys(VIEWS) as [View, ...View[]];

/** How the form is lit; in the studio all cloth is of one colour. */
export const SHADINGS = { lit: "Lit", flat: "Flat colour", clay: "Clay studio", gloss: "Gloss studio" } as const;
export type Shading = keyof typeof SHADINGS;
export const SHADING_IDS = Object.keys(SHADINGS) as [Shading, ...Shading[]];

/** Colours of seams beside the theme's own indigo. */
export const SEAM_COLORS = {
  indigo: null,
  ink: "#22252e",
  leaf: "#3f6b33",
  saffron: "#c98a1b",
  white: "#ffffff",
} as const;
export type SeamColor = keyof typeof SEAM_COLORS;

/** Which button turns the eye on the form. */
export const MOUSE_HABITS = {
  right: "Right button turns, middle moves",
  middle: "Middle button turns, Shift moves",
  alt: "Alt and left turns, middle moves, right zooms",
} as const;
export type MouseHabit = keyof typeof MOUSE_HABITS;

const idsOf = <T extends object>(choices: T) => Object.keys(choices) as [keyof T & string, ...Array<keyof T & string>];

/** A value that falls back where it cannot be read: what one version kept, another may not know. */
const or = <T extends z.ZodType>(schema: T, fallback: z.output<T>) =>
  schema.default(fallback as never).catch(fallback as never);
const perPane = <T extends z.ZodType>(schema: T, fallback: z.output<T>) =>
  or(z.object({ form: schema, sheet: schema }), { form: fallback, sheet: fallback } as never);

/** How the bench looks, as it is kept from one asset to the next. */
export const Looks = z.object({
  stage: or(z.enum(STAGES), "seams"),
  view: perPane(z.enum(VIEW_IDS), "shaded"),
  wires: perPane(z.boolean(), true),
  seams: perPane(z.boolean(), true),
  shading: or(z.enum(SHADING_IDS), "lit"),
  /** Degrees by which the light is turned about the line of sight's upright. */
  lightTurn: or(z.number().min(-180).max(180), 0),
  /** Times the width that seams come with. */
  seamWidth: or(z.number().min(0.5).max(3), 1),
  seamColor: or(z.enum(idsOf(SEAM_COLORS)), "indigo"),
  /** The panes one over the other, and Sheet first. */
  stacked: or(z.boolean(), false),
  swapped: or(z.boolean(), false),
  /** The columns at both sides of the panes. */
  columns: or(z.boolean(), true),
  parallel: or(z.boolean(), false),
  mouse: or(z.enum(idsOf(MOUSE_HABITS)), "right"),
  /** A second view of the form, within the first. */
  inset: or(z.boolean(), false),
  /** Figures of the shell under the pointer. */
  readout: or(z.boolean(), false),
  /** What the stretch view paints, and from which to which change of scale. */
  stretchKind: or(z.enum(STRETCH_KINDS), "area"),
  stretchLimit: or(z.number().min(1.01).max(10), 1.25),
  swatch: or(z.union([z.enum(SWATCH_IDS), z.templateLiteral(["own:", z.string().max(100)])]), "letters"),
  /** How often the swatch stands across a tile. */
  swatchRepeats: or(z.number().int().min(1).max(8), 1),
  swatchWeight: or(z.number().int().min(1).max(3), 1),
  /** Pictures of one's own hold normals: they are lit in place of shown. */
  relief: or(z.boolean(), false),
  /** Shells are unfolded again as soon as seams in them were cut or joined. */
  unfoldsAlong: or(z.boolean(), false),
  /** The largest empty boxes of tiles are shown in Sheet. */
  freeSpace: or(z.boolean(), false),
  /** Images that are painted for the layout are drawn anew with what moves its shells. */
  movesImages: or(z.boolean(), false),
  /** What the thread lays is cut as it goes, and not picked. */
  threadCuts: or(z.boolean(), false),
  threadWay: or(z.enum(PATH_WAYS), "shortest"),
});
export type Looks = z.infer<typeof Looks>;

export const PLAIN_LOOKS: Looks = Looks.parse({});
