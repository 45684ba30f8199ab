import { Stopped } from "../layout/stopped";
import type { PackOne } from "./blocks";
import { evenedOut } from "./even-out";
import { inPage, type Packed, type PackJob, type PackWatch } from "./job";
import { atOneScale, ROUNDED } from "./one-scale";
import type { PageFound, PagePacking } from "./pack-page";
import { areaOf, lengthOf, type Placement } from "./page";

/** Shares of the time at which pages were filled one after another, shares evened out by drafts, and every page packed. */
export const FILLED = 0.1;
const [DRAFTED, PACKED] = [0.25, 0.7];
/** How often shells go from a page to another: by drafts, for each page and in all, and by part of the work for each. */
const [BY_DRAFTS, MOST_DRAFTS, BY_WORK, PART] = [4, 40, 2, 0.5];
/** Moves in a row that bring nothing, after which no more are tried. */
const WITHOUT_GAIN = 5;
/** The share of a page that is taken to be filled, where nothing lies on it yet. */
const HELD = 0.6;

/** A page, what lies on it, and what that came to by itself. */
interface Load {
  readonly page: number;
  readonly members: readonly number[];
  readonly found: PageFound | null;
}
type How = Pick<PagePacking, "effort" | "work">;
const DRAFT: How = { effort: 0, work: 0 };

/**
 * Packs shells that lie on several pages denser, all at one scale: each page by itself, then shells go from the page that
 * comes to the least to one with more room, by the areas that these were seen to hold.
 */
export class PagesPacker {
  private readonly areas: readonly number[];
  private readonly how: How;
  private loads: readonly Load[];
  private kept: Packed;

  /** @param filled where all shells lie, at one scale @param watch told the share done, from FILLED on */
  constructor(
    private readonly job: PackJob,
    private readonly packOne: PackOne,
    private readonly watch: PackWatch,
    filled: Packed,
  ) {
    this.kept = filled;
    const half = job.padding / job.resolution / filled.scale / 2;
    this.areas = job.items.map((item) => areaOf([item]) + lengthOf([item]) * half);
    this.loads = job.pages.map((_, page) => {
      const members = job.items.flatMap((_item, i) => (filled.pages[i] === page ? [i] : []));
      return { page, members, found: null };
    });
    const used = this.loads.filter(({ members }) => members.length).length;
    this.how = { effort: job.effort / used, work: job.work / used };
  }

  /** @returns the densest that was found, no less dense than what it began with */
  async run(): Promise<Packed> {
    try {
      this.loads = await this.packed(this.loads, DRAFT, FILLED, FILLED);
      await this.even(DRAFT, Math.min(MOST_DRAFTS, BY_DRAFTS * this.loads.length), FILLED, DRAFTED);
      await this.keep();
      this.loads = await this.packed(this.loads, this.how, DRAFTED, PACKED);
      await this.keep();
      const { effort, work } = this.how;
      await this.even({ effort: PART * effort, work: PART * work }, BY_WORK, PACKED, 1);
    } catch (error) {
      if (!(error instanceof Stopped)) throw error;
      return { ...this.kept, stopped: true };
    }
    return this.kept;
  }

  /** Packs pages, each as large as what lies on it fits. */
  private packed(loads: readonly Load[], how: How, from: number, to: number): Promise<Load[]> {
    const shares = loads.map(() => 0);
    return Promise.all(
      loads.map(async (load, k) => {
        const step = (share: number) => {
          shares[k] = share;
          this.watch.step(from + ((to - from) * shares.reduce((a, b) => a + b, 0)) / loads.length);
        };
        return { ...load, found: await this.pack(load, { ...how, fixed: undefined }, step) };
      }),
    );
  }

  private async pack(
    { page, members }: Load,
    how: Partial<PagePacking>,
    step: (share: number) => void = () => {},
  ): Promise<PageFound | null> {
    const items = members.map((i) => this.job.items[i]!);
    if (!items.length) return null;
    const found = await this.packOne(items, { ...inPage(this.job, this.job.pages[page]!), ...how }, { step });
    // What a page had come to alone is of no use.
    if (found?.stopped) throw new Stopped("Stopped.");
    return found;
  }

  /** Moves shells from the page that comes to the least to one with more room, as long as both then come to more. */
  private async even(how: How, times: number, from: number, to: number): Promise<void> {
    let failed = 0;
    for (let turn = 0; turn < times && failed < WITHOUT_GAIN && !this.isEnough(); turn++) {
      const part = (k: number) => from + ((to - from) * (turn + k)) / times;
      const moved = this.moved(failed);
      if (!moved) break;
      const [least, now] = [this.least(), await this.packed(moved, how, part(0), part(1))];
      const isBetter = now.every((load) => scaleOn(load) > least);
      failed = isBetter ? 0 : failed + 1;
      if (!isBetter) continue;
      this.loads = this.loads.map((load) => now.find(({ page }) => page === load.page) ?? load);
      if (how !== DRAFT) await this.keep();
    }
  }

  /** The two pages that shells are moved between, as they are then. @param skip moves that were tried before, and passed over */
  private moved(skip: number): readonly Load[] | null {
    const { groups, worth } = this.job;
    // What is worth most is to stay where it was put.
    if (worth) return null;
    const bySize = [...this.loads].sort((a, b) => scaleOn(a) - scaleOn(b) || a.page - b.page);
    const [least] = bySize;
    // A group keeps to pages of its own.
    const others = bySize.filter(
      ({ members }) => !groups || (members.length && groups[members[0]!] === groups[least!.members[0]!]),
    );
    const room = others.slice(1).toReversed();
    if (!room.length) return null;
    // The one with most room first, then the others in turn.
    const other = room[skip % room.length]!;
    const after = evenedOut(this.loadOf(least!), this.loadOf(other), this.areas, Math.floor(skip / room.length));
    return (
      after && [
        { page: least!.page, members: after[0], found: null },
        { page: other.page, members: after[1], found: null },
      ]
    );
  }

  private loadOf({ page, members, found }: Load) {
    const { w, h, texels } = this.job.pages[page]!;
    const area = members.reduce((sum, i) => sum + this.areas[i]!, 0);
    return { members, holds: found ? area * found.scale ** 2 : HELD * w * h * (texels / this.job.resolution) ** 2 };
  }

  /** The scale to which all pages come. */
  private least(): number {
    return Math.min(...this.loads.map(scaleOn));
  }
  private isEnough(): boolean {
    const { fixed } = this.job;
    return fixed !== undefined && this.kept.scale >= fixed * (1 - ROUNDED);
  }

  /** Lays all pages at one scale, that to which all of them come, and keeps what comes of it. */
  private async keep(): Promise<void> {
    const { fixed = Infinity, items } = this.job;
    const loads = this.loads.filter(({ members }) => members.length);
    const scale = Math.min(fixed, this.least());
    const found = await atOneScale(loads, scale, this.kept.scale, (load, wanted) => this.at(load, wanted));
    if (!found) return;
    const placements: Placement[] = new Array(items.length);
    const pages: number[] = new Array(items.length);
    loads.forEach(({ page, members }, k) => {
      members.forEach((i, m) => {
        placements[i] = found.laid[k]!.placements[m]!;
        pages[i] = page;
      });
    });
    this.kept = { placements, pages, scale: found.scale, stopped: false };
    this.watch.best(placements, pages);
  }

  /** A page at a scale: made smaller about where shells lie, or packed anew. */
  private async at(load: Load, scale: number): Promise<PageFound | null> {
    const { found } = load;
    if (!found || scale > found.scale * (1 + ROUNDED)) return null;
    if (found.scale <= scale * (1 + ROUNDED)) return found;
    const near = await this.pack(load, { ...this.how, effort: 0, fixed: scale, start: found.placements });
    return near ?? this.pack(load, { ...this.how, fixed: scale });
  }
}

/** What a page comes to; what nothing lies on takes anything. */
const scaleOn = ({ members, found }: Load): number => (members.length ? (found?.scale ?? 0) : Infinity);
