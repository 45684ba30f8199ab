import type { Kernels } from "../kernels/kernels";
import { Stopped } from "../layout/stopped";
import { type FoundLayout, type Page, type Placement, placedItem, scaleOf } from "./page";
import { randomBy } from "./random";
import { boundsOf, type Item } from "./raster";
import { ON_EDGES, RECORD, type SettleShape, settleShape } from "./settle-shapes";
import { besideStaying, StayingShape, unseenBetween } from "./settle-stays";

export interface SettleOptions {
  readonly page: Page;
  readonly unit: number;
  readonly padding: number;
  /** By shell, how many quarter turns it may have: 1, 2 or 4. */
  readonly quarters: readonly number[];
  /** Those with four may be turned by any angle. */
  readonly free: boolean;
  /** Samples that may be looked up: how much work is done. */
  readonly work: number;
  readonly seed: number;
  /** Further apart than the padding by this much, units of the page: for what rasters tell too little. */
  readonly more?: number;
  /** The only scale that is wanted: larger ones are of no use. */
  readonly fixed?: number | undefined;
  /** What stays where it lies. */
  readonly obstacles?: readonly Item[] | undefined;
  /** A draft is wanted: once they have come apart, they are only pushed apart together, and no longer where that does not do. */
  readonly draft?: boolean;
}

/** Nodes along the longer side of the page as it is at first. */
const NODES = 1024;
/** What rasters tell too little, and what may be missing of what is aimed at, nodes. */
const [SAFE, ALLOWED] = [0.03, 0.04];
/** What rounding may take away at the border of the page, nodes. */
const ROUNDED = 0.002;
/** Sweeps of a relaxation, at the most and without gain, also of a draft, and the gain. */
const [SWEEPS, WITHOUT_GAIN, DRAFT_WITHOUT, GAIN] = [400, 40, 10, 0.995];
/** How much smaller the page is made at a time, at first, at the least and the most; and how that changes after a page that was easy, hard, or failed. */
const [SHRINK, SHRINK_LEAST, SHRINK_MOST] = [0.001, 0.0003, 0.03];
const [EASY, HARD, FAILED] = [1.5, 0.8, 0.5];
/** The share of the work that one page may take, and what it may at any rate, samples a shell: more and smaller steps come farther. */
const [ONE_PAGE, PAGE_EACH] = [0.1, 30_000];
/** By how much one that is larger than the page is turned at a time, radians, and how often: to its diagonals and beyond. */
const [TURN, MOST_TURNS] = [Math.PI / 180, 90];
/** How much larger the page is made where shells do not come apart as they begin: at first, by how much more each time, and in all. */
const [GROW, GROW_MORE, GROWN] = [0.002, 1.6, 1.3];
/** Pages in a row on which shells do not come apart, after which none is tried any more: one alone has little to try. */
const [LEAST_FAILURES, MOST_FAILURES] = [10, 60];
/** Up to so many shells are few. */
const FEW = 30;
/** Passes of a separation without a new low: few shells take more of them, but one alone hardly any, and a draft less. */
const [PATIENCE, FEW_PATIENCE, PATIENCE_EACH, DRAFT_PATIENCE] = [100, 200, 20, 30];
/** More shells than these are not settled: the weights of their pairs take too much memory. */
export const MOST_SETTLED = 6000;
/** Pairs of samples and shells that are collected at once. */
const PAIRS = 30_000;
/** Nodes that distances have to be exact in beyond the padding: a table's half diagonal, reach, slack and a node. */
const BAND = 3.6 + 2 + 1 + 1.5;

/**
 * Shells that lie on a page are made larger, which is the page smaller, a little at a time: what then lies too near is
 * pushed apart, all together first, one by one where that gets stuck.
 *
 * Sources: Egeblad, Nielsen, Odgaard 2007; Umetani et al. 2009; Imamichi et al. 2009; Gardeyn, Wauters 2025.
 */
export class Settling {
  private readonly shapes: readonly SettleShape[];
  private readonly records: number;
  private readonly poses: number;
  private readonly order: number;
  private readonly hit: number;
  private readonly marks: number;
  private readonly told: number;
  private readonly depths: number;
  private readonly table: number;
  private readonly next: () => number;
  /** Nodes a unit of the page, at first and now. */
  private readonly first: number;
  private perUnit: number;
  /** Shells that are larger than the page, as they are turned. */
  private misfits = 0;
  /** The least there can be: then the longest shell goes across. */
  private readonly least: number;
  /** The scale at first. */
  private readonly begun: number;
  private best: { perUnit: number; poses: Float32Array } | null = null;
  private readonly stays: StayingShape | null;
  /** Shapes in the memory of kernels: the shells, and what stays. */
  private readonly count: number;
  /** Nodes between samples. */
  private readonly samples: number;

  constructor(
    private readonly kernels: Kernels,
    private readonly items: readonly Item[],
    private readonly options: SettleOptions,
    start: readonly Placement[],
    private readonly look: (share: number) => void,
    private readonly onBest: (scale: number, placements: () => Placement[]) => void,
  ) {
    const { page, unit, padding, seed, fixed = Infinity, obstacles = [] } = options;
    this.next = randomBy(seed + 1);
    this.first = NODES / Math.max(page.w, page.h);
    this.perUnit = this.first;
    // Where they begin larger than is wanted, they are made smaller about where they lie.
    const begun = scaleOf(start[0]!);
    const size = Math.min(begun, unit * fixed);
    const goesIn = Math.max(...items.map((item, i) => shareOf(placedItem(item, start[i]!), options, i)));
    this.least = Math.max((goesIn * size) / begun, size / unit / fixed) * this.first;
    this.stays = obstacles.length ? new StayingShape(kernels, obstacles, page, GROWN * this.first) : null;
    this.samples = this.stays ? besideStaying(padding * this.first) : ON_EDGES;
    const n = items.length + (this.stays ? 1 : 0);
    this.count = n;
    this.records = kernels.take(RECORD * n);
    this.poses = kernels.take(16 * n);
    this.order = kernels.put(Int32Array.from({ length: n }, (_, i) => i));
    this.hit = kernels.take(4 * n);
    this.marks = kernels.take(n);
    this.told = kernels.take(4);
    const changed = kernels.take(n);
    this.depths = kernels.take(196 * n);
    this.shapes = items.map((item, i) => {
      this.look(0);
      const [mirrored, perUnit] = [isMirrored(start[i]!), size * this.first];
      return settleShape(kernels, item, { mirrored, perUnit, band: this.band(), apart: this.samples }, this.next);
    });
    this.shapes.forEach(({ record }, i) => {
      new Uint8Array(kernels.code.memory.buffer).set(record, this.records + RECORD * i);
    });
    const turns = kernels.put(Uint8Array.from([...options.quarters, ...(this.stays ? [0] : [])]));
    kernels.code.settleBegin(n, this.records, this.poses, turns, changed, seed);
    kernels.code.settleFree(options.free ? 1 : 0);
    kernels.code.settleWeights(PAIRS, kernels.take(4 * n * (n + 4) + 33 * n + 20 * PAIRS));
    this.table = kernels.take(kernels.code.settleRoom(GROWN * page.w * this.first, GROWN * page.h * this.first));
    this.begun = size / unit;
    const poses = this.posesNow();
    start.forEach((p, i) => {
      const { u, v, mirrored } = this.shapes[i]!;
      const x = (p.xx * u + p.xy * v + p.du - page.u0) * this.first;
      const y = (p.yx * u + p.yy * v + p.dv - page.v0) * this.first;
      poses.set([x, y, p.yy / begun, (mirrored ? -p.yx : p.yx) / begun], 4 * i);
    });
    if (this.stays) poses.set([0, 0, 1, 0], 4 * items.length);
  }

  /** Nodes in which distances are to be exact. */
  private band(): number {
    const { padding, more = 0 } = this.options;
    return (padding + more) * this.first + SAFE + BAND;
  }

  /** How far apart shells are to lie on a page of so many nodes a unit. */
  private apartAt(perUnit: number): number {
    const { padding, more = 0 } = this.options;
    const unseen = this.stays ? unseenBetween(this.samples, padding * perUnit) : 0;
    return (padding + more) * perUnit + unseen + SAFE;
  }

  private posesNow(): Float32Array {
    return this.kernels.f32(this.poses, 4 * this.count);
  }

  /** Makes them larger until the work is done, or until it is stopped. @returns what it came to, if anything was sound */
  run(): { found: FoundLayout | null; stopped: boolean } {
    let stopped = false;
    try {
      this.enlarge();
    } catch (error) {
      if (!(error instanceof Stopped)) throw error;
      stopped = true;
    }
    const { best } = this;
    return { found: best && { scale: this.scaleAt(best.perUnit), placements: this.placements(best) }, stopped };
  }

  /** Pushes apart what lies too near, at the sizes there are. @returns where all come to lie, null where they do not come apart */
  pushedApart(): Placement[] | null {
    this.setPage(this.first);
    return !this.misfits && this.relax() ? this.placements({ perUnit: this.first, poses: this.posesNow() }) : null;
  }

  private enlarge(): void {
    const { work, draft } = this.options;
    const failures = draft ? 1 : Math.min(MOST_FAILURES, LEAST_FAILURES * this.items.length);
    let [shrink, grow, failed] = [SHRINK, GROW, 0];
    this.setPage(this.first);
    while (!this.isOver() && failed < failures) {
      const passes = this.separate();
      if (passes) {
        this.keep();
        failed = 0;
        if (passes < 10) shrink = Math.min(SHRINK_MOST, shrink * EASY);
        else if (passes > 60) shrink = Math.max(SHRINK_LEAST, shrink * HARD);
      } else {
        // A draft that is not apart yet is tried on larger pages, however often.
        if (this.best || !draft) failed++;
        shrink *= FAILED;
        if (shrink < SHRINK_LEAST) shrink = SHRINK_LEAST * (1 + 6 * this.next());
        this.goBack();
      }
      if (this.best && this.best.perUnit <= this.least) break;
      if (!this.best && this.perUnit * (1 + grow) > GROWN * this.first) break;
      this.setPage(this.best ? Math.max(this.least, this.best.perUnit * (1 - shrink)) : this.perUnit * (1 + grow));
      grow *= GROW_MORE;
      this.look(Math.min(1, this.kernels.code.settleWork() / work));
    }
  }

  private scaleAt = (perUnit: number): number => (this.begun * this.first) / perUnit;
  private isOver = (): boolean => this.kernels.code.settleWork() >= this.options.work;

  private keep(): void {
    const best = { perUnit: this.perUnit, poses: this.posesNow().slice() };
    this.best = best;
    this.onBest(this.scaleAt(best.perUnit), () => this.placements(best));
  }

  private goBack(): void {
    if (!this.best) return;
    this.posesNow().set(this.best.poses);
    this.perUnit = this.best.perUnit;
  }

  /** Sets how many nodes a unit of the page has; where shells lie on it stays, in shares of it. */
  private setPage(perUnit: number): void {
    const { page } = this.options;
    const ratio = perUnit / this.perUnit;
    const poses = this.posesNow();
    for (let i = 0; i < poses.length; i += 4) {
      poses[i]! *= ratio;
      poses[i + 1]! *= ratio;
    }
    this.perUnit = perUnit;
    this.stays?.write(this.records + RECORD * this.items.length, perUnit, this.band());
    const apart = this.apartAt(perUnit);
    const [w, h] = [page.w * perUnit - 2 * ROUNDED, page.h * perUnit - 2 * ROUNDED];
    this.misfits = this.kernels.code.settlePage(w, h, apart, this.table);
    if (this.misfits && this.options.free && this.turnToFit(w, h))
      this.misfits = this.kernels.code.settlePage(w, h, apart, this.table);
  }

  /** Turns shells that are larger than the page as they lie, as little as lets them in. @returns whether any was turned */
  private turnToFit(w: number, h: number): boolean {
    const poses = this.posesNow();
    let any = false;
    this.shapes.forEach(({ hull }, i) => {
      const [c0, s0] = [poses[4 * i + 2]!, poses[4 * i + 3]!];
      if (this.options.quarters[i] !== 4 || goesInto(hull, c0, s0, w, h)) return;
      for (let k = 1; k <= MOST_TURNS; k++)
        for (const angle of [k * TURN, -k * TURN]) {
          const [c, s] = [Math.cos(angle), Math.sin(angle)];
          const [cos, sin] = [c0 * c - s0 * s, s0 * c + c0 * s];
          if (!goesInto(hull, cos, sin, w, h)) continue;
          poses.set([cos, sin], 4 * i + 2);
          any = true;
          return;
        }
    });
    return any;
  }

  /** Pushes apart what lies too near. @returns the passes that took, 0 where it did not come apart */
  private separate(): number {
    if (this.misfits) return 0;
    if (this.relax()) return 1;
    const { work, draft } = this.options;
    // Of a draft only what it begins with is worth more.
    if (draft && this.best) return 0;
    const { code } = this.kernels;
    const { length } = this.items;
    const most = draft ? DRAFT_PATIENCE : length <= FEW ? FEW_PATIENCE : PATIENCE;
    const patience = Math.min(most, PATIENCE_EACH * length);
    const texel = (0.5 * this.perUnit) / this.first;
    const end = Math.min(work, code.settleWork() + Math.max(ONE_PAGE * work, PAGE_EACH * length));
    code.settleSeparate(this.depths);
    let [low, stall] = [Infinity, 0];
    for (let pass = 1; ; pass++) {
      const hits = code.settleHits(this.hit, this.marks, this.told);
      const cost = this.kernels.f32(this.told, 1)[0]!;
      if (!hits || cost <= 0) return pass + 1;
      if (cost < 0.97 * low) {
        low = cost;
        stall = 0;
      } else if (++stall > patience) return 0;
      if (code.settleWork() >= end) return 0;
      code.settleWeigh();
      const list = this.kernels.i32(this.hit, hits).slice();
      for (const shell of list) code.settleMove(shell, texel);
      this.look(Math.min(1, code.settleWork() / work));
    }
  }

  /** Pushes all apart together. @returns whether that was enough */
  private relax(): boolean {
    const { code } = this.kernels;
    const { free, draft } = this.options;
    const without = draft ? DRAFT_WITHOUT : WITHOUT_GAIN;
    const apart = this.apartAt(this.perUnit) + ALLOWED;
    let [least, since] = [Infinity, 0];
    for (let sweep = 0; sweep < SWEEPS; sweep++) {
      const worst = code.settleRelax(this.order, sweep % 4 === 0 ? 1 : 0, apart, ALLOWED, free ? 1 : 0);
      if (worst <= ALLOWED) return true;
      const sum = code.settleSum();
      if (sum < GAIN * least) {
        least = sum;
        since = 0;
      } else if (++since > without) return false;
      if (sweep % 8 === 7) this.look(Math.min(1, code.settleWork() / this.options.work));
    }
    return false;
  }

  private placements({ perUnit, poses }: { perUnit: number; poses: Float32Array }): Placement[] {
    const { page, unit } = this.options;
    const size = this.scaleAt(perUnit) * unit;
    return this.shapes.map(({ u, v, mirrored }, i) => {
      const [x, y] = [poses[4 * i]! + ROUNDED, poses[4 * i + 1]! + ROUNDED];
      const [c0, s0] = [poses[4 * i + 2]!, poses[4 * i + 3]!];
      const length = Math.hypot(c0, s0);
      const [c, s] = [(c0 / length) * size, (s0 / length) * size];
      const [xx, xy, yx, yy] = mirrored ? [-c, -s, -s, c] : [c, -s, s, c];
      return {
        xx,
        xy,
        yx,
        yy,
        du: page.u0 + x / perUnit - xx * u - xy * v,
        dv: page.v0 + y / perUnit - yx * u - yy * v,
      };
    });
  }
}

/** Whether a hull goes into a page of w x h, turned by an angle that is told by its cosine and sine. */
function goesInto(hull: Float32Array, c: number, s: number, w: number, h: number): boolean {
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let k = 0; k < hull.length; k += 2) {
    const [x, y] = [c * hull[k]! - s * hull[k + 1]!, s * hull[k]! + c * hull[k + 1]!];
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y);
  }
  return x1 - x0 <= w && y1 - y0 <= h;
}

const isMirrored = (p: Placement): boolean => p.xx * p.yy - p.xy * p.yx < 0;

/** The share of the page's sides to which it can be made smaller before a shell no longer goes in, as it may be turned. */
function shareOf(item: Item, { page, quarters, free }: SettleOptions, shell: number): number {
  const { u0, v0, u1, v1 } = boundsOf(item);
  const [w, h] = [u1 - u0, v1 - v0];
  if (free && quarters[shell] === 4) return Math.max(w, h) / Math.hypot(page.w, page.h);
  const stands = Math.max(w / page.w, h / page.h);
  return quarters[shell] === 4 ? Math.min(stands, Math.max(h / page.w, w / page.h)) : stands;
}
