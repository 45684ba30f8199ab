import { z } from "zod";
import type { Asset } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { otherOption, otherSet, reordered } from "./set-tools";

const options = z.object({ other: otherOption });

/** The asset with two sets in each other's place. */
export function swapped(asset: Asset, a: number, b: number): Asset {
  const turn = (i: number) => (i === a ? b : i === b ? a : i);
  const sets = asset.sets.map((_, i) => ({ ...asset.sets[turn(i)]!, exportAs: asset.sets[i]!.exportAs }));
  return reordered({ ...asset, sets }, (part) => asset.sets.map((_, i) => part.uvSets[turn(i)]));
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
    const to = otherSet(asset, scope.set, other);
    const [a, b] = [asset.sets[scope.set]!.name, asset.sets[to]!.name];
    return { asset: swapped(asset, scope.set, to), words: `Swap UV sets ${a} and ${b}`, notes: [] };
  },
};
