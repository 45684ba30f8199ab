import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { Packed } from "../../pack/job";
import { largestScale } from "../../pack/largest-scale";
import { moveLeast, placeNear } from "../../pack/near";
import { areaOf, extentOf, type Page, type Placement, STAYS } from "../../pack/page";
import { boundsOf } from "../../pack/raster";
import type { SheetBox } from "../../place/box";
import { asOnModel, type Stand } from "../../place/rows";
import { standOf } from "../place/stand-of";
import { count } from "../words";
import type { PackOptions } from "./pack-options";
import type { PackPlan } from "./pack-plan";
import type { Owner, PackWork } from "./pack-work";

/** Packs shells where they mean something: near where they lie, or as they stand on the model. Null where there is no room. */
export function packedNear(
  asset: Asset,
  work: readonly PackWork[],
  plan: PackPlan,
  options: PackOptions,
  onStep: (share: number) => void,
): Packed | null {
  if (plan.groups) throw new UserError("Groups and places cannot both be kept: choose one of them.");
  return options.places === "near where they lie" ? leastMoved(plan, onStep) : laidAsOnModel(asset, work, plan, onStep);
}

/** Each page of its own: shells that lie in none go to the first. */
function leastMoved({ job, items }: PackPlan, onStep: (share: number) => void): Packed | null {
  const on = items.map((item) => {
    const { u0, v0, u1, v1 } = boundsOf(item);
    const [u, v] = [(u0 + u1) / 2, (v0 + v1) / 2];
    const found = job.pages.findIndex((p) => u >= p.u0 && u <= p.u0 + p.w && v >= p.v0 && v <= p.v0 + p.h);
    return Math.max(0, found);
  });
  const placements: Placement[] = items.map(() => STAYS);
  let done = 0;
  for (const [number, page] of job.pages.entries()) {
    const own = on.flatMap((p, i) => (p === number ? [i] : []));
    if (!own.length) continue;
    const options = { ...job, page, padding: job.padding / page.texels };
    const moved = moveLeast(
      own.map((i) => items[i]!),
      options,
      () => onStep(Math.min(0.99, ++done / (2 * items.length))),
    );
    if (!moved) return null;
    own.forEach((i, k) => {
      placements[i] = moved[k]!;
    });
  }
  const moved = placements.filter((p) => p !== STAYS).length;
  const told = moved ? `, ${count(moved, "of them")} moved` : ", none had to move";
  return { placements, scale: 1, pages: on, stopped: false, told };
}

/** Scales looked at for the largest at which shells find room near where they are to lie. */
const BISECTED = 10;
const FIRST_FILL = 0.45;

function laidAsOnModel(
  asset: Asset,
  work: readonly PackWork[],
  { job, items, owners }: PackPlan,
  onStep: (share: number) => void,
): Packed | null {
  const [page] = job.pages;
  if (job.pages.length > 1) throw new UserError("Places as on the model are laid in one tile or plot: choose one.");
  const unit = job.resolution / page!.texels;
  const stands = standsOf(asset, work, owners, items.length);
  const boxes = items.map(boundsOf);
  let done = 0;
  const total = items.length * (job.fixed === undefined ? BISECTED : 1);
  const at = (scale: number): Placement[] | null => {
    const wanted = middlesWanted(boxes, stands, page!, scale * unit, job.padding / page!.texels);
    const options = { ...job, page: page!, unit, scale, padding: job.padding / page!.texels };
    return placeNear(items, wanted, options, undefined, () => onStep(Math.min(1, ++done / total)));
  };
  const put = ({ scale, found }: { scale: number; found: Placement[] }): Packed => ({
    placements: found,
    scale,
    pages: items.map(() => 0),
    stopped: false,
  });
  if (job.fixed !== undefined) {
    const found = at(job.fixed);
    return found && put({ scale: job.fixed, found });
  }
  const most = Math.max(page!.w, page!.h) / (Math.max(...items.map(extentOf)) * unit || 1);
  const first = Math.sqrt((FIRST_FILL * page!.w * page!.h) / (areaOf(items) || 1e-12)) / unit;
  const largest = largestScale(at, first, most, BISECTED);
  return largest && put(largest);
}

/** Where the middles of boxes come to lie in rows as on the model, drawn together where the rows are higher than the page. */
function middlesWanted(
  boxes: readonly SheetBox[],
  stands: readonly Stand[],
  page: Page,
  scale: number,
  gap: number,
): Array<readonly [number, number]> {
  const sized = boxes.map((b) => ({ u0: 0, v0: 0, u1: (b.u1 - b.u0) * scale, v1: (b.v1 - b.v0) * scale }));
  const top = page.v0 + page.h;
  const from = { u0: page.u0, v0: page.v0, u1: page.u0 + page.w, v1: top };
  const shifts = asOnModel(sized, stands, from, page.w, gap);
  const lowest = Math.min(...shifts.map(([, dv]) => dv));
  const drawn = Math.min(1, page.h / Math.max(1e-9, top - lowest));
  return sized.map(({ u1, v1 }, i) => {
    const [du, dv] = shifts[i]!;
    return [du + u1 / 2, top - (top - dv - v1 / 2) * drawn];
  });
}

/** Where items stand on the model. */
function standsOf(asset: Asset, work: readonly PackWork[], owners: readonly Owner[], items: number): Stand[] {
  const out: Stand[] = new Array(items);
  for (const { work: i, wedges, item } of owners) out[item] ??= standOf(asset, work[i]!.shape, work[i]!.layout, wedges);
  return out;
}
