import { tileAt } from "./tile-list";

/** How many texels the tiles of an asset have. */
export interface Tiles {
  /** Texels per tile side, where a tile has none of its own. */
  readonly resolution: number;
  /** Texels per side of single tiles, by their numbers: 1001 is the first, 1002 the one to its right, 1011 above it. */
  readonly own: Readonly<Record<string, number>>;
}

export const DEFAULT_TILES: Tiles = { resolution: 2048, own: {} };

/** Resolution of the finest tile by that of the coarsest. */
export function unevenness({ resolution, own }: Tiles): number {
  const all = [resolution, ...Object.values(own)];
  return Math.max(...all) / Math.min(...all);
}

/** Texels per side of the tile that a point lies in. */
export function resolutionAt({ resolution, own }: Tiles, u: number, v: number): number {
  const tile = tileAt(u, v);
  return tile === null ? resolution : (own[tile] ?? resolution);
}
