import { z } from "zod";
import type { Asset, UvSet } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { targetSet } from "../scope";
import { otherOption, otherSet } from "./set-tools";

const options = z.object({ other: otherOption });

/** The asset with two sets in each other's place, each written as what stood there before. */
export function swapped(asset: Asset, a: UvSet, b: UvSet): Asset {
  const turn = (s: UvSet) => (s === a ? b : s === b ? a : s);
  return { ...asset, sets: asset.sets.map((s) => ({ ...turn(s), exportAs: s.exportAs })) };
}

/** Exchanges the places of the target UV set and another, with the coordinate sets they are written as. */
export const swapSets: EditOperation<z.infer<typeof options>> = {
  id: "swap-sets",
  title: "Swap two sets",
  about: "Exchanges the places of the target UV set and another, with the coordinate sets they are written as.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { other }) {
    const set = targetSet(asset, scope);
    const to = otherSet(asset, set.id, other);
    return { asset: swapped(asset, set, to), words: `Swap UV sets ${set.name} and ${to.name}`, notes: [] };
  },
};
