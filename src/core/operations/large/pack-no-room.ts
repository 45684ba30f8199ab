import type { Asset, UvSetId } from "../../layout/asset";
import { type Offer, UserError } from "../../layout/user-error";
import type { PackJob } from "../../pack/job";
import { packJob } from "../../pack/pack-job";
import { packSideBySide } from "../../tasks/pack-side-by-side";
import type { Context } from "../operation";
import type { PackOptions } from "./pack-options";
import { packPlan } from "./pack-plan";
import type { PackWork } from "./pack-work";

/** Tries for a scale, each smaller by this. */
const [TRIES, SMALLER] = [40, 0.99];
/** Resolutions that are offered. */
const RESOLUTIONS = [512, 1024, 2048, 4096, 8192, 16384];
const QUICK = { effort: 0.3, work: 0 };

/** What to say where shells do not fit, with what would: a scale, a padding or a resolution, each of them tried. */
export async function noRoom(
  asset: Asset,
  work: readonly PackWork[],
  options: PackOptions,
  set: UvSetId,
  context: Context,
): Promise<UserError> {
  const { job, seeds } = packPlan(asset, work, options, set);
  const watch = { step: () => context.progress(1), best: () => {} };
  const fits = async (tried: PackJob, searches: number): Promise<number> =>
    (await packJob(tried, packSideBySide(context, searches), watch))?.scale ?? 0;
  const planned = (changed: Partial<PackOptions>): PackJob =>
    packPlan(asset, work, { ...options, places: "anywhere", ...changed }, set).job;
  const scaled = (fixed: number | undefined, quick: boolean) =>
    quick ? fits({ ...planned({}), ...QUICK, fixed }, 1) : fits({ ...planned({}), fixed }, seeds);
  const quickly = (changed: Partial<PackOptions>) => fits({ ...planned(changed), ...QUICK }, 1);
  // Beside each other, where there are workers.
  const [scale, padding, resolution] = await Promise.all([
    job.fixed === undefined ? null : scaleThatFits(job.fixed, scaled),
    paddingThatFits(options.padding, (p) => quickly({ padding: p })),
    options.padding ? resolutionThatFits(job.resolution, (larger) => quickly({ resolution: larger })) : null,
  ]);
  const offers: Offer[] = [];
  if (scale) offers.push({ title: `Scale by ${scale}`, options: { scale } });
  if (padding !== null) offers.push({ title: `Padding ${padding} px`, options: { padding } });
  if (resolution !== null) offers.push({ title: `${resolution} px`, options: { resolution } });
  return new UserError(sentence(job, options, scale, offers), offers);
}

/** The largest scale, to three places, that was tried and fits; null for none. */
async function scaleThatFits(
  fixed: number,
  at: (scale: number | undefined, quick: boolean) => Promise<number>,
): Promise<number | null> {
  const free = await at(undefined, true);
  if (!free) return null;
  // What is told to fit is tried as it will be when the shells come back at that size.
  let offered = Math.floor(1000 * Math.min(0.999 * fixed, free)) / 1000;
  for (let k = 0; k < TRIES && offered > 0; k++) {
    if (await at(offered, false)) return offered;
    offered = Math.floor(1000 * SMALLER * offered) / 1000;
  }
  return null;
}

/** The largest whole padding below one that does not fit; null where not even none fits. */
async function paddingThatFits(padding: number, at: (padding: number) => Promise<number>): Promise<number | null> {
  if (padding <= 0 || !(await at(0))) return null;
  let [low, high] = [0, Math.ceil(padding)];
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (await at(middle)) low = middle;
    else high = middle;
  }
  return low;
}

/** The least of the resolutions above one that is enough; null where none is. */
async function resolutionThatFits(least: number, at: (resolution: number) => Promise<number>): Promise<number | null> {
  for (const resolution of RESOLUTIONS) if (resolution > least && (await at(resolution))) return resolution;
  return null;
}

function sentence(job: PackJob, options: PackOptions, scale: number | null, offers: readonly Offer[]): string {
  const where = options.into === "plots" ? "these plots" : job.pages.length > 1 ? "these tiles" : "one tile";
  const beside = job.obstacles?.length ? " beside those that stay" : "";
  const { padding, resolution } = Object.assign({}, ...offers.map((o) => o.options)) as Record<
    string,
    number | undefined
  >;
  const ways = [
    ...(padding !== undefined ? [`with a padding of ${padding} px`] : []),
    ...(resolution !== undefined ? [`in tiles of ${resolution} px`] : []),
  ].join(" or ");
  if (scale)
    return `At their sizes the shells do not fit ${where}${beside}; scaled by ${scale} they would${ways && `, or ${ways}`}.`;
  const told = `${job.items.length} shells with ${options.padding} px between them do not fit ${where} of ${job.resolution} px${beside}`;
  return ways ? `${told}; ${ways} they would.` : `${told}: make room, or give them more tiles.`;
}
