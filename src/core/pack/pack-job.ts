import { UserError } from "../layout/user-error";
import { type Block, type PackOne, packBlocks } from "./blocks";
import { inPage, type Packed, type PackJob, type PackWatch } from "./job";
import { type Placement, ROOM_EACH, roomOf } from "./page";
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
