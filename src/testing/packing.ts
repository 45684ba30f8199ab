import type { PackOne } from "../core/pack/blocks";
import { packPage } from "../core/pack/pack-page";
import { type Page, placedItem, STAYS } from "../core/pack/page";
import type { Item } from "../core/pack/raster";

/** A rectangle as it is packed, from the origin. */
export const box = (w: number, h: number): Item => ({
  triangles: Float64Array.of(0, 0, w, 0, w, h, 0, 0, w, h, 0, h),
  outline: Float64Array.of(0, 0, w, 0, w, 0, w, h, w, h, 0, h, 0, h, 0, 0),
});
/** The same somewhere else. */
export const at = (item: Item, du: number, dv: number): Item => placedItem(item, { ...STAYS, du, dv });

export const tile = (u0: number, texels = 1024): Page => ({ u0, v0: 0, w: 1, h: 1, texels });

/** Packs a page here. As a worker does: what it is told is copied on its way. */
export const packHere: PackOne = async (items, packing, watch) => {
  const sent = structuredClone({ items, packing });
  return packPage(sent.items, sent.packing, watch?.step);
};
export const unwatched = { step: () => {}, best: () => {} };
