import { Stopped } from "../layout/stopped";
import { atOneScale, ROUNDED } from "./one-scale";
import type { PageFound, PagePacking } from "./pack-page";
import { areaOf, lengthOf, type Page } from "./page";
import type { Item } from "./raster";
import { type Cut, cutsFor, sharedPage } from "./share-page";

/** Packs one page, here or on a worker. */
export type PackOne = (items: readonly Item[], packing: PagePacking, watch?: PageWatch) => Promise<PageFound | null>;
export interface PageWatch {
  /** Told the share done. @throws Stopped */
  readonly step?: (share: number) => void;
  /** Told of what was reached. */
  readonly best?: (placements: PageFound["placements"]) => void;
}

/** Shells of one group in a rectangle of their own. */
export interface Block {
  readonly page: Page;
  readonly members: readonly number[];
  readonly found: PageFound;
}

/** Blocks that fill a page, all of their shells at one scale. */
export interface Blocks {
  readonly blocks: readonly Block[];
  readonly scale: number;
  readonly stopped: boolean;
}

export interface BlockWatch {
  /** Told the share done. @throws Stopped */
  readonly step: (share: number) => void;
  /** Told of blocks in which all shells lie, at larger and larger scales. */
  readonly best: (blocks: readonly Block[]) => void;
}

/** How often the page is shared out anew by what drafts of each group needed, with every kind of cut. */
const SHARED_OUT = 5;
/** How often the best of these is, by what each group comes to with all the work that is wanted. */
const REFINED = 3;
/** How many drafts such work counts as much as. */
const AS_DRAFTS = 20;
/**
 * The scale of a group goes by the root of its area where it fills its rectangle, and by the area itself where its longest shell
 * just goes in: this power of what lacks is off by as little for both.
 */
const CORRECTED = 4 / 3;
/** A cut that comes to no more than this of the best is given up: sharing out anew does not bring as much. */
const NO_BETTER = 0.7;

/**
 * Shares a page out among groups, in rectangles, and packs each group into its own: all shells at one scale.
 *
 * @param groups the members of each @param packing of the whole page @returns null where they do not fit
 */
export const packBlocks = (
  items: readonly Item[],
  groups: readonly (readonly number[])[],
  packing: PagePacking,
  packOne: PackOne,
  watch: BlockWatch,
): Promise<Blocks | null> => new BlockPacker(items, groups, packing, packOne, watch).run();

/** A page shared out, and what came of each group there. */
interface Shared {
  readonly rectangles: readonly Page[];
  readonly cut: Cut;
  readonly found: readonly (PageFound | null)[];
  /** The largest at which all of them fit. */
  readonly scale: number;
}

class BlockPacker {
  private readonly own: readonly (readonly Item[])[];
  private readonly cuts: readonly Cut[];
  private readonly total: number;
  private done = 0;
  private kept: Blocks | null = null;

  constructor(
    items: readonly Item[],
    private readonly groups: readonly (readonly number[])[],
    private readonly packing: PagePacking,
    private readonly packOne: PackOne,
    private readonly watch: BlockWatch,
  ) {
    this.own = groups.map((members) => members.map((i) => items[i]!));
    this.cuts = cutsFor(groups.length);
    const full = this.packing.effort ? (REFINED + 1) * AS_DRAFTS : 0;
    this.total = groups.length * (this.cuts.length * SHARED_OUT + 1 + full);
  }

  async run(): Promise<Blocks | null> {
    const { fixed, effort } = this.packing;
    const drafted = await this.drafted();
    if (!drafted) return null;
    await this.keep(drafted, { effort: 0, work: 0 }, 1);
    if (!effort || (this.kept && fixed !== undefined)) return this.kept;
    try {
      const refined = await this.refined(drafted);
      if (refined.scale > (this.kept?.scale ?? 0)) await this.keep(refined, {}, AS_DRAFTS);
    } catch (error) {
      if (!(error instanceof Stopped) || !this.kept) throw error;
      return { ...this.kept, stopped: true };
    }
    return this.kept;
  }

  /** The best way to share the page out, by drafts of each group. */
  private async drafted(): Promise<Shared | null> {
    const { page, padding, unit } = this.packing;
    let best: Shared | null = null;
    for (const cut of this.cuts) {
      let needs = this.own.map((list) => grownArea(list, padding / unit));
      for (let turn = 0; turn < SHARED_OUT; turn++) {
        const shared = await this.at(sharedPage(page, needs, cut), cut, { effort: 0, work: 0 }, 1);
        if (shared.scale > (best?.scale ?? 0)) best = shared;
        if (turn && best && shared.scale < NO_BETTER * best.scale) break;
        needs = needsOf(shared);
      }
    }
    return best;
  }

  /** The best of some rounds of sharing out anew, by all the work that is wanted for each group. */
  private async refined(drafted: Shared): Promise<Shared> {
    let best = drafted;
    let { rectangles } = drafted;
    for (let turn = 0; turn < REFINED; turn++) {
      const shared = await this.at(rectangles, drafted.cut, {}, AS_DRAFTS);
      if (shared.scale > best.scale) best = shared;
      rectangles = sharedPage(this.packing.page, needsOf(shared), drafted.cut);
    }
    return best;
  }

  /** Packs every group as large as it fits its rectangle. */
  private async at(rectangles: readonly Page[], cut: Cut, how: Partial<PagePacking>, weight: number): Promise<Shared> {
    const found = await Promise.all(rectangles.map((r, g) => this.pack(g, r, { ...how, fixed: undefined }, weight)));
    return { rectangles, cut, found, scale: Math.min(...found.map((one) => one?.scale ?? 0)) };
  }

  /** Packs all groups at one scale, that which is wanted or the largest at which they fit, and keeps what comes of it. */
  private async keep(shared: Shared, how: Partial<PagePacking>, weight: number): Promise<void> {
    const { fixed } = this.packing;
    if (fixed !== undefined && shared.scale < fixed * (1 - ROUNDED)) return;
    const least = this.kept?.scale ?? 0;
    const scale = fixed ?? shared.scale;
    const groups = this.groups.map((_, g) => g);
    // Where one scale is wanted, none that is smaller will do.
    const above = fixed === undefined ? least : Math.max(least, fixed * (1 - ROUNDED));
    const all = await atOneScale(groups, scale, above, async (g, wanted): Promise<Block | null> => {
      const [page, known] = [shared.rectangles[g]!, shared.found[g]];
      const isThere = known && Math.abs(known.scale - wanted) <= ROUNDED * wanted;
      const found = isThere ? known : await this.pack(g, page, { ...how, fixed: wanted }, weight);
      return found && { page, members: this.groups[g]!, found };
    });
    if (!all) return;
    this.kept = { blocks: all.laid, scale: all.scale, stopped: all.laid.some(({ found }) => found.stopped) };
    this.watch.best(all.laid);
  }

  private async pack(g: number, rectangle: Page, how: Partial<PagePacking>, weight: number): Promise<PageFound | null> {
    const { packing } = this;
    let told = 0;
    const step = (share: number) => {
      this.done += (share - told) * weight;
      told = share;
      this.watch.step(Math.max(0, Math.min(1, this.done / this.total)));
    };
    step(0);
    const page = within(rectangle, packing.page, packing.padding / 2);
    const found =
      page.w > 0 && page.h > 0 ? await this.packOne(this.own[g]!, { ...packing, ...how, page }, { step }) : null;
    step(1);
    return found;
  }
}

/** What groups would need to come to the same scale as the largest. */
function needsOf({ rectangles, found }: Shared): number[] {
  const scales = found.map((one) => one?.scale ?? 0);
  const most = Math.max(...scales);
  return rectangles.map(({ w, h }, g) => w * h * (most / (scales[g] || most / 4 || 1)) ** CORRECTED);
}

/** Room that shells take with half of the padding about each. */
const grownArea = (items: readonly Item[], padding: number): number => areaOf(items) + (lengthOf(items) * padding) / 2;

/** A rectangle without half of the padding at those of its sides that other rectangles lie beside. */
function within(r: Page, page: Page, half: number): Page {
  const near = 1e-9;
  const left = r.u0 > page.u0 + near ? half : 0;
  const low = r.v0 > page.v0 + near ? half : 0;
  const right = r.u0 + r.w < page.u0 + page.w - near ? half : 0;
  const high = r.v0 + r.h < page.v0 + page.h - near ? half : 0;
  return { ...r, u0: r.u0 + left, v0: r.v0 + low, w: r.w - left - right, h: r.h - low - high };
}
