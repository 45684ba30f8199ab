import { Stopped } from "../layout/stopped";
import { TakenCells } from "../place/free-boxes";
import { type Block, type Blocks, type BlockWatch, type PackOne, packBlocks } from "./blocks";
import { inPage, type Packed, type PackJob, type PackWatch } from "./job";
import { atOneScale, ROUNDED } from "./one-scale";
import type { PagePacking } from "./pack-page";
import { areaOf, lengthOf, type Page, type Placement, roomOf } from "./page";
import type { Item } from "./raster";

/** The share of the time at which there are drafts of several pages. */
const DRAFTED = 0.1;

type How = Pick<PagePacking, "effort" | "work">;

/**
 * Packs groups of shells in rectangular blocks, all at one scale. Of several pages each gets some of the groups, in
 * proportion to its room; where something stays, blocks lie in the largest rectangle that it leaves.
 *
 * @returns null where they do not fit @throws Stopped when nothing was reached yet
 */
export async function packGroups(job: PackJob, packOne: PackOne, watch: PackWatch): Promise<Packed | null> {
  const { fixed, groups } = job;
  const pages = job.pages.map((page) => freePart(page, job.obstacles ?? [], job.padding / page.texels));
  const members: number[][] = [];
  for (const [i, g] of groups!.entries()) {
    members[g] ??= [];
    members[g].push(i);
  }
  const needs = members.map((own) => needOf(own, job));
  // At sizes that are kept, as few pages as take all groups; else all that there are.
  const most = Math.min(pages.length, members.length);
  const needed = needs.reduce((a, b) => a + b, 0);
  for (let used = fixed === undefined ? most : 1; used <= most; used++) {
    if (fixed !== undefined && needed > roomFor(pages.slice(0, used), job)) continue;
    const loads = sharedOut(pages.slice(0, used), needs, members, job.worth);
    const part = (share: number) => watch.step(fixed === undefined ? share : (used - 1 + share) / most);
    const free = { ...job, pages, obstacles: [] };
    const packed = await new GroupPages(free, members, loads, packOne, { ...watch, step: part }).run();
    if (packed) return packed;
  }
  return null;
}

/** The largest rectangle of a page that what stays leaves free, with the padding about it. */
function freePart(page: Page, obstacles: readonly Item[], padding: number): Page {
  if (!obstacles.length || !(page.w > 0 && page.h > 0)) return page;
  // What stays beyond the page may lie nearer than the padding to its border.
  const cells = new TakenCells(page.u0 - padding, page.v0 - padding, page.w + 2 * padding, page.h + 2 * padding);
  for (const { triangles: q } of obstacles)
    for (let i = 0; i < q.length; i += 6)
      cells.addTriangle(q[i]!, q[i + 1]!, q[i + 2]!, q[i + 3]!, q[i + 4]!, q[i + 5]!);
  const [box] = cells.boxes(padding, 1, 0);
  return box ? { ...page, u0: box.u0, v0: box.v0, w: box.u1 - box.u0, h: box.v1 - box.v0 } : { ...page, w: 0, h: 0 };
}

/** The room that a group takes at the scale that is wanted, with half of the padding about each shell, units of the shells. */
function needOf(members: readonly number[], { items, padding, resolution, fixed = 1 }: PackJob): number {
  const own = members.map((i) => items[i]!);
  return areaOf(own) * fixed ** 2 + (lengthOf(own) * fixed * padding) / resolution / 2;
}

/** What pages hold at the most: shells with half of the padding about them lie within as much about the page. */
const roomFor = (pages: readonly Page[], { padding, resolution }: PackJob): number =>
  pages.reduce((sum, p) => sum + roomOf(p, padding / p.texels) * (p.texels / resolution) ** 2, 0);

/**
 * The groups that each page gets: each in turn goes to the page that is least full then, the largest first; or page after page
 * is filled to its share, by what shells are worth.
 */
function sharedOut(
  pages: readonly Page[],
  needs: readonly number[],
  members: readonly (readonly number[])[],
  worth: readonly number[] | undefined,
): number[][] {
  const rooms = pages.map((p) => p.w * p.h * p.texels ** 2);
  const worthOf = (g: number) => (worth ? Math.max(...members[g]!.map((i) => worth[i]!)) : 0);
  const order = needs.map((_, g) => g).sort((a, b) => worthOf(b) - worthOf(a) || needs[b]! - needs[a]! || a - b);
  const out: number[][] = pages.map(() => []);
  const filled = pages.map(() => 0);
  const [all, room] = [needs.reduce((a, b) => a + b, 0), rooms.reduce((a, b) => a + b, 0)];
  let page = 0;
  for (const [k, g] of order.entries()) {
    if (worth) {
      const isFull = filled[page]! + needs[g]! / 2 > (all * rooms[page]!) / room;
      // No page is left without a group.
      if (out[page]!.length && page < pages.length - 1 && (isFull || order.length - k < pages.length - page)) page++;
    } else {
      const fullness = pages.map((_, p) => (filled[p]! + needs[g]!) / (rooms[p]! || 1e-12));
      page = fullness.indexOf(Math.min(...fullness));
    }
    out[page]!.push(g);
    filled[page]! += needs[g]!;
  }
  return out;
}

/** Groups on a page of several, and the blocks in which they lie there. */
interface Laid {
  readonly page: number;
  readonly groups: readonly number[];
  readonly blocks: Blocks;
}

/** Packs groups that pages were given: coarsely first, then with all the work that is wanted. */
class GroupPages {
  private kept: Packed | null = null;
  private done = 0;

  /** @param loads by page, the groups it gets */
  constructor(
    private readonly job: PackJob,
    private readonly members: readonly (readonly number[])[],
    private readonly loads: readonly (readonly number[])[],
    private readonly packOne: PackOne,
    private readonly watch: PackWatch,
  ) {}

  async run(): Promise<Packed | null> {
    const { effort, work, fixed } = this.job;
    const used = this.loads.flatMap((groups, page) => (groups.length ? [page] : []));
    // All groups together are to take about as long as a page does.
    const how = { effort: effort / this.members.length, work: work / this.members.length };
    try {
      if (used.length === 1) return await this.onOne(used[0]!, how);
      await this.onAll(used, { effort: 0, work: 0 }, DRAFTED);
      if (this.kept && effort && fixed === undefined) await this.onAll(used, how, 1);
    } catch (error) {
      if (!(error instanceof Stopped) || !this.kept) throw error;
      return { ...this.kept, stopped: true };
    }
    return this.kept;
  }

  private async onOne(page: number, how: How): Promise<Packed | null> {
    const groups = this.loads[page]!;
    const best = (blocks: readonly Block[]) => this.watch.best(...this.placed([{ page, blocks }]));
    const blocks = await this.pack(page, { ...how, fixed: this.job.fixed }, { step: this.watch.step, best });
    return blocks && this.packed([{ page, groups, blocks }], blocks.scale, blocks.stopped);
  }

  /** Packs all pages, and lays them at the scale to which all come. @param to the share of the time that is over then */
  private async onAll(used: readonly number[], how: How, to: number): Promise<void> {
    const from = this.done;
    const laid: Laid[] = [];
    const at = async (page: number, fixed: number | undefined, k: number): Promise<Laid | null> => {
      const step = (share: number) => {
        this.done = Math.max(this.done, from + ((to - from) * (k + share)) / (used.length + 1));
        this.watch.step(this.done);
      };
      const blocks = await this.pack(page, { ...how, fixed }, { step, best: () => {} });
      if (blocks?.stopped) throw new Stopped("Stopped.");
      return blocks && { page, groups: this.loads[page]!, blocks };
    };
    for (const [k, page] of used.entries()) {
      const one = await at(page, this.job.fixed, k);
      if (!one) return;
      laid.push(one);
    }
    const scale = Math.min(...laid.map(({ blocks }) => blocks.scale));
    const found = await atOneScale(laid, scale, this.kept?.scale ?? 0, async (one, wanted) =>
      one.blocks.scale <= wanted * (1 + ROUNDED) ? one : at(one.page, wanted, used.length),
    );
    if (!found) return;
    this.kept = this.packed(found.laid, found.scale, false);
    this.watch.best(this.kept.placements, this.kept.pages);
  }

  private pack(
    page: number,
    how: How & { readonly fixed: number | undefined },
    watch: BlockWatch,
  ): Promise<Blocks | null> {
    const { items, pages } = this.job;
    const groups = this.loads[page]!.map((g) => this.members[g]!);
    return packBlocks(items, groups, { ...inPage(this.job, pages[page]!), ...how }, this.packOne, watch);
  }

  private placed(
    all: ReadonlyArray<{ readonly page: number; readonly blocks: readonly Block[] }>,
  ): [placements: Placement[], pages: number[]] {
    const placements = new Array<Placement>(this.job.items.length);
    const pages = new Array<number>(this.job.items.length);
    for (const { page, blocks } of all)
      for (const { members, found } of blocks)
        for (const [k, i] of members.entries()) {
          placements[i] = found.placements[k]!;
          pages[i] = page;
        }
    return [placements, pages];
  }

  private packed(all: readonly Laid[], scale: number, stopped: boolean): Packed {
    const [placements, pages] = this.placed(all.map(({ page, blocks }) => ({ page, blocks: blocks.blocks })));
    const blocks = new Array<Page>(this.members.length);
    for (const { groups, blocks: own } of all) for (const [k, g] of groups.entries()) blocks[g] = own.blocks[k]!.page;
    return { placements, pages, blocks, scale, stopped };
  }
}
