import { Stopped } from "../layout/stopped";
import { UserError } from "../layout/user-error";
import type { FramePlace } from "./bit-grid";
import { searchOrder } from "./order-search";
import { boundsOf, type Item } from "./raster";

export interface PackOptions {
  /** Texels per tile side. */
  readonly resolution: number;
  /** Least distance of two shells, in texels. */
  readonly padding: number;
  /** Least distance of a shell from the tile's border, in texels. */
  readonly margin: number;
  readonly turns: "none" | "quarter";
  /** How many times as long as a quick search better places are looked for; 1 when not given. */
  readonly effort?: number;
  /** Sizes stay; a set that does not fit fails. */
  readonly keepScale: boolean;
  /** Shells that stay where they lie: nothing is put nearer to them than the padding. */
  readonly obstacles?: readonly Item[];
}

/** Where an item goes: first scaled, then turned by quarters (counter-clockwise) about the origin, then moved. */
export interface Placement {
  readonly scale: number;
  readonly turn: 0 | 1 | 2 | 3;
  readonly du: number;
  readonly dv: number;
}

/**
 * Packs shells into one tile: each in turn goes to the lowest, then leftmost free place, small ones into the hollows
 * of large ones; all are scaled together, as large as they fit. Works on cells marked so that no gap can be missed.
 *
 * @param onStep called with the share done; throws to stop
 * @throws UserError when the set cannot fit, Stopped
 */
export function packItems(
  items: readonly Item[],
  options: PackOptions,
  onStep: (share: number) => void = () => {},
): Placement[] {
  return packReached(items, options, onStep).placements;
}

/**
 * The same; when stopped (onStep throws Stopped) it returns the largest places found so far.
 *
 * @throws Stopped when none was found yet
 */
export function packReached(
  items: readonly Item[],
  options: PackOptions,
  onStep: (share: number) => void = () => {},
): { placements: Placement[]; stopped: boolean } {
  const found: Found = { scale: 0, placements: null };
  try {
    return { placements: search(items, options, onStep, found), stopped: false };
  } catch (error) {
    if (!(error instanceof Stopped) || !found.placements) throw error;
    return { placements: found.placements, stopped: true };
  }
}

/** The largest places found so far. */
interface Found {
  scale: number;
  placements: Placement[] | null;
}

function search(
  items: readonly Item[],
  options: PackOptions,
  onStep: (share: number) => void,
  found: Found,
): Placement[] {
  if (!items.length) return [];
  // A bound that needs no trial: discs of half the padding about a point of each shell do not overlap, and lie within
  // the tile grown by half the padding. Their area is pi / 4 of the padding squared, taken a little low.
  const pad = options.padding / options.resolution;
  if (items.length * 0.78 * pad * pad > (1 + pad) ** 2) throw noRoom(items.length, options);
  if (options.keepScale) return searchAtSize(items, options, onStep);
  searchInto(items, options, onStep, found);
  if (!found.placements) throw noRoom(items.length, options);
  return found.placements;
}

/** Looks for the largest places, or for some at a scale that is fixed. */
function searchInto(
  items: readonly Item[],
  options: PackOptions,
  onStep: (share: number) => void,
  found: Found,
  fixed?: number,
): void {
  const { resolution, turns, effort = 1, obstacles } = options;
  const [padding, margin] = [options.padding / resolution, options.margin / resolution];
  const how = {
    padding,
    margin,
    mayTurn: turns === "quarter",
    effort,
    ...(fixed === undefined ? {} : { fixed }),
    ...(obstacles ? { obstacles } : {}),
  };
  searchOrder(items, how, onStep, ({ scale, cells, places }) => {
    const perTile = cells / (1 - 2 * margin);
    found.scale = scale;
    found.placements = places.map((put, i) => placement(put, boundsOf(items[i]!), scale, perTile, options));
  });
}

/** Scales that are looked at for one to offer, each smaller by this. */
const [OFFERS, SMALLER] = [40, 0.99];

/** Packs shells at their sizes. @throws UserError with a scale at which they would fit */
function searchAtSize(items: readonly Item[], options: PackOptions, onStep: (share: number) => void): Placement[] {
  const at = (scale: number, from: number, share: number): Placement[] | null => {
    const found: Found = { scale: 0, placements: null };
    searchInto(items, options, (done) => onStep(from + share * done), found, scale);
    return found.placements;
  };
  const placed = at(1, 0, 0.3);
  if (placed) return placed;
  const free: Found = { scale: 0, placements: null };
  searchInto(items, options, (done) => onStep(0.3 + 0.4 * done), free);
  if (!free.placements) throw noRoom(items.length, options);
  // What is told to fit is tried as it will be when the shells come back at that size.
  let offered = Math.floor(1000 * Math.min(0.999, free.scale)) / 1000;
  for (let k = 0; k < OFFERS && !at(offered, 0.7, 0.3); k++) offered = Math.floor(1000 * SMALLER * offered) / 1000;
  throw new UserError(`At their sizes the shells do not fit one tile; scaled by ${offered} they would.`);
}

const noRoom = (shells: number, { padding, resolution, obstacles }: PackOptions) =>
  new UserError(
    obstacles?.length
      ? `There is no room for ${shells} shells beside those that stay in the tile; pack those as well, or move them away.`
      : `${shells} shells with ${padding} px between them cannot fit one tile of ${resolution} px; lower the padding or raise the resolution.`,
  );

/** From the place of a turned frame in cells to the motion of the item in UV. */
function placement(
  put: FramePlace,
  corner: { u0: number; v0: number },
  scale: number,
  perTile: number,
  options: PackOptions,
): Placement {
  const { pad, w, h } = put.frame;
  // A point at frame cell (x, y) goes, by quarters: (x, y), (h - y, x), (w - x, h - y), (y, w - x).
  const x = pad - corner.u0 * scale * perTile;
  const y = pad - corner.v0 * scale * perTile;
  const [dx, dy] = [
    [x, y],
    [h - y, x],
    [w - x, h - y],
    [y, w - x],
  ][put.turn]!;
  const margin = options.margin / options.resolution;
  return {
    scale,
    turn: put.turn,
    du: margin + (put.x + dx!) / perTile,
    dv: margin + (put.y + dy!) / perTile,
  };
}

/** Where a placement takes a point. */
export function applyPlacement(p: Placement, u: number, v: number): [number, number] {
  const x = u * p.scale;
  const y = v * p.scale;
  if (p.turn === 0) return [x + p.du, y + p.dv];
  if (p.turn === 1) return [-y + p.du, x + p.dv];
  if (p.turn === 2) return [-x + p.du, -y + p.dv];
  return [y + p.du, -x + p.dv];
}
