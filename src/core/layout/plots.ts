import { z } from "zod";

/** Plots that an asset may have. */
export const MOST_PLOTS = 200;

const Uv = z.number().min(-1000).max(1000);
/** A rectangle of a UV set that is kept for a packing. */
export const Plot = z.object({
  name: z.string().min(1).max(100),
  set: z.string().min(1).max(200),
  u0: Uv,
  v0: Uv,
  u1: Uv,
  v1: Uv,
  /** A packing gave it to a group: the next one takes it away. */
  block: z.literal(true).optional(),
});
export type Plot = Readonly<z.infer<typeof Plot>>;
export const Plots = z.array(Plot).max(MOST_PLOTS);

/** The plots of a set. */
export const plotsOf = (asset: { readonly plots: readonly Plot[] }, set: string): readonly Plot[] =>
  asset.plots.filter((p) => p.set === set);
