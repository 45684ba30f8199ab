import { type Kernels, withKernels } from "../kernels/kernels";
import type { GridPlace } from "./bit-grid";
import { type Choice, fitBest, type LaidInOrder } from "./fit-best";
import { areaOf, type FoundLayout, lengthOf } from "./page";
import { randomBy } from "./random";
import { boundsOf, type Item } from "./raster";
import { type Laying, type LayOptions, type Sheet, type SheetOptions, sheetOf } from "./sheet";

/** Cells a side of the sheets on which orders are tried, one after another, multiples of 64. */
const SHEETS = [512, 1024, 2048] as const;
/** More shells than these are not tried on the finest. */
const FINE_SHELLS = 800;
/** Layouts that are tried on each: a finer one takes eight times as long. */
const TRIES = [1, 0.25, 1 / 30] as const;
/** Shells that are laid anew in a draft, besides what keys tell: few of them take hardly any time. */
const DRAFT_TRIES = 200;
/** How many orders there are of very few shells, and at how many scales all of them may be tried. */
const ORDERS_OF = [1, 1, 2, 6, 24];
const SCALES = 20;
/** Layouts that are tried by changing an order. */
export function triesFor(shells: number, sheet: number, effort: number): number {
  const orders = ORDERS_OF[shells] ?? Infinity;
  if (!effort) return Math.min(orders, Math.floor(DRAFT_TRIES / shells));
  const tries = effort * Math.max(8, Math.min(120, 2400 / shells)) * TRIES[sheet]!;
  return Math.max(2, Math.min(SCALES * orders, Math.floor(tries)));
}

export interface OrderOptions extends LayOptions {
  /** How many times as many orders are tried as in a quick search; 0 makes a draft, on coarse cells. */
  readonly effort: number;
  /** Seeds of other numbers lead to other changes of order. */
  readonly seed?: number;
}

/** The share of the page that shells with half the padding about them are taken to fill, before anything was tried; rough ones more. */
const [FIRST_FILL, ROUGH_FILL] = [0.68, 0.76];
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
  if (options.page.w <= 0 || options.page.h <= 0) return;
  const sheets = SHEETS.slice(0, options.effort ? (items.length > FINE_SHELLS ? 2 : 3) : 1);
  // A finer sheet takes as long for fewer tries.
  const weights = sheets.map((_, k) => triesFor(items.length, k, options.effort) * 8 ** k);
  const total = weights.reduce((a, b) => a + b, 0);
  let before: Start | null = null;
  let done = 0;
  for (const [k, cells] of sheets.entries()) {
    // By contact, many places of each row are looked at: on the finest that takes longer than it is worth.
    if (k === 2 && before?.worth) break;
    const tell = (share: number) => onStep((done + share * weights[k]!) / total);
    before = withKernels((kernels) =>
      new OrderSearch(kernels, items, options, { cells }, onBest, tell).run(
        before,
        triesFor(items.length, k, options.effort),
      ),
    );
    // What has one size cannot fit better, and what fits coarse cells at no scale has no room.
    if ((options.fixed !== undefined) === before.scale > 0) return;
    done += weights[k]!;
  }
}

/** How shells are laid out: their order, and what contact with others is worth, 0 where each goes as low as it goes. */
interface Plan {
  readonly order: readonly number[];
  readonly worth: number;
  /** Not the next in the order, but of some that come next the one that fits best. */
  readonly choice?: Choice;
}

/** What a search goes on from, and the largest scale at which it fits; 0 for none yet. */
export interface Start extends Plan {
  readonly scale: number;
  /** Where shells lie then, by shell, and on what; not where it is 0. */
  readonly laid?: { readonly laying: Laying; readonly places: readonly GridPlace[] };
}

/** From so many shells to so many they are put by contact as well: fewer are better tried in more orders, and more take minutes. */
const [CONTACT_FROM, CONTACT_TO] = [150, 1500];
/** What contact is worth at first, in a layout by the first of the keys; how it is changed, and how often. */
const WORTH = 1.5;
const [CHANGED_BY, CHANGED_OFTEN] = [0.8, 0.2];

/** Where shells are chosen: what contact is worth and how much sooner large ones come, at the least and at the most, and by how much larger than before it begins. */
const [CLOSE, LARGE_FIRST, CHOSEN_LARGER] = [[1.7, 2.3], [2, 3], 1.006] as const;
/** Scales at which it is looked how they fit then, and how long a layout takes for each that is chosen among. */
const [CHOSEN_TIMES, CHOSEN_TIME] = [4, 0.3];

/** Shells up to which the second of the keys is tried at every scale as well. */
const FEW_SHELLS = 200;
/** Of more than these one key has to do, with contact and without: a layout takes a second. */
const MANY = 400;
/** Scales at which it is looked where the best keys fit: of few shells, of some more, and of many. */
const BISECTED = [16, 9, 6] as const;
/** Layouts at one scale, after which another is tried: heights jump with the scale. */
const PATIENCE = 48;
/** How much larger than what fits is tried, at the least and at the most. */
const [NEXT, FARTHEST] = [0.001, 0.006];
/** Scales as near as this are one. */
const NEAR = 1.006;

export class OrderSearch {
  /** What orders are tried on. */
  readonly sheet: Sheet;
  /** Shells at the scale that is worked at. */
  private laying: Laying | null = null;
  private scale = 0;
  private best: Plan & { height: number; mean: number } = { order: [], worth: 0, height: 0, mean: 0 };
  private fits: Start = { order: [], worth: 0, scale: 0 };
  private readonly fill: Fill;
  private readonly next: () => number;
  private readonly bisected: number;
  private readonly firstFill: number;
  private readonly among: number;
  /** Layouts that were made, and how far the next is; and how many there will be. */
  private done = 0;
  private expected = 1;

  /**
   * @param sheet its cells along the longer side, a multiple of 64; where shapes are rough, as they are made into cells; and of how
   *   many shells the one that fits best is chosen, where they are put by contact
   */
  constructor(
    kernels: Kernels,
    private readonly items: readonly Item[],
    private readonly options: OrderOptions,
    sheet: Pick<SheetOptions, "cells" | "rough"> & { readonly among?: number },
    private readonly onBest: (found: FoundLayout) => void,
    private readonly onStep: (share: number) => void,
  ) {
    this.next = randomBy(options.seed ?? 0);
    this.fill = fillOf(items, options);
    this.among = this.isClose ? (sheet.among ?? 1) : 1;
    this.firstFill = sheet.rough === undefined ? FIRST_FILL : ROUGH_FILL;
    this.bisected = BISECTED[items.length > MANY ? 2 : items.length > FEW_SHELLS ? 1 : 0];
    this.sheet = sheetOf(kernels, items, options, { ...sheet, close: this.isClose }, this.look);
  }

  /** @param tries layouts that are made by changing the best order */
  run(before: Start | null, tries: number): Start {
    const { sheet, options } = this;
    const chosen = this.among > 1 ? CHOSEN_TIMES * CHOSEN_TIME * this.among : 0;
    this.expected = tries + chosen + (before ? 1 : KEYS.length + this.bisected);
    if (before) {
      // What fits coarse cells fits finer ones: only what is larger counts.
      this.fits = before;
      this.tryAll([before], options.fixed ?? (before.scale ? before.scale * LARGER : sheet.most));
    } else {
      this.byKeys();
      if (chosen && this.fits.scale) this.byChoice();
    }
    if (tries > 0) sheet.refine(this.scale);
    for (let left = tries; left > 0; ) left -= this.improve(left);
    return this.fits.scale ? this.fits : { order: this.best.order, worth: this.best.worth, scale: 0 };
  }

  /** Finds the best of the orders by keys, and the scale at which it fits: every height tells about where that is. */
  private byKeys(): void {
    const { sheet, fill, items, options } = this;
    let plans = this.plansByKeys();
    let [low, high] = [0, Infinity];
    let scale = Math.min(sheet.most, options.fixed ?? fill.scaleAt(this.firstFill));
    for (let k = 0; k < this.bisected || !low; k++) {
      const tried = this.tryAll(plans, scale, low);
      if (options.fixed !== undefined) return;
      if (!k) {
        const byHeight = plans.map((_, i) => i).sort((a, b) => tried.heights[a]! - tried.heights[b]! || a - b);
        plans = byHeight.slice(0, items.length > FEW_SHELLS ? 1 : 2).map((i) => plans[i]!);
      }
      if (this.best.height <= tried.rows) low = tried.scale;
      else high = tried.scale;
      if (low >= sheet.most || scale < LEAST_SCALE || high / (low || 1e-12) < NEAR) break;
      const told = this.toldBy(tried);
      if (high < Infinity && low) scale = told > low && told < high ? told : Math.sqrt(low * high);
      else if (low) scale = Math.min(sheet.most, Math.max(told, low * LARGER));
      else scale = Math.min(told, high / LARGER) * (k > 8 ? 0.8 : 1);
    }
    this.scale = Math.min(sheet.most, Math.max(low * LARGER, LEAST_SCALE));
  }

  /** The scale at which they fit: what they fill as high as they are laid, they fill of the page as well. */
  private toldBy({ scale, rows, high }: Tried): number {
    return this.fill.scaleAt((this.fill.at(scale) * rows) / Math.min(this.best.height, high));
  }

  /** Chooses shells a few times, each time by chance a little one way or another, at scales that are larger than what fits. */
  private byChoice(): void {
    const between = ([a, b]: readonly [number, number]) => a + (b - a) * this.next();
    const order = ordered(this.items, KEYS[0]!);
    let scale = this.fits.scale * CHOSEN_LARGER;
    for (let k = 0; k < CHOSEN_TIMES && this.fits.scale < this.sheet.most; k++) {
      const choice = { among: this.among, worth: between(CLOSE), largeFirst: between(LARGE_FIRST) };
      scale = this.toldBy(this.tryAll([{ order, worth: choice.worth, choice }], scale, this.fits.scale));
    }
  }

  private plansByKeys(): Plan[] {
    const orders = KEYS.map((key) => ordered(this.items, key));
    const low = orders.map((order): Plan => ({ order, worth: 0 }));
    const plans = this.items.length > MANY ? low.slice(0, 1) : low;
    return this.isClose ? [...plans, { ...low[0]!, worth: WORTH }] : plans;
  }

  private get isClose(): boolean {
    const { length } = this.items;
    return this.options.effort > 0 && length > CONTACT_FROM && length <= CONTACT_TO;
  }

  /** Tries some plans at a scale, or the next smaller one there is. @returns their heights, Infinity for what was given up */
  private tryAll(plans: readonly Plan[], scale: number, above = 0): Tried {
    this.scale = scale;
    const all = ({ scale, rows, grid }: Laying): Tried => {
      this.best = { ...plans[0]!, height: Infinity, mean: Infinity };
      return { heights: plans.map((plan) => this.tryPlan(plan)), scale, rows, high: grid.rows };
    };
    return this.atScale(scale, all, above);
  }

  /** Changes the best order until it fits, or for some layouts, and goes on at another scale. @returns how many that took */
  private improve(most: number): number {
    const { sheet, options } = this;
    const { fixed, obstacles } = options;
    const patience = fixed === undefined ? Math.min(most, PATIENCE) : most;
    const asked = Math.min(this.scale, sheet.most);
    let made = 0;
    const tried = this.atScale(
      asked,
      ({ scale, rows }) => {
        const { order, worth } = this.best;
        this.best = { order, worth, height: Infinity, mean: Infinity };
        this.tryPlan({ order, worth });
        while (made < patience && this.best.height > rows) {
          made++;
          this.tryPlan(this.changed(this.best));
        }
        return { scale, rows };
      },
      this.fits.scale,
    );
    const fits = this.best.height <= tried.rows;
    // Larger than there is is no size to go on to.
    if (fits && asked >= sheet.most) return most;
    if (fits && !obstacles?.length)
      this.scale = tried.scale * Math.max(LARGER, Math.sqrt(tried.rows / this.best.height));
    else if (fixed === undefined)
      this.scale = (fits ? tried.scale : this.fits.scale) * (1 + FARTHEST * this.next() + NEXT);
    return Math.max(1, made);
  }

  /** Does something with the shapes at a scale, or the next smaller one there is that is larger than another. */
  private atScale<T>(scale: number, act: (laying: Laying) => T, above = 0): T {
    const now = (laying: Laying): T => {
      this.laying = laying;
      return act(laying);
    };
    return this.sheet.at(Math.min(scale, this.sheet.most), now, above);
  }

  /** Tells how far the work is, and looks whether it is to end. @param more layouts that are done besides, or parts of one */
  private look = (more = 0): void => this.onStep(Math.min(1, (this.done + more) / this.expected));

  /** Lays shells out, as long as that is no higher than the best at this scale. @returns its height */
  private tryPlan(plan: Plan): number {
    const laying = this.laying!;
    const { shapes, rows, scale, found } = laying;
    const laid = plan.choice ? this.layChosen(plan, plan.choice) : this.lay(plan);
    if (!laid) return Infinity;
    const { height, places } = laid;
    let [mean, area] = [0, 0];
    for (const [i, { turn, y }] of places.entries()) {
      const { w, h } = shapes[i]![turn]!;
      area += w * h;
      mean += w * h * (y + h);
    }
    mean /= area || 1;
    if (height > this.best.height || (height === this.best.height && mean >= this.best.mean)) return height;
    const { worth } = plan;
    const order = [...laid.order];
    this.best = { order, worth, height, mean };
    if (height <= rows && scale > this.fits.scale) {
      this.fits = { order, worth, scale, laid: { laying, places } };
      this.onBest(found(places));
    }
    return height;
  }

  private lay({ order, worth }: Plan): LaidInOrder | null {
    const { grid, shapes, longest } = this.laying!;
    this.done++;
    grid.clear(longest);
    const places: GridPlace[] = new Array(order.length);
    let height = 0;
    for (const i of order) {
      this.look();
      const below = Math.min(this.best.height, grid.rows);
      const put = worth ? grid.putClose(shapes[i]!, below, worth) : grid.put(shapes[i]!, below);
      if (!put) return null;
      height = Math.max(height, put.end);
      places[i] = put;
    }
    return { order, places, height };
  }

  private layChosen({ order }: Plan, choice: Choice): LaidInOrder | null {
    const time = CHOSEN_TIME * choice.among;
    const laid = fitBest(this.laying!, order, choice, (share) => this.look(share * time));
    this.done += time;
    return laid;
  }

  /** The order with one thing changed, or two. */
  private changed({ order, worth }: Plan): Plan {
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
    const other = this.isClose && this.next() < CHANGED_OFTEN;
    return { order: out, worth: other ? worth * Math.exp(CHANGED_BY * (this.next() - 0.5)) : worth };
  }
}

/** What came of plans at a scale, on so many rows of a sheet that is as high. */
interface Tried {
  readonly heights: readonly number[];
  readonly scale: number;
  readonly rows: number;
  readonly high: number;
}

interface Fill {
  /** The share of the page that shells take at a scale, with half the padding about them. */
  at(scale: number): number;
  /** The scale at which they take a share. */
  scaleAt(share: number): number;
}

/** How much of the page shells take: their areas grow with the square of the scale, what is about them less. */
function fillOf(items: readonly Item[], { page, padding, unit }: OrderOptions): Fill {
  const room = (page.w + padding) * (page.h + padding);
  const a = (areaOf(items) * unit * unit) / room || 1e-12;
  const b = (lengthOf(items) * unit * padding) / 2 / room;
  const c = (items.length * Math.PI * padding * padding) / 4 / room;
  return {
    at: (scale) => (a * scale + b) * scale + c,
    // Where padding alone takes all of it, shells are as good as nothing beside it.
    scaleAt: (share) => {
      const left = Math.max(share - c, 1e-3 * share);
      return (2 * left) / (b + Math.sqrt(b * b + 4 * a * left));
    },
  };
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
