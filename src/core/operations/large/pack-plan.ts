import type { Asset, UvSetId } from "../../layout/asset";
import { EFFORTS } from "../../layout/pack-wishes";
import { LAST_TILE, tileAt } from "../../layout/tile-list";
import { UserError } from "../../layout/user-error";
import type { PackJob } from "../../pack/job";
import { type Page, STAYS } from "../../pack/page";
import { boundsOf, type Item } from "../../pack/raster";
import { count } from "../words";
import { type Groups, groupsOf, ratiosOf } from "./pack-groups";
import type { PackOptions } from "./pack-options";
import { pagesOf } from "./pack-pages";
import { type Gathered, gathered, type PackWork } from "./pack-work";

/** What a packing is made of. */
export interface PackPlan extends Gathered {
  readonly job: PackJob;
  readonly groups: Groups | null;
  /** Searches side by side: blocks lie side by side on the workers themselves. */
  readonly seeds: number;
  /** By page, the texels of the tile or plot that it is, with the margin. */
  readonly room: readonly number[];
}

/** @throws UserError where nothing can be packed, or there is nothing to pack into */
export function packPlan(asset: Asset, work: readonly PackWork[], options: PackOptions, set: UvSetId): PackPlan {
  const near = options.places === "near where they lie";
  // Where shells stay near where they lie they keep their sizes, and places are told in tiles.
  const { resolution = asset.tiles.resolution } = options;
  const meant = near ? { ...options, sizes: "keep" as const, resolution } : options;
  const found = gathered(asset, work, meant, set);
  const { pages, room } = pagesOf(
    asset,
    near ? { ...options, tiles: tilesOf(found.items, options.tiles) } : options,
    set,
  );
  const groups = groupsOf(asset, work, found.owners, found.items, options.groups, set);
  if (groups && options.apart === "tiles" && groups.names.length > pages.length)
    throw new UserError(tooFew(groups.names.length, pages.length, options));
  const { sizes = "level and fill", scale = 1, search = "quick" } = meant;
  const begins = options.begin === "as they lie";
  const job: PackJob = {
    items: found.items,
    pages,
    resolution: options.resolution ?? asset.tiles.resolution,
    padding: options.padding,
    turns: options.turns,
    step: options.step,
    mirrored: options.mirrored,
    effort: EFFORTS[search].effort,
    work: EFFORTS[search].work,
    fixed: sizes === "keep" || sizes === "level" ? scale : undefined,
    obstacles: inReach(found.obstacles, pages),
    groups: groups?.of,
    apart: options.apart === "tiles" ? "pages" : "blocks",
    ...(options.first === "the most important" ? { worth: ratiosOf(asset, work, found.owners, set) } : {}),
    ...(begins ? { start: found.items.map(() => STAYS) } : {}),
  };
  return { ...found, job, groups, room, seeds: groups && job.apart === "blocks" ? 1 : EFFORTS[search].seeds };
}

/** What stays near one of the pages. */
function inReach(obstacles: readonly Item[], pages: readonly Page[]): Item[] {
  const far = 1;
  const [u0, v0] = [Math.min(...pages.map((p) => p.u0)) - far, Math.min(...pages.map((p) => p.v0)) - far];
  const [u1, v1] = [Math.max(...pages.map((p) => p.u0 + p.w)) + far, Math.max(...pages.map((p) => p.v0 + p.h)) + far];
  return obstacles.filter(({ triangles: q }) => {
    for (let i = 0; i < q.length; i += 2)
      if (q[i]! >= u0 && q[i]! <= u1 && q[i + 1]! >= v0 && q[i + 1]! <= v1) return true;
    return spans(q, u0, v0, u1, v1);
  });
}

/** Whether the box about points reaches over another. */
function spans(q: Float64Array, u0: number, v0: number, u1: number, v1: number): boolean {
  let [a0, b0, a1, b1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < q.length; i += 2) {
    a0 = Math.min(a0, q[i]!);
    a1 = Math.max(a1, q[i]!);
    b0 = Math.min(b0, q[i + 1]!);
    b1 = Math.max(b1, q[i + 1]!);
  }
  return a0 <= u1 && a1 >= u0 && b0 <= v1 && b1 >= v0;
}

/** The tiles that items lie in, as a list of tiles is written; those that are asked for where they lie in none. */
function tilesOf(items: readonly Item[], asked: string | undefined): string {
  const tiles = items.map((item) => {
    const { u0, v0, u1, v1 } = boundsOf(item);
    return tileAt((u0 + u1) / 2, (v0 + v1) / 2);
  });
  const known = [...new Set(tiles.filter((tile) => tile !== null && tile <= LAST_TILE))];
  return known.sort((a, b) => a! - b!).join(" ") || (asked ?? "1001");
}

function tooFew(groups: number, pages: number, { into }: PackOptions): string {
  const [there, cure] =
    into === "plots"
      ? [count(pages, "plot"), "draw as many plots"]
      : [count(pages, "tile"), `name as many tiles, as 1001-${1000 + groups}`];
  return `There are ${groups} groups and ${there}: ${cure}.`;
}
