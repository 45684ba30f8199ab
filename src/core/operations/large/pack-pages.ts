import type { Asset, UvSetId } from "../../layout/asset";
import { plotsOf } from "../../layout/plots";
import { cornerOfTile, readTiles, withMore } from "../../layout/tile-list";
import { resolutionAt } from "../../layout/tiles";
import { UserError } from "../../layout/user-error";
import type { Page } from "../../pack/page";
import type { PackOptions } from "./pack-options";

/** What shells are packed into, and what each is called. */
export interface PackPages {
  readonly pages: readonly Page[];
  readonly names: readonly string[];
}

/** The tiles or plots that are packed into, without the margin. @throws UserError where there are none */
export function pagesOf(asset: Asset, options: PackOptions, set: UvSetId): PackPages {
  const { margin = options.padding } = options;
  const within = (u0: number, v0: number, u1: number, v1: number): Page => {
    const texels = options.resolution ?? resolutionAt(asset.tiles, (u0 + u1) / 2, (v0 + v1) / 2);
    const free = margin / texels;
    return { u0: u0 + free, v0: v0 + free, w: u1 - u0 - 2 * free, h: v1 - v0 - 2 * free, texels };
  };
  if (options.into === "plots") {
    const plots = plotsOf(asset, set);
    if (!plots.length) throw new UserError("No plot is drawn in this UV set: draw one in Sheet, or pack into tiles.");
    return { pages: plots.map((p) => within(p.u0, p.v0, p.u1, p.v1)), names: plots.map((p) => p.name) };
  }
  const list = readTiles(options.tiles ?? "1001");
  const fills = options.sizes === undefined || options.sizes === "level and fill" || options.sizes === "fill";
  if (list.more && fills)
    throw new UserError(
      `With as many tiles as are needed (${list.tiles.at(-1)}+) nothing tells how large shells are to be: keep sizes, or level them.`,
    );
  const tiles = withMore(list);
  return {
    pages: tiles.map((tile) => {
      const [u, v] = cornerOfTile(tile);
      return within(u, v, u + 1, v + 1);
    }),
    names: tiles.map(String),
  };
}
