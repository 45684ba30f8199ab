import { z } from "zod";
import { UserError } from "../../layout/user-error";
import { type EditOperation, resolutionOption } from "../operation";

const options = z.object({
  resolution: resolutionOption,
  tile: z.number().int().min(0).max(9999).default(0).meta({
    title: "Tile",
    description:
      "The number of the one tile that is meant, 1001 being the first; 0 for all that have none of their own",
  }),
});

/** Says how many texels tiles have: gaps and densities are measured in them. Nothing moves. */
export const setResolution: EditOperation<z.infer<typeof options>> = {
  id: "set-resolution",
  title: "Set the resolution",
  about:
    "Sets the texels per side of all tiles (tile 0), or of one; gaps and densities are measured in texels. Nothing moves.",
  kind: "edit",
  stage: "brief",
  heading: "Report",
  acts: "asset",
  locked: "may",
  options,
  run(asset, _, { resolution = asset.tiles.resolution, tile }) {
    const { tiles } = asset;
    if (tile > 0 && tile < 1001) throw new UserError(`There is no tile ${tile}: the first is 1001.`);
    const was = tile ? (tiles.own[tile] ?? tiles.resolution) : tiles.resolution;
    const name = tile ? `tile ${tile}` : "the tiles";
    if (was === resolution)
      throw new UserError(`${tile ? `Tile ${tile} has` : "The tiles have"} ${resolution} px already.`);
    const { [tile]: _old, ...others } = tiles.own;
    // A tile that has what all have is none of its own.
    const own = tile && resolution !== tiles.resolution ? { ...others, [tile]: resolution } : others;
    const next = tile ? { ...tiles, own } : { resolution, own: tiles.own };
    return { asset: { ...asset, tiles: next }, words: `Resolution of ${name}: ${resolution} px`, notes: [] };
  },
};
