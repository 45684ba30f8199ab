import { type Asset, type LayoutChange, type UvSetId, withLayouts } from "../../layout/asset";
import { MOST_PLOTS, type Plot } from "../../layout/plots";
import { UserError } from "../../layout/user-error";
import type { Packed } from "../../pack/job";
import { packJob } from "../../pack/pack-job";
import { areaOf, type Page, type Placement, scaleOf } from "../../pack/page";
import { packSideBySide } from "../../tasks/pack-side-by-side";
import type { Context, EditContext, EditResult, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { count } from "../words";
import type { Groups } from "./pack-groups";
import { noRoom } from "./pack-no-room";
import type { PackOptions } from "./pack-options";
import { type PackPlan, packPlan } from "./pack-plan";
import { type PackWork, placedLayouts } from "./pack-work";
import { packedNear } from "./packed-near";

/** Lays shells into tiles or plots without overlap. */
export async function run(asset: Asset, scope: Scope, options: PackOptions, context: EditContext): Promise<EditResult> {
  const work = shellsInScope(asset, scope);
  const packed = await packLayouts(asset, work, options, scope.set, context);
  const { plots, words, stopped } = packed;
  const edited = withLayouts(asset, packed.changes);
  const blocks = plots ?? (options.into === "plots" ? null : []);
  return {
    asset: blocks ? { ...edited, plots: withBlocks(asset.plots, blocks, scope.set) } : edited,
    words: `Pack ${count(packed.shells, "shell")}${words}${stopped ? ", stopped early" : ""}`,
    notes: [],
    ...(stopped ? { stopped } : {}),
  };
}

/** What packing came to. */
export interface PackedLayouts {
  readonly changes: LayoutChange[];
  readonly shells: number;
  /** Blocks that groups were given, to be kept as plots. */
  readonly plots?: readonly Plot[];
  /** What is worth telling of it. */
  readonly words: string;
  readonly stopped?: true;
}

/** Packs mapped shells, levelled where that is asked, and tells on the way what it has come to. @throws UserError where there is no room */
export async function packLayouts(
  asset: Asset,
  work: readonly PackWork[],
  options: PackOptions,
  set: UvSetId,
  context: Context,
): Promise<PackedLayouts> {
  const plan = packPlan(asset, work, options, set);
  const { job, owners, items } = plan;
  if (job.start) checkBeginning(plan);
  const areas = items.map((item) => areaOf([item]));
  let reached: number | undefined;
  const watch = {
    step: (share: number) => context.progress(share, reached),
    best(placements: readonly (Placement | null)[], pages?: readonly number[]) {
      const used = new Set<number>();
      let covered = 0;
      placements.forEach((p, i) => {
        if (!p) return;
        const page = pages?.[i] ?? 0;
        used.add(page);
        covered += areas[i]! * (scaleOf(p) * job.pages[page]!.texels) ** 2;
      });
      // Of the tiles that are in use, as everywhere.
      reached = covered / [...used].reduce((sum, page) => sum + plan.room[page]!, 0);
      context.show?.(placedLayouts(work, owners, placements, set));
    },
  };
  watch.step(0);
  const all = () => packJob(job, packSideBySide(context, plan.seeds), watch);
  const packed = await (options.places === undefined || options.places === "anywhere"
    ? all()
    : (packedNear(asset, work, plan, options, watch.step) ?? (options.places === NEAR ? all() : null)));
  if (!packed) throw await noRoom(asset, work, options, set, context);
  const changes = placedLayouts(work, owners, packed.placements, set);
  return {
    changes,
    shells: owners.length,
    words: wordsOf(packed, plan),
    ...(packed.blocks && plan.groups ? { plots: plotsFrom(packed.blocks, plan.groups, set) } : {}),
    ...(packed.stopped ? { stopped: true } : {}),
  };
}

/** @throws UserError where it cannot be gone on from where shells lie */
function checkBeginning({ job, owners }: PackPlan): void {
  if (job.pages.length > 1 || job.groups || job.fixed !== undefined)
    throw new UserError("It can be gone on with one whole tile that was filled without groups; begin anew here.");
  if (owners.some(({ factor }) => Math.abs(factor - 1) > ALIKE)) throw new UserError(NOT_LEVEL);
}

const NEAR = "near where they lie";
/** Factors as near to 1 as this change no size. */
const ALIKE = 1e-6;
const NOT_LEVEL =
  "These shells are not level yet: begin anew, or choose that their sizes are scaled together as they are.";

function wordsOf(packed: Packed, { job, groups }: PackPlan): string {
  if (packed.told) return packed.told;
  const used = new Set(packed.pages).size;
  const where = job.pages.length > 1 ? ` into ${used} of ${job.pages.length}` : "";
  if (packed.blocks) return ` in ${count(packed.blocks.length, "block")}${where}`;
  return groups ? ` in ${count(groups.names.length, "group")}${where}` : where;
}

/** Blocks as plots with the names of their groups, with the room that each has up to its neighbours and the border. */
function plotsFrom(blocks: readonly Page[], { names }: Groups, set: UvSetId): Plot[] {
  return blocks.map(({ u0, v0, w, h }, g) => ({
    name: (names[g] ?? `group ${g + 1}`).slice(0, 100),
    set,
    u0,
    v0,
    u1: u0 + w,
    v1: v0 + h,
    block: true,
  }));
}

/** The plots of an asset, with other blocks in a set; those that were drawn stay. */
function withBlocks(plots: readonly Plot[], blocks: readonly Plot[], set: UvSetId): readonly Plot[] {
  const drawn = plots.filter((p) => p.set !== set || !p.block);
  return drawn.length === plots.length && !blocks.length ? plots : [...drawn, ...blocks].slice(0, MOST_PLOTS);
}
