import { Stopped } from "../layout/stopped";
import { UserError } from "../layout/user-error";
import type { FramePlace } from "./bit-grid";
import { areaOf, searchOrder } from "./order-search";
import { boundsOf, halfTurn, halfTurnRuns, type Item, type Mask, quarterTurn, rasterise, runsOf } from "./raster";
import { boxOf, Table } from "./table";

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

/** Cells a side: coarse to find the scale and the order, fine for the places. */
const COARSE = 512;
const FINE = 2048;
const FINE_ITEMS = 800;

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
  let done = 0;
  const step = (share: number) => {
    done = share;
    onStep(share);
  };
  const look = () => onStep(done);
  // A bound that needs no trial: discs of half the padding about a point of each shell do not overlap, and lie within
  // the tile grown by half the padding. Their area is pi / 4 of the padding squared, taken a little low.
  const pad = options.padding / options.resolution;
  if (items.length * 0.78 * pad * pad > (1 + pad) ** 2) throw noRoom(items.length, options);
  const fine = items.length > FINE_ITEMS ? FINE / 2 : FINE;
  if (options.keepScale) {
    const placeAt = (scale: number): Placement[] | null => {
      for (const kind of KINDS) {
        const placed = place(items, order(items, kind), scale, fine, options, look);
        if (placed) return placed;
      }
      return null;
    };
    const placed = placeAt(1);
    if (placed) return placed;
    const fit = searchBeside(items, options, { scale: 0, placements: null }, step, look)[0]!.scale;
    // What is told to fit is tried as it will be when the shells come back at that size.
    let offered = Math.floor(fit * 1000) / 1000;
    for (let k = 0; k < 50 && !placeAt(offered); k++) offered = Math.round(offered * 1000 - 1) / 1000;
    throw new UserError(`At their sizes the shells do not fit one tile; scaled by ${offered} they would.`);
  }
  if (options.obstacles?.length) return searchBeside(items, options, found, step, look);
  return searchAlone(items, options, found, step);
}

/** Packs shells that lie beside others which stay: the scale is bisected, for the best of a few orders. */
function searchBeside(
  items: readonly Item[],
  options: PackOptions,
  found: Found,
  step: (share: number) => void,
  look: () => void,
): Placement[] {
  const best = bestBeside(items, options, found, step, look);
  if (!best.scale) throw noRoom(items.length, options);
  const fine = items.length > FINE_ITEMS ? FINE / 2 : FINE;
  const placeAt = (scale: number) => {
    const placements = place(items, best.order, scale, fine, options, look);
    if (placements && scale >= found.scale) Object.assign(found, { scale, placements });
    return placements;
  };
  return refine(placeAt, best.scale, step);
}

/** Packs shells that have the tile to themselves. */
function searchAlone(
  items: readonly Item[],
  options: PackOptions,
  found: Found,
  step: (share: number) => void,
): Placement[] {
  const { resolution, turns, effort = 1 } = options;
  const padding = options.padding / resolution;
  const margin = options.margin / resolution;
  searchOrder(items, { padding, margin, mayTurn: turns === "quarter", effort }, step, ({ scale, cells, places }) => {
    if (scale <= found.scale) return;
    const perTile = cells / (1 - 2 * margin);
    found.scale = scale;
    found.placements = places.map((put, i) => placement(put, boundsOf(items[i]!), scale, perTile, options));
  });
  if (!found.placements) throw noRoom(items.length, options);
  return found.placements;
}

/** The share of the work after which the best order is known. */
const ORDERED = 0.7;

/** The best order of shells that lie beside others which stay. */
function bestBeside(
  items: readonly Item[],
  options: PackOptions,
  found: Found,
  step: (share: number) => void,
  look: () => void,
): { readonly order: readonly number[]; readonly scale: number } {
  const orders = KINDS.map((kind) => order(items, kind));
  let best = { scale: 0, order: orders[0]! };
  orders.forEach((candidate, i) => {
    const fits = (tried: number) => {
      const placements = place(items, candidate, tried, COARSE, options, look);
      if (placements && tried > found.scale) Object.assign(found, { scale: tried, placements });
      return placements !== null;
    };
    const scale = largestScale(areaOf(items), fits, best.scale, (share) =>
      step((ORDERED * (i + share)) / orders.length),
    );
    if (scale > best.scale) best = { scale, order: candidate };
  });
  return best;
}

const noRoom = (shells: number, { padding, resolution, obstacles }: PackOptions) =>
  new UserError(
    obstacles?.length
      ? `There is no room for ${shells} shells beside those that stay in the tile; pack those as well, or move them away.`
      : `${shells} shells with ${padding} px between them cannot fit one tile of ${resolution} px; lower the padding or raise the resolution.`,
  );

const KINDS = ["area", "side", "height"] as const;
type Kind = (typeof KINDS)[number];

function order(items: readonly Item[], kind: Kind): number[] {
  const size = items.map((item) => {
    const { u0, v0, u1, v1 } = boundsOf(item);
    if (kind === "area") return (u1 - u0) * (v1 - v0);
    return kind === "side" ? Math.max(u1 - u0, v1 - v0) + Math.min(u1 - u0, v1 - v0) / 8 : v1 - v0;
  });
  return items.map((_, i) => i).sort((a, b) => size[b]! - size[a]! || a - b);
}

/** Bisects the scale at which shells of an area fit; 0 when it does not beat `atLeast`. */
function largestScale(
  area: number,
  fits: (scale: number) => boolean,
  atLeast: number,
  onStep: (share: number) => void,
): number {
  let high = Math.sqrt(0.98 / (area || 1e-12));
  let low = atLeast;
  if (low && !fits(low)) return 0;
  for (let tries = 0; !low; tries++) {
    onStep(Math.min(0.4, tries / 20));
    const scale = high * 0.85;
    if (fits(scale)) low = scale;
    else high = scale;
    if (tries > 60) return 0;
  }
  for (let k = 0; k < 6 && high / low > 1.004; k++) {
    onStep(0.4 + k / 10);
    const middle = Math.sqrt(low * high);
    if (fits(middle)) low = middle;
    else high = middle;
  }
  return low;
}

/** On the fine grid shells lose less to whole cells, so a little more than the coarse scale fits. */
function refine(
  placeAt: (scale: number) => Placement[] | null,
  scale: number,
  onStep: (share: number) => void,
): Placement[] {
  let low: Placement[] | null = null;
  let at = scale;
  for (let step = 0; step < 60 && !low; step++) {
    low = placeAt(at);
    if (!low) at *= 0.985;
  }
  if (!low) throw new UserError("The shells could not be placed; lower the padding or raise the resolution.");
  let high = at * 1.08;
  for (let k = 0; k < 5; k++) {
    onStep(0.7 + 0.06 * k);
    const middle = Math.sqrt(at * high);
    const placed = placeAt(middle);
    if (placed) {
      low = placed;
      at = middle;
    } else high = middle;
  }
  return low;
}

/**
 * Places all items at one scale, or returns null as soon as one finds no room.
 *
 * @param look called before each; throws to stop
 */
function place(
  items: readonly Item[],
  sequence: readonly number[],
  scale: number,
  cells: number,
  options: PackOptions,
  look: () => void,
): Placement[] | null {
  const perTile = cells / (1 - (2 * options.margin) / options.resolution);
  const padding = (options.padding / options.resolution) * perTile * (1 + 1e-9);
  if (!(perTile > 0)) return null;
  const table = new Table(cells, tableOf(options, cells, perTile, padding));
  const placements: Placement[] = new Array(items.length);
  for (const i of sequence) {
    look();
    const { u0, v0, u1, v1 } = boundsOf(items[i]!);
    const side = scale * perTile;
    if (Math.max(u1 - u0, v1 - v0) * side > cells) return null;
    const put = putItem(table, items[i]!, side, padding, options.turns === "quarter" && !items[i]!.stands);
    if (!put) return null;
    placements[i] = placement(put, { u0, v0 }, scale, perTile, options);
  }
  return placements;
}

/** Cells taken by what stays, made once for a grid: obstacles keep their size whatever the scale. */
const obstacleTables = new WeakMap<readonly Item[], Map<string, Table>>();

function tableOf(options: PackOptions, cells: number, perTile: number, padding: number): Table | undefined {
  const { obstacles } = options;
  if (!obstacles?.length) return undefined;
  let tables = obstacleTables.get(obstacles);
  if (!tables) {
    tables = new Map();
    obstacleTables.set(obstacles, tables);
  }
  const key = `${cells} ${perTile} ${padding}`;
  let table = tables.get(key);
  if (!table) {
    table = new Table(cells);
    const margin = options.margin / options.resolution;
    for (const item of obstacles) takeObstacle(table, item, perTile, padding, margin);
    tables.set(key, table);
  }
  return table;
}

/** An obstacle wider than this many tiles is taken triangle by triangle, so that no frame grows beyond measure. */
const WIDEST = 2;

function takeObstacle(table: Table, item: Item, perTile: number, padding: number, margin: number): void {
  const { u0, v0, u1, v1 } = boundsOf(item);
  const reach = padding / perTile + margin;
  if (u1 < -reach || v1 < -reach || u0 > 1 + reach || v0 > 1 + reach) return;
  if (Math.max(u1 - u0, v1 - v0) > WIDEST && item.triangles.length > 6) {
    for (let i = 0; i < item.triangles.length; i += 6)
      takeObstacle(table, triangleItem(item.triangles.subarray(i, i + 6)), perTile, padding, margin);
    return;
  }
  // One triangle over many tiles: it may cover all of this one.
  if (Math.max(u1 - u0, v1 - v0) > 8 * WIDEST) {
    table.take(new Uint8Array(table.size ** 2).fill(1), table.size, table.size, 0, 0);
    return;
  }
  const [x, y] = [(u0 - margin) * perTile, (v0 - margin) * perTile];
  const { grown, w, h, pad } = rasterise(item, perTile, padding, [x - Math.floor(x), y - Math.floor(y)]);
  table.take(grown, w, h, Math.floor(x) - pad, Math.floor(y) - pad);
}

function triangleItem(t: Float64Array): Item {
  const [a, b, c, d, e, f] = t as unknown as [number, number, number, number, number, number];
  return { triangles: t, outline: Float64Array.of(a, b, c, d, c, d, e, f, e, f, a, b) };
}

interface Put extends FramePlace {
  readonly frame: Mask;
}

function putItem(table: Table, item: Item, side: number, padding: number, mayTurn: boolean): Put | null {
  const first = rasterise(item, side, padding);
  const { w, h } = first;
  let best: (Put & { end: number }) | null = null;
  turnsOf(first, mayTurn).forEach((runs, turn) => {
    const box = boxOf(runs);
    const at = table.lowestPlace(runs, box, best ? best.end : table.size);
    if (!at) return;
    const end = at.y + box.y1;
    if (!best || end < best.end || (end === best.end && at.x < best.x))
      best = { turn: turn as 0 | 1 | 2 | 3, x: at.x, y: at.y, frame: first, end };
  });
  const put = best as Put | null;
  if (!put) return null;
  // Only the place taken needs the grown cells turned.
  const half = put.turn >= 2 ? halfTurn(first.grown) : first.grown;
  if (put.turn % 2) table.take(quarterTurn(half, w, h), h, w, put.x, put.y);
  else table.take(half, w, h, put.x, put.y);
  return put;
}

/** Runs of a shell's body as it stands, and turned by each number of quarters where it may be. */
function turnsOf({ body, w, h }: Mask, mayTurn: boolean): Int32Array[] {
  const upright = runsOf(body, w, h);
  if (!mayTurn) return [upright];
  const turned = runsOf(quarterTurn(body, w, h), h, w);
  return [upright, turned, halfTurnRuns(upright, w, h), halfTurnRuns(turned, h, w)];
}

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
