import { type Kernels, withKernels } from "../kernels/kernels";
import { BitGrid, type FramePlace, type GridShape, gridShapes } from "./bit-grid";
import { takeObstacle } from "./obstacles";
import { boundsOf, type Item } from "./raster";

/** Cells a side of the sheets on which orders are tried, one after another, multiples of 64. */
const SHEETS = [512, 1024, 2048] as const;
/** More shells than these are not tried on the finest. */
const FINE_SHELLS = 800;
/** Layouts that are tried on each: a finer one takes eight times as long. */
const TRIES = [1, 0.25, 1 / 30] as const;
const triesFor = (shells: number, sheet: number, effort: number): number =>
  Math.max(2, Math.floor(effort * Math.max(8, Math.min(120, 2400 / shells)) * TRIES[sheet]!));

export interface OrderOptions {
  /** Both in shares of the tile. */
  readonly padding: number;
  readonly margin: number;
  readonly mayTurn: boolean;
  /** How many times as many orders are tried as in a quick search. */
  readonly effort: number;
  /** The only scale that is tried; as large as they fit when not given. */
  readonly fixed?: number;
  /** Shells that stay where they lie. */
  readonly obstacles?: readonly Item[];
}

/** Where shells lie that fit a tile together, at a scale. */
export interface FoundLayout {
  readonly scale: number;
  /** Cells of the tile within its margin, in which the places are told. */
  readonly cells: number;
  /** By shell, where its frame lies. */
  readonly places: readonly FramePlace[];
}

/** Shares of the page that shells fill at first. */
const FIRST_FILL = 0.6;
/** Smaller than this nothing is looked for: there is no room. */
const LEAST_SCALE = 1e-5;
/** How much larger shells are tried when they fit. */
const LARGER = 1.004;

/**
 * Looks for the order in which shells fit a tile at the largest scale, when each is put as low as it goes: by several keys,
 * then by changing the best order, a swap or a move at a time. The sheet is open above, so that every order tells by its
 * height how near it is; whenever one ends within the tile, all are tried larger. What was found on coarse cells goes on
 * on finer ones, on which less is lost between shells.
 *
 * Sources: bottom-left placement, Baker, Coffman, Rivest 1980; order search, Burke, Hellier, Kendall, Whitwell 2006.
 *
 * @param onStep told the share done @param onBest told of every layout that fits at a larger scale than those before
 */
export function searchOrder(
  items: readonly Item[],
  options: OrderOptions,
  onStep: (share: number) => void,
  onBest: (found: FoundLayout) => void,
): void {
  if (options.margin >= 0.5) return;
  const sheets = SHEETS.slice(0, items.length > FINE_SHELLS ? 2 : 3);
  // A finer sheet takes as long for fewer tries.
  const weights = sheets.map((_, k) => triesFor(items.length, k, options.effort) * 8 ** k);
  const total = weights.reduce((a, b) => a + b, 0);
  let before: Start | null = null;
  let done = 0;
  for (const [k, cells] of sheets.entries()) {
    const tell = (share: number) => onStep((done + share * weights[k]!) / total);
    before = withKernels((kernels) =>
      new OrderSearch(kernels, items, options, cells, onBest, tell).run(
        before,
        triesFor(items.length, k, options.effort),
      ),
    );
    // What has one size cannot fit better, and what fits coarse cells at no scale has no room.
    if ((options.fixed !== undefined) === before.scale > 0) return;
    done += weights[k]!;
  }
}

/** What a search goes on from: an order, and the largest scale at which it fits; 0 for none yet. */
interface Start {
  readonly order: readonly number[];
  readonly scale: number;
}

/** Shells up to which the second of the keys is tried at every scale as well. */
const FEW_SHELLS = 200;
/** Scales at which it is looked where the best keys fit: of few shells, and of many. */
const BISECTED = [16, 9] as const;
/** Layouts at one scale, after which another is tried: heights jump with the scale. */
const PATIENCE = 16;
/** How much larger than what fits is tried, at the least and at the most. */
const [NEXT, FARTHEST] = [0.001, 0.015];
/** Scales as near as this are one. */
const NEAR = 1.006;

class OrderSearch {
  private readonly perTile: number;
  private readonly grid: BitGrid;
  private readonly rows: number;
  private readonly padding: number;
  private shapes: GridShape[][] = [];
  private scale = 0;
  /** The largest scale there is: where the longest shell just goes across, or the one that is fixed. */
  private readonly most: number;
  private best: { order: readonly number[]; height: number; mean: number } = { order: [], height: 0, mean: 0 };
  private fits: Start = { order: [], scale: 0 };
  private random = 0x2545f491;
  private readonly bisected: number;
  private done = 0;
  private expected = 1;

  constructor(
    private readonly kernels: Kernels,
    private readonly items: readonly Item[],
    private readonly options: OrderOptions,
    private readonly cells: number,
    private readonly onBest: (found: FoundLayout) => void,
    private readonly onStep: (share: number) => void,
  ) {
    const { margin, obstacles = [], fixed } = options;
    this.bisected = BISECTED[items.length > FEW_SHELLS ? 1 : 0];
    this.perTile = cells / (1 - 2 * margin);
    this.padding = options.padding * this.perTile * (1 + 1e-9);
    this.rows = 2 * cells + 64;
    this.grid = new BitGrid(kernels, cells, this.rows);
    for (const item of obstacles) takeObstacle(this.grid, item, this.perTile, this.padding, margin);
    if (obstacles.length) this.grid.keep();
    const extents = items.map((item) => {
      const { u0, v0, u1, v1 } = boundsOf(item);
      return Math.max(u1 - u0, v1 - v0);
    });
    this.most = fixed ?? (cells - 2) / (Math.max(...extents) * this.perTile || 1);
  }

  /** @param tries layouts that are made by changing the best order */
  run(before: Start | null, tries: number): Start {
    this.expected = tries + (before ? 1 : KEYS.length + this.bisected);
    if (before) {
      // What fits coarse cells fits finer ones: only what is larger counts.
      this.fits = before;
      this.tryAll([before.order], this.options.fixed ?? (before.scale ? before.scale * LARGER : this.most));
    } else this.byKeys();
    for (let left = tries; left > 0; ) left -= this.improve(left);
    return this.fits.scale ? this.fits : { order: this.best.order, scale: 0 };
  }

  /** Finds the best of the orders by keys, and by bisection the scale at which it fits. */
  private byKeys(): void {
    const { fixed } = this.options;
    const first = Math.sqrt(FIRST_FILL / (areaOf(this.items) || 1e-12));
    let orders = KEYS.map((key) => ordered(this.items, key));
    let [low, high] = [0, Infinity];
    let scale = fixed ?? Math.min(first, this.most);
    for (let k = 0; k < this.bisected || !low; k++) {
      const heights = this.tryAll(orders, scale);
      if (fixed !== undefined) return;
      if (!k) {
        const byHeight = orders.map((_, i) => i).sort((a, b) => heights[a]! - heights[b]! || a - b);
        orders = byHeight.slice(0, this.items.length > FEW_SHELLS ? 1 : 2).map((i) => orders[i]!);
      }
      // What its height tells of how much larger, or smaller, it would have to be.
      const told = Math.sqrt(this.cells / Math.min(this.best.height, this.rows));
      if (this.best.height <= this.cells) low = scale;
      else high = scale;
      if (low >= this.most || scale < LEAST_SCALE) break;
      if (high < Infinity && low) scale = Math.sqrt(low * high);
      else scale = Math.min(this.most, scale * (low ? Math.max(1.05, told) : Math.min(0.97, told) * (k > 8 ? 0.8 : 1)));
      if (high / (low || 1e-12) < NEAR) break;
    }
    this.scale = Math.min(this.most, Math.max(low * LARGER, LEAST_SCALE));
  }

  /** Tries some orders at a scale. @returns their heights, Infinity for what was given up */
  private tryAll(orders: readonly (readonly number[])[], scale: number): number[] {
    this.scale = scale;
    return this.atScale(() => {
      this.best = { order: orders[0]!, height: Infinity, mean: Infinity };
      return orders.map((order) => this.tryOrder(order));
    });
  }

  /** Changes the best order until it fits, or for some layouts, and goes on at another scale. @returns how many that took */
  private improve(most: number): number {
    const { fixed, obstacles } = this.options;
    const patience = fixed === undefined ? Math.min(most, PATIENCE) : most;
    let made = 0;
    this.atScale(() => {
      const { order } = this.best;
      this.best = { order, height: Infinity, mean: Infinity };
      this.tryOrder(order);
      while (made < patience && this.best.height > this.cells) {
        made++;
        this.tryOrder(this.changed(this.best.order));
      }
    });
    const fits = this.best.height <= this.cells;
    // Larger than there is is no size to go on to.
    if (fits && this.scale >= this.most) return most;
    if (fits && !obstacles?.length) this.scale *= Math.max(LARGER, Math.sqrt(this.cells / this.best.height));
    else if (fixed === undefined)
      this.scale = (fits ? this.scale : this.fits.scale) * (1 + FARTHEST * this.next() + NEXT);
    return Math.max(1, made);
  }

  /** Does something with the shapes at the scale that is worked at. */
  private atScale<T>(act: () => T): T {
    const { kernels, options, perTile } = this;
    this.scale = Math.min(this.scale, this.most);
    return kernels.during(() => {
      this.shapes = this.items.map((item) => {
        this.look();
        return gridShapes(kernels, item, this.scale * perTile, this.padding, options.mayTurn && !item.stands);
      });
      return act();
    });
  }

  /** Tells how far the work is, and looks whether it is to end. */
  private look(): void {
    this.onStep(Math.min(1, this.done / this.expected));
  }

  /** Lays shells out in an order, as long as it is no higher than the best at this scale. @returns its height */
  private tryOrder(order: readonly number[]): number {
    const { grid, shapes, cells } = this;
    this.done++;
    grid.clear();
    const places: FramePlace[] = new Array(order.length);
    let [height, mean, area] = [0, 0, 0];
    for (const i of order) {
      this.look();
      const put = grid.put(shapes[i]!, Math.min(this.best.height, this.rows));
      if (!put) return Infinity;
      const shape = shapes[i]![put.turn]!;
      height = Math.max(height, put.end);
      area += shape.w * shape.h;
      mean += shape.w * shape.h * put.end;
      places[i] = { turn: put.turn as FramePlace["turn"], x: put.x + shape.x, y: put.y + shape.y, frame: shape.frame };
    }
    mean /= area || 1;
    if (height > this.best.height || (height === this.best.height && mean >= this.best.mean)) return height;
    this.best = { order: [...order], height, mean };
    if (height <= cells && this.scale > this.fits.scale) {
      this.fits = { order: this.best.order, scale: this.scale };
      this.onBest({ scale: this.scale, cells, places });
    }
    return height;
  }

  /** The order with one thing changed, or two. */
  private changed(order: readonly number[]): number[] {
    const out = [...order];
    const n = out.length;
    for (let k = this.next() < 0.3 ? 2 : 1; k > 0; k--) {
      const i = Math.floor(this.next() * n);
      const near = this.next() < 0.5;
      const far = near ? 1 + Math.floor((this.next() * n) / 4) : 1 + Math.floor(this.next() * (n - 1));
      const j = (i + far) % n;
      if (this.next() < 0.5) [out[i], out[j]] = [out[j]!, out[i]!];
      else out.splice(j, 0, ...out.splice(i, 1));
    }
    return out;
  }

  /** A number from 0 to before 1: the same ones each time (Marsaglia's xorshift, 2003). */
  private next(): number {
    this.random ^= this.random << 13;
    this.random ^= this.random >>> 17;
    this.random ^= this.random << 5;
    return (this.random >>> 0) / 2 ** 32;
  }
}

type Key = (w: number, h: number, area: number) => number;

/** What shells are put by, the largest first. */
const KEYS: readonly Key[] = [
  (w, h) => w * h,
  (w, h) => Math.max(w, h) + Math.min(w, h) / 8,
  (w, h, area) => area * Math.hypot(w, h),
  (_, h) => h,
  (_w, _h, area) => area,
];

function ordered(items: readonly Item[], key: Key): number[] {
  const size = items.map((item) => {
    const { u0, v0, u1, v1 } = boundsOf(item);
    return key(u1 - u0, v1 - v0, areaOf([item]));
  });
  return items.map((_, i) => i).sort((a, b) => size[b]! - size[a]! || a - b);
}

/** The area of shells, triangle by triangle. */
export function areaOf(items: readonly Item[]): number {
  let area = 0;
  for (const { triangles: q } of items)
    for (let i = 0; i < q.length; i += 6)
      area +=
        Math.abs((q[i + 2]! - q[i]!) * (q[i + 5]! - q[i + 1]!) - (q[i + 4]! - q[i]!) * (q[i + 3]! - q[i + 1]!)) / 2;
  return area;
}
