import { withKernels } from "../kernels/kernels";
import type { Turns } from "../layout/pack-wishes";
import { Stopped } from "../layout/stopped";
import { type FoundLayout, searchOrder } from "./order-search";
import { type Page, type Placement, placedItem, ROOM_EACH, roomOf, scaleOf } from "./page";
import type { Item } from "./raster";
import { MOST_SETTLED, Settling } from "./settle";
import { missing } from "./verify";
import { type Way, waysOf } from "./ways";

/** How shells are packed into one page. */
export interface PagePacking {
  readonly page: Page;
  /** Units of the page that a unit of the shells is, at a scale of 1. */
  readonly unit: number;
  /** Least distance of two shells, in units of the page. */
  readonly padding: number;
  readonly turns: Turns;
  readonly step?: number | undefined;
  readonly mirrored?: boolean | undefined;
  /** How many times as many orders are tried as in a quick search. */
  readonly effort: number;
  /** Samples that may be looked up while shells are settled; none are where it is 0. */
  readonly work: number;
  readonly seed: number;
  /** The only scale that is wanted. */
  readonly fixed?: number | undefined;
  readonly obstacles?: readonly Item[] | undefined;
  /** Where they lie, all at one scale: what is looked for goes on from there. */
  readonly start?: readonly Placement[] | undefined;
}

export interface PageFound extends FoundLayout {
  /** It was stopped, and this is what it had come to. */
  readonly stopped: boolean;
}

/** Of the time, what looking for an order takes. */
const ORDERING = 0.4;
/** Scales that differ by no more are one. */
const ROUNDED = 1e-9;
/** How often shells that came to lie too near by what rasters tell too little are settled a little wider. */
const WIDER = 3;

/**
 * Packs shells into a page as large as they fit, or at one scale: an order first in which each is put as low as it goes, then
 * all of them are settled. What it answers was checked exactly: nothing lies nearer than the padding, nothing beyond the page.
 *
 * @param onStep told the share done, throws to stop
 * @param onBest told of what was reached, at larger and larger scales; what is shown of it may be off by some hundredths of a texel
 * @returns null where they do not fit @throws Stopped when it is stopped before anything was found
 */
export function packPage(
  items: readonly Item[],
  packing: PagePacking,
  onStep: (share: number) => void = () => {},
  onBest: (scale: number, placements: () => readonly Placement[]) => void = () => {},
): PageFound | null {
  const { page, unit, padding, fixed, start, work } = packing;
  if (!items.length) return { scale: fixed ?? 1, placements: [], stopped: false };
  if (items.length * ROOM_EACH * padding * padding > roomOf(page, padding)) return null;
  const ways = items.map((item) => waysOf(item, packing));
  let found: FoundLayout | null = start ? { scale: scaleOf(start[0]!) / unit, placements: start } : null;
  const take = (better: FoundLayout) => {
    found = better;
    onBest(better.scale, () => better.placements);
  };
  const settles = work > 0 && !packing.obstacles?.length && items.length <= MOST_SETTLED && items.length > 1;
  try {
    const part = settles ? ORDERING : 1;
    if (!start) searchOrder(items, { ...packing, ways }, (share) => onStep(part * share), take);
    if (!settles || (found && fixed !== undefined)) return answer(found && sound(found), false);
    // What does not fit as large as it is may, when it is laid out smaller and settled until it is.
    if (fixed !== undefined)
      searchOrder(items, { ...packing, ways, fixed: undefined }, (share) => onStep(part * share), take);
    if (!found) return null;
    const settled = settle(items, ways, packing, found, (share) => onStep(part + (1 - part) * share), onBest);
    return answer(denser(sound(found), settled.found), settled.stopped);
  } catch (error) {
    if (!(error instanceof Stopped) || !found) throw error;
    return answer(sound(found), true);
  }

  function answer(reached: FoundLayout | null, stopped: boolean): PageFound | null {
    return reached && (fixed === undefined || reached.scale >= fixed * (1 - ROUNDED)) ? { ...reached, stopped } : null;
  }

  /** What came from cells keeps every gap; where it began was told by who asks. */
  function sound(reached: FoundLayout): FoundLayout | null {
    return reached.placements === start && missing(placed(items, start), page, padding) > 0 ? null : reached;
  }
}

/** Settling asks for a little more than the padding: what it began with may be the denser. */
const denser = (one: FoundLayout | null, other: FoundLayout | null): FoundLayout | null =>
  one && (!other || one.scale >= other.scale) ? one : other;

const placed = (items: readonly Item[], placements: readonly Placement[]): Item[] =>
  items.map((item, i) => placedItem(item, placements[i]!));

/** Settles shells until the work is done or it is stopped. @returns what was checked, null where nothing sound came of it */
function settle(
  items: readonly Item[],
  ways: readonly (readonly Way[])[],
  packing: PagePacking,
  from: FoundLayout,
  onStep: (share: number) => void,
  onBest: (scale: number, placements: () => readonly Placement[]) => void,
): { found: FoundLayout | null; stopped: boolean } {
  const { page, padding, work, turns } = packing;
  const quarters = ways.map((own) => own[0]!.quarters.length);
  let [start, more, stopped] = [from, 0, false];
  for (let turn = 0; turn < WIDER; turn++) {
    const options = { ...packing, quarters, free: turns === "free", more, work: turn ? work / 8 : work };
    const reached = withKernels((kernels) => {
      const look = (share: number) => {
        if (!turn) onStep(share);
      };
      return new Settling(kernels, items, options, start.placements, look, onBest).run();
    });
    stopped ||= reached.stopped;
    if (!reached.found) break;
    const lacks = missing(placed(items, reached.found.placements), page, padding);
    if (!lacks) return { found: reached.found, stopped };
    if (lacks === Infinity) break;
    more += 1.5 * lacks;
    start = reached.found;
  }
  return { found: null, stopped };
}
