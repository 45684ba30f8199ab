import { withKernels } from "../kernels/kernels";
import type { Turns } from "../layout/pack-wishes";
import { Stopped } from "../layout/stopped";
import { searchBoxes } from "./box-search";
import { ROUNDED } from "./one-scale";
import { searchOrder } from "./order-search";
import { type FoundLayout, type Page, type Placement, placedItem, ROOM_EACH, roomOf, scaleOf } from "./page";
import type { Item } from "./raster";
import { type RoughOptions, searchRoughly } from "./rough-search";
import { MOST_SETTLED, type SettleOptions, Settling } from "./settle";
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
  /** The share of the changes by repacking that are tried; all of them where it is not given. */
  readonly repacked?: number;
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

/**
 * Shares of the time at which there is a rough order, it is a draft, it was laid by sound shapes where none came of it, boxes were
 * packed, there is a rough order where there was none, that was settled a little, and there are better ones.
 */
const [ROUGH, DRAFTED, SOUND, BOXED, COARSE, BRIEF, ORDERED] = [0.006, 0.01, 0.02, 0.04, 0.06, 0.1, 0.65];
/** Samples that are looked up for a draft, and for each shell of it. */
const [DRAFT_WORK, DRAFT_WORK_EACH] = [2e6, 15_000];
/** The share of the settling's work by which a first order is settled. */
const BRIEF_WORK = 0.06;
/** The share of the settling's work for which a rough layout is tried. */
const TRIED = 0.2;
/**
 * How many rough layouts are tried, and how far their scales are apart: the largest may not come apart. Of more shells than
 * these it is the last one alone.
 */
const [SOME, APART, FEW_SHELLS] = [4, 1.003, 150];
/** Shares of the search for rough layouts after which the last one is settled a little, to be seen, and by which share of the work. */
const [SEEN_AT, SEEN] = [[0.3, 0.45, 0.6, 0.8], 0.03];
/** Samples that are looked up for each shell at the least, where shells are settled at all. */
const WORK_EACH = 100_000;
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
  const { page, padding, fixed } = packing;
  if (!items.length) return { scale: fixed ?? 1, placements: [], stopped: false };
  if (items.length * ROOM_EACH * padding * padding > roomOf(page, padding)) return null;
  return new PagePacker(items, packing, onStep, onBest).run();
}

class PagePacker {
  private readonly ways: readonly (readonly Way[])[];
  private readonly settles: boolean;
  /** The densest that is sound: what came from cells keeps every gap, what was settled was checked. */
  private found: FoundLayout | null = null;
  private told = 0;

  constructor(
    private readonly items: readonly Item[],
    private readonly packing: PagePacking,
    private readonly onStep: (share: number) => void,
    private readonly onBest: (scale: number, placements: () => readonly Placement[]) => void,
  ) {
    this.ways = items.map((item) => waysOf(item, packing));
    const { length } = items;
    this.settles = packing.work > 0 && length <= MOST_SETTLED && (length > 1 || !!packing.obstacles?.length);
  }

  run(): PageFound | null {
    let stopped = false;
    try {
      stopped = this.packing.start ? this.goOn(this.packing.start) : this.packAnew();
    } catch (error) {
      if (!(error instanceof Stopped) || !this.found) throw error;
      stopped = true;
    }
    const { found } = this;
    const { fixed } = this.packing;
    return found && (fixed === undefined || found.scale >= fixed * (1 - ROUNDED)) ? { ...found, stopped } : null;
  }

  /** A draft first, and boxes; then better orders are looked for, and settled. @returns whether it was stopped */
  private packAnew(): boolean {
    const { packing, ways, settles } = this;
    const isFixed = packing.fixed !== undefined;
    const free = { ...packing, ways, fixed: undefined };
    let rough = settles && !isFixed ? this.draft(free) : null;
    this.packSoundly(settles ? [DRAFTED, SOUND, BOXED] : [0, 1 - BOXED, 1]);
    if (!settles || (this.found && isFixed)) return false;
    if (isFixed) rough = this.roughly(free, this.share(BOXED, COARSE));
    const first = larger(rough, this.found);
    if (!first) return false;
    if (this.settle(first, BRIEF_WORK, this.share(COARSE, BRIEF)).stopped) return true;
    return this.settleSome(this.roughFrom(first, free));
  }

  /**
   * Lays shapes that keep every gap where nothing was found yet, and packs their boxes.
   *
   * @param shares of the time at which it begins, when an order was looked for, and boxes were packed
   */
  private packSoundly([begun, ordered, boxed]: readonly [number, number, number]): void {
    const { items, packing, ways, settles } = this;
    const options = { ...packing, ways };
    const sound = (better: FoundLayout) => {
      this.take(better);
      this.tell(better.scale, () => better.placements);
    };
    const effort = settles ? 0 : packing.effort;
    if (!this.found) searchOrder(items, { ...options, effort }, this.share(begun, ordered), sound);
    if (this.found && packing.fixed !== undefined) return;
    searchBoxes(items, options, this.found?.scale ?? 0, this.share(ordered, boxed), sound);
  }

  /** Lays rough shapes by keys, and settles them as far as that goes at once. @returns what was laid */
  private draft(options: RoughOptions): FoundLayout | null {
    const rough = this.roughly(options, this.share(0, ROUGH));
    if (!rough) return null;
    const work = DRAFT_WORK + DRAFT_WORK_EACH * this.items.length;
    if (this.settleBy(rough, { work, draft: true }, this.share(ROUGH, DRAFTED)).stopped) throw new Stopped("Stopped.");
    return rough;
  }

  /** Lays rough shapes by keys. */
  private roughly(options: RoughOptions, onStep: (share: number) => void): FoundLayout | null {
    let found: FoundLayout | null = null;
    searchRoughly(this.items, { ...options, effort: 0 }, onStep, (better) => {
      found = better;
    });
    return found;
  }

  /** Looks for better and better rough layouts. Of what has come of it something is to be seen on the way. */
  private roughFrom(first: FoundLayout, options: RoughOptions): FoundLayout[] {
    const rough = [first];
    const step = this.share(BRIEF, ORDERED);
    let [looks, seen] = [0, first];
    const look = (share: number) => {
      step(share);
      if (looks >= SEEN_AT.length || share < SEEN_AT[looks]!) return;
      looks++;
      const last = rough.at(-1)!;
      if (last === seen || last.scale <= this.told) return;
      seen = last;
      if (this.settle(last, SEEN, () => step(share)).stopped) throw new Stopped("Stopped.");
    };
    searchRoughly(this.items, options, look, (better) => {
      if (better.scale > rough.at(-1)!.scale) rough.push(better);
    });
    return rough;
  }

  /**
   * Settles the last rough layout a little, one before where nothing as large came of it, and so on; and then goes on with
   * the best of what came of them. @returns whether it was stopped
   */
  private settleSome(rough: readonly FoundLayout[]): boolean {
    let best: FoundLayout | null = this.found;
    const some = apart(rough);
    if (some.length === 1) return this.settle(some[0]!, 1, this.settling(0, 1)).stopped;
    let left = 1;
    for (const [k, from] of some.entries()) {
      const { found, stopped } = this.settle(from, TRIED, this.settling(1 - left, 1 - left + TRIED));
      left -= TRIED;
      if (stopped) return true;
      if (found && found.scale > (best?.scale ?? 0)) best = found;
      if (best && best.scale >= (some[k + 1]?.scale ?? 0)) break;
    }
    return this.settle(best ?? rough[0]!, left, this.settling(1 - left, 1)).stopped;
  }

  /** Tells of a part of the work of settling. */
  private settling = (from: number, to: number) =>
    this.share(ORDERED + from * (1 - ORDERED), ORDERED + to * (1 - ORDERED));

  /** Goes on from where shells lie. @returns whether it was stopped */
  private goOn(start: readonly Placement[]): boolean {
    const { items, packing } = this;
    const from = { scale: scaleOf(start[0]!) / packing.unit, placements: start };
    // Where they lie was told by who asks, and need not be sound.
    if (!(missing(placed(items, start), packing.page, packing.padding, packing.obstacles) > 0)) this.take(from);
    if (!this.settles || (this.found && packing.fixed !== undefined)) return false;
    return this.settle(from, 1, this.share(0, 1)).stopped;
  }

  private take(better: FoundLayout): void {
    const { fixed = Infinity } = this.packing;
    // Settling asks for a little more than the padding: what it began with may be the denser.
    if (better.scale <= fixed * (1 + ROUNDED) && better.scale > (this.found?.scale ?? 0)) this.found = better;
  }

  private tell = (scale: number, placements: () => readonly Placement[]): void => {
    if (scale <= this.told) return;
    this.told = scale;
    this.onBest(scale, placements);
  };

  /** Tells of a part of the work as of one of the whole. */
  private share(from: number, to: number): (share: number) => void {
    return (share) => this.onStep(from + (to - from) * share);
  }

  /** Settles shells for a share of the work. */
  private settle(from: FoundLayout, share: number, onStep: (share: number) => void): Settled {
    return this.settleBy(from, { work: share * Math.max(this.packing.work, WORK_EACH * this.items.length) }, onStep);
  }

  private settleBy(
    from: FoundLayout,
    how: Pick<SettleOptions, "work" | "draft">,
    onStep: (share: number) => void,
  ): Settled {
    const settled = settle(this.items, this.ways, { ...this.packing, ...how }, from, onStep, this.tell);
    if (settled.found) this.take(settled.found);
    return settled;
  }
}

/** The one at the larger scale. */
const larger = (one: FoundLayout | null, other: FoundLayout | null): FoundLayout | null =>
  (one?.scale ?? 0) > (other?.scale ?? 0) ? one : other;

/** The last of some layouts, and others that are smaller. */
function apart(rough: readonly FoundLayout[]): FoundLayout[] {
  if (rough[0]!.placements.length > FEW_SHELLS) return rough.slice(-1);
  const out: FoundLayout[] = [];
  for (const layout of rough.toReversed())
    if (out.length < SOME && (!out.length || layout.scale * APART <= out.at(-1)!.scale)) out.push(layout);
  return out;
}

const placed = (items: readonly Item[], placements: readonly Placement[]): Item[] =>
  items.map((item, i) => placedItem(item, placements[i]!));

interface Settled {
  readonly found: FoundLayout | null;
  readonly stopped: boolean;
}

/** Settles shells until the work is done or it is stopped. @returns what was checked, null where nothing sound came of it */
function settle(
  items: readonly Item[],
  ways: readonly (readonly Way[])[],
  packing: PagePacking & Pick<SettleOptions, "draft">,
  from: FoundLayout,
  onStep: (share: number) => void,
  onBest: (scale: number, placements: () => readonly Placement[]) => void,
): Settled {
  const { page, padding, work, turns, obstacles } = packing;
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
    const lacks = missing(placed(items, reached.found.placements), page, padding, obstacles);
    if (!lacks) return { found: reached.found, stopped };
    if (lacks === Infinity) break;
    more += 1.5 * lacks;
    start = reached.found;
  }
  return { found: null, stopped };
}
