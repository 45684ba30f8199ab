import { packGroups } from "./block-pages";
import type { PackOne } from "./blocks";
import { inPage, type Packed, type PackJob, type PackWatch } from "./job";
import { ROOM_EACH, roomOf } from "./page";
import { packPages } from "./several-pages";

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
  return packPages(job, packOne, watch);
}
