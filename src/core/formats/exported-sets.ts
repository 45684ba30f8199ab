import type { Asset } from "../layout/asset";

/** Indexes of the UV sets that are written, in the order of the coordinate sets they are written as. */
export const exportedSets = (asset: Asset): number[] =>
  asset.sets
    .map((set, i) => ({ i, as: set.exportAs }))
    .filter((s) => s.as !== null)
    .sort((a, b) => a.as! - b.as! || a.i - b.i)
    .map((s) => s.i);
