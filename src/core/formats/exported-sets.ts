import type { Asset, UvSetId } from "../layout/asset";

/**
 * The UV set that is written as each coordinate set, from 0 up. Formats number coordinate sets without gaps: where none
 * is to be written as a number that lies between two others, the first stands in, so that every number holds.
 */
export function exportedSets(asset: Asset): UvSetId[] {
  const out: UvSetId[] = [];
  for (const set of asset.sets) if (set.exportAs !== null) out[set.exportAs] ??= set.id;
  const first = out.find((id) => id !== undefined);
  return Array.from(out, (id) => id ?? first!);
}
