import type { PackOne, PageWatch } from "../pack/blocks";
import type { PageFound, PagePacking } from "../pack/pack-page";
import { placementsOf } from "../pack/page";
import type { Item } from "../pack/raster";
import type { Context } from "./context";
import { spreadReached } from "./spread";

/** Of many shells there are fewer searches, which take longer: two, and more where they have no more than so many shells together. */
const SHELLS_TOGETHER = 1200;
/** So many searches and more are short at first. */
const MANY = 8;
/** What a short search has of the changes by repacking, and of the work of settling. */
const [SHORT, SHORT_WORK] = [0.15, 0.05];
/** Parts of the time that short searches, whole ones, and the last ones take. */
const [SHORT_PART, WHOLE_PART, LAST_PART] = [0.35, 0.3, 0.35];
/** Of short searches, one in so many is gone on with, and then two of these. */
const [GO_ON, LAST] = [4, 2];
/** Of up to so many shells these are settled on, by so many times the work; more are repacked so many times as often. */
const [FEW_SHELLS, SETTLED_WORK, LONG] = [60, 10, 8];

/**
 * Packs pages by several searches from numbers of their own, side by side where there are workers. The densest is taken, of
 * equally dense ones the first: it does not matter how many workers there are.
 *
 * Many searches are short at first, by which it mostly shows which of them come far; the best go on, and the best of these are
 * settled or repacked for long (successive halving: Jamieson, Talwalkar, Non-stochastic best arm identification and hyperparameter
 * optimization, 2016). What goes on does again what it did, which is the same for its number, and then more.
 */
export const packSideBySide =
  (context: Context, seeds: number): PackOne =>
  async (items, packing, watch) => {
    const most = Math.max(2, Math.floor(SHELLS_TOGETHER / items.length));
    const count = packing.effort ? Math.min(seeds, most) : 1;
    const searches = Array.from({ length: count }, (_, k) => ({ ...packing, seed: packing.seed + k }));
    const rounds = new Rounds(items, packing, context, watch);
    if (count < MANY) await rounds.run(searches, 1);
    else await rounds.runAll(searches);
    return rounds.result();
  };

/** A search, and what it came to. */
interface Searched {
  readonly search: PagePacking;
  readonly found: PageFound;
}

/** Searches that are run one after another, each round side by side. */
class Rounds {
  /** What was found, by the search. */
  private readonly found = new Map<PagePacking, PageFound>();
  private stopped: Error | null = null;
  private shown = 0;
  private done = 0;

  constructor(
    private readonly items: readonly Item[],
    private readonly packing: PagePacking,
    private readonly context: Context,
    private readonly watch: PageWatch | undefined,
  ) {}

  async runAll(searches: readonly PagePacking[]): Promise<void> {
    const { start, work } = this.packing;
    const some = Math.max(LAST, Math.ceil(searches.length / GO_ON));
    // What goes on from where shells lie has nothing to look for.
    if (!start) await this.run(searches.map(shortened), SHORT_PART);
    // Where nothing was found yet, the first are as good as any.
    const best = this.best(some);
    const going = best.length ? best.map(({ search }) => ({ ...search, repacked: 1, work })) : searches.slice(0, some);
    await this.run(going, start ? 1 - LAST_PART : WHOLE_PART);
    await this.run(this.lasting(this.best(LAST, going)), LAST_PART);
  }

  /** How the best of whole searches are gone on with. */
  private lasting(best: readonly Searched[]): PagePacking[] {
    const { start, work } = this.packing;
    if (!start && this.items.length > FEW_SHELLS) return best.map(({ search }) => ({ ...search, repacked: LONG }));
    return best.map(({ search, found }) => ({ ...search, start: found.placements, work: SETTLED_WORK * work }));
  }

  /** @param part of all the time that they take */
  async run(searches: readonly PagePacking[], part: number): Promise<void> {
    const { items, packing, context, watch, done } = this;
    if (this.isStopped || (packing.fixed !== undefined && this.found.size)) return;
    const { out, stopped } = await spreadReached(
      "packPage",
      searches.map((search) => ({ items, packing: search })),
      searches.map(() => 1),
      context,
      (share) => watch?.step?.(done + part * share),
      (_, map) => {
        if (map[0]! <= this.shown) return;
        this.shown = map[0]!;
        watch?.best?.(placementsOf(map));
      },
    );
    this.stopped = stopped;
    this.done = Math.min(1, done + part);
    searches.forEach((search, k) => {
      if (out[k]) this.found.set(search, out[k]);
    });
  }

  /** The densest, of equally dense ones as they were. @param of which searches, all of them when not given */
  private best(count: number, of: Iterable<PagePacking> = this.found.keys()): Searched[] {
    return [...of]
      .flatMap((search) => {
        const found = this.found.get(search);
        return found ? [{ search, found }] : [];
      })
      .sort((a, b) => b.found.scale - a.found.scale)
      .slice(0, count);
  }

  /** @throws Stopped when it was stopped before anything was found */
  result(): PageFound | null {
    const [best] = this.best(1);
    if (!best && this.stopped) throw this.stopped;
    return best ? { ...best.found, stopped: this.isStopped } : null;
  }

  private get isStopped(): boolean {
    return this.stopped !== null || [...this.found.values()].some((found) => found.stopped);
  }
}

const shortened = (search: PagePacking): PagePacking => ({
  ...search,
  repacked: SHORT,
  work: SHORT_WORK * search.work,
});
