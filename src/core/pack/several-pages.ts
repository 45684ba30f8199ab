import { EFFORTS } from "../layout/pack-wishes";
import { Stopped } from "../layout/stopped";
import type { PackOne } from "./blocks";
import { type FillOptions, fillPages } from "./fill-pages";
import type { Packed, PackJob, PackWatch } from "./job";
import { largestScale } from "./largest-scale";
import { ROUNDED } from "./one-scale";
import { areaOf, extentOf } from "./page";
import { FILLED, PagesPacker } from "./pages-packer";
import { waysOf } from "./ways";

/** Scales looked at for the largest at which several pages hold all. */
const BISECTED = 14;
/** The share of the pages that shells are taken to fill, before anything was tried. */
const FIRST_FILL = 0.6;
/** An effort up to this fills one page after another, and no more. */
const QUICK = EFFORTS.quick.effort;
/** What fills pages at less than this of the scale that is wanted is not packed on them: that brings no more. */
const WITHIN_REACH = 0.85;

/**
 * Packs shells into several pages, all at one scale: the one that is wanted, in as few pages as hold them, or the largest.
 * Page after page is filled first; then each is packed by itself, and shells go from the page that comes to the least to the
 * one with most room.
 *
 * @returns null where the pages do not hold them @throws Stopped when nothing was reached yet
 */
export async function packPages(job: PackJob, packOne: PackOne, watch: PackWatch): Promise<Packed | null> {
  const { fixed, effort, work } = job;
  const ends = effort <= QUICK || !work;
  const filled = fillAll(job, { ...watch, step: (share) => watch.step(ends ? share : FILLED * share) });
  if (!filled || filled.stopped || ends) return filled;
  if (fixed === undefined) return new PagesPacker(job, packOne, watch, filled).run();
  return inFewer(job, packOne, watch, filled);
}

/** The same shells on one page less, where they can be packed so that it holds them at the scale that is wanted. */
async function inFewer(job: PackJob, packOne: PackOne, watch: PackWatch, filled: Packed): Promise<Packed> {
  const used = Math.max(...filled.pages) + 1;
  if (job.groups || used < 2) return filled;
  const quiet = { step: watch.step, best: () => {} };
  const fewer = { ...job, pages: job.pages.slice(0, used - 1) };
  try {
    const begun = fillAll({ ...fewer, fixed: undefined }, { ...quiet, step: () => watch.step(FILLED) });
    if (!begun || begun.scale < WITHIN_REACH * job.fixed!) return filled;
    const found = await new PagesPacker(fewer, packOne, quiet, begun).run();
    return found.scale < job.fixed! * (1 - ROUNDED) ? { ...filled, stopped: found.stopped } : found;
  } catch (error) {
    if (!(error instanceof Stopped)) throw error;
    return { ...filled, stopped: true };
  }
}

/** Lays shells on page after page: at the scale that is wanted, or the largest at which the pages hold all. */
function fillAll(job: PackJob, watch: PackWatch): Packed | null {
  const { items, pages, fixed, resolution } = job;
  const ways = items.map((item) => waysOf(item, job));
  const units = pages.map((p) => resolution / p.texels);
  const groups = job.apart === "pages" ? job.groups : undefined;
  let tries = 0;
  const at = (scale: number): Packed | null => {
    const from = tries++ / (fixed === undefined ? BISECTED : 1);
    const { padding, obstacles, worth } = job;
    const options: FillOptions = { ways, units, padding, scale, obstacles, groups, worth };
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
