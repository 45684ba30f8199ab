import type { PackOne } from "../pack/blocks";
import type { PageFound } from "../pack/pack-page";
import { placementsOf } from "../pack/page";
import type { Context } from "./context";
import { spreadReached } from "./spread";

/** Of many shells there are fewer searches, which take longer: two, and more where they have no more than so many shells together. */
const SHELLS_TOGETHER = 1800;

/**
 * Packs pages by several searches from numbers of their own, side by side where there are workers. The densest is taken, of
 * equally dense ones the first: it does not matter how many workers there are.
 */
export const packSideBySide =
  (context: Context, seeds: number): PackOne =>
  async (items, packing, watch) => {
    const most = Math.max(2, Math.floor(SHELLS_TOGETHER / items.length));
    const count = packing.effort ? Math.min(seeds, most) : 1;
    const inputs = Array.from({ length: count }, (_, k) => ({
      items,
      packing: { ...packing, seed: packing.seed + k },
    }));
    let shown = 0;
    const { out, stopped } = await spreadReached(
      "packPage",
      inputs,
      inputs.map(() => 1),
      context,
      (share) => watch?.step?.(share),
      (_, map) => {
        if (map[0]! <= shown) return;
        shown = map[0]!;
        watch?.best?.(placementsOf(map));
      },
    );
    let best: PageFound | null = null;
    for (const found of out) if (found && (!best || found.scale > best.scale)) best = found;
    if (!best && stopped) throw stopped;
    return best && { ...best, stopped: stopped !== null || out.some((found) => found?.stopped === true) };
  };
