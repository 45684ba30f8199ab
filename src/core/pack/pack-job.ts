import type { Turns } from "../layout/pack-wishes";
import { Stopped } from "../layout/stopped";
import { UserError } from "../layout/user-error";
import { type Block, type PackOne, packBlocks } from "./blocks";
import { fillPages } from "./fill-pages";
import { largestScale } from "./largest-scale";
import type { PagePacking } from "./pack-page";
import { areaOf, extentOf, type Page, type Placement, ROOM_EACH, roomOf } from "./page";
import type { Item } from "./raster";
import { waysOf } from "./ways";

export type { PackOne } from "./blocks";

/** Shells that are to be packed, and where. */
export interface PackJob {
  readonly items: readonly Item[];
  readonly pages: readonly Page[];
  /** Texels that a unit of the shells is, at a scale of 1. */
  readonly resolution: number;
  /** Least distance of two shells, texels. */
  readonly padding: number;
  readonly turns: Turns;
  readonly step?: number | undefined;
  readonly mirrored?: boolean | undefined;
  readonly effort: number;
  readonly work: number;
  /** The only scale that is wanted; as large as they fit where none is given. */
  readonly fixed?: number | undefined;
  readonly obstacles?: readonly Item[] | undefined;
  /** By shell, the number of its group, from 0 on. */
  readonly groups?: readonly number[] | undefined;
  /** Groups get rectangles of one page, or pages of their own. */
  readonly apart?: "blocks" | "pages" | undefined;
  /** Where they lie, to go on from. */
  readonly start?: readonly Placement[] | undefined;
}

export interface Packed {
  readonly placements: readonly Placement[];
  readonly scale: number;
  /** By shell, its page. */
  readonly pages: readonly number[];
  /** By group, its rectangle. */
  readonly blocks?: readonly Page[];
  readonly stopped: boolean;
  /** What is worth telling of it. */
  readonly told?: string;
}

export interface PackWatch {
  /** Told the share done. @throws Stopped */
  step(share: number): void;
  /** Told of what was reached: those that lie nowhere yet are null. */
  best(placements: readonly (Placement | null)[], pages?: readonly number[]): void;
}

/** Scales looked at for the largest at which several pages hold all. */
const BISECTED = 14;
const FIRST_FILL = 0.6;

/**
 * Packs shells into pages.
 *
 * @param packOne packs one page @returns null where they do not fit @throws Stopped when nothing was reached yet
 */
export async function packJob(job: PackJob, packOne: PackOne, watch: PackWatch): Promise<Packed | null> {
  const { items, pages, padding, groups, apart } = job;
  const room = pages.reduce((sum, p) => sum + roomOf(p, padding / p.texels) * p.texels ** 2, 0);
  if (items.length * ROOM_EACH * padding * padding > room) return null;
  if (groups && apart === "blocks") return packGroups(job, packOne, watch);
  if (pages.length === 1) {
    const [page] = pages;
    const found = await packOne(items, { ...inPage(job, page!), start: job.start }, watch);
    return found && { ...found, pages: items.map(() => 0) };
  }
  return packPages(job, watch);
}

/** What a worker is told of a job, but for the shells. */
const inPage = (job: PackJob, page: Page): PagePacking => ({
  page,
  unit: job.resolution / page.texels,
  padding: job.padding / page.texels,
  turns: job.turns,
  step: job.step,
  mirrored: job.mirrored,
  effort: job.effort,
  work: job.work,
  seed: 0,
  fixed: job.fixed,
  obstacles: job.obstacles,
});

async function packGroups(job: PackJob, packOne: PackOne, watch: PackWatch): Promise<Packed | null> {
  const { items, pages, groups } = job;
  if (pages.length !== 1 || job.obstacles?.length)
    throw new UserError(
      "Blocks need one whole tile or plot in which nothing stays; choose that, or a tile for each group.",
    );
  const members: number[][] = [];
  for (const [i, g] of groups!.entries()) {
    members[g] ??= [];
    members[g].push(i);
  }
  const packing = inPage(job, pages[0]!);
  // All groups together are to take about as long as a page does.
  const how = { ...packing, effort: job.effort / Math.sqrt(members.length), work: job.work / members.length };
  const best = (blocks: readonly Block[]) => watch.best(placementsIn(blocks, items.length));
  const packed = await packBlocks(items, members, how, packOne, { step: (share) => watch.step(share), best });
  if (!packed) return null;
  const placements = placementsIn(packed.blocks, items.length);
  return {
    placements,
    scale: packed.scale,
    pages: items.map(() => 0),
    blocks: packed.blocks.map((b) => b.page),
    stopped: packed.stopped,
  };
}

function placementsIn(blocks: readonly Block[], shells: number): Placement[] {
  const out = new Array<Placement>(shells);
  for (const { members, found } of blocks) for (const [k, i] of members.entries()) out[i] = found.placements[k]!;
  return out;
}

/** Lays shells on page after page: at the scale that is wanted, or the largest at which the pages hold all. */
function packPages(job: PackJob, watch: PackWatch): Packed | null {
  const { items, pages, fixed, resolution } = job;
  const ways = items.map((item) => waysOf(item, job));
  const units = pages.map((p) => resolution / p.texels);
  const groups = job.apart === "pages" ? job.groups : undefined;
  let tries = 0;
  const at = (scale: number): Packed | null => {
    const from = tries++ / (fixed === undefined ? BISECTED : 1);
    const options = { ways, units, padding: job.padding, scale, obstacles: job.obstacles, groups };
    const part = (fixed === undefined ? 1 / BISECTED : 1) / items.length;
    const filled = fillPages(items, pages, options, (laid) => watch.step(Math.min(1, from + part * laid)));
    if (!filled) return null;
    watch.best(filled.placements, filled.pages);
    return { ...filled, scale, stopped: false };
  };
  if (fixed !== undefined) return at(fixed);
  const room = pages.reduce((sum, p) => sum + p.w * p.h * p.texels ** 2, 0);
  const longest = Math.max(...items.map(extentOf)) * resolution;
  const most = Math.max(...pages.map((p) => Math.max(p.w, p.h) * p.texels)) / (longest || 1);
  const first = Math.sqrt((FIRST_FILL * room) / (areaOf(items) || 1e-12)) / resolution;
  let best: Packed | null = null;
  const kept = (scale: number) => {
    const found = at(scale);
    if (found) best = found;
    return found;
  };
  try {
    return largestScale(kept, first, most, BISECTED)?.found ?? null;
  } catch (error) {
    if (!(error instanceof Stopped) || !best) throw error;
    return { ...(best as Packed), stopped: true };
  }
}
