import type { Asset, UvSetId } from "../../layout/asset";
import { plotsOf } from "../../layout/plots";
import { cornerOfTile, readTiles, withMore } from "../../layout/tile-list";
import { resolutionAt } from "../../layout/tiles";
import { UserError } from "../../layout/user-error";
import type { Page } from "../../pack/page";
import type { PackOptions } from "./pack-options";

/** What shells are packed into, and by page the texels of the whole tile or plot. */
export interface PackPages {
  readonly pages: readonly Page[];
  readonly room: readonly number[];
}

type Corners = readonly [u0: number, v0: number, u1: number, v1: number];

/** The tiles or plots that are packed into, without the margin. @throws UserError where there are none */
export function pagesOf(asset: Asset, options: PackOptions, set: UvSetId): PackPages {
  const { margin = options.padding } = options;
  const whole = options.into === "plots" ? plotCorners(asset, set) : tileCorners(options);
  const pages = whole.map(([u0, v0, u1, v1]): Page => {
    const texels = options.resolution ?? resolutionAt(asset.tiles, (u0 + u1) / 2, (v0 + v1) / 2);
    const free = margin / texels;
    return { u0: u0 + free, v0: v0 + free, w: u1 - u0 - 2 * free, h: v1 - v0 - 2 * free, texels };
  });
  return { pages, room: whole.map(([u0, v0, u1, v1], i) => (u1 - u0) * (v1 - v0) * pages[i]!.texels ** 2) };
}

function plotCorners(asset: Asset, set: UvSetId): Corners[] {
  const plots = plotsOf(asset, set);
  if (!plots.length) throw new UserError("No plot is drawn in this UV set: draw one in Sheet, or pack into tiles.");
  return plots.map((p) => [p.u0, p.v0, p.u1, p.v1]);
}

function tileCorners({ tiles = "1001", sizes = "level and fill" }: PackOptions): Corners[] {
  const list = readTiles(tiles);
  if (list.more && (sizes === "level and fill" || sizes === "fill"))
    throw new UserError(
      `With as many tiles as are needed (${list.tiles.at(-1)}+) nothing tells how large shells are to be: keep sizes, or level them.`,
    );
  return withMore(list).map((tile) => {
    const [u, v] = cornerOfTile(tile);
    return [u, v, u + 1, v + 1];
  });
}
