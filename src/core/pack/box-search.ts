import { type BoxPlace, FreeRectangles, RULES, type Rule } from "./free-rectangles";
import { largestScale } from "./largest-scale";
import type { OrderOptions } from "./order-search";
import { after, type FoundLayout, type Placement, roomOf } from "./page";
import { randomBy } from "./random";
import { boundsOf, type Item } from "./raster";
import type { Way } from "./ways";

/** The box about a shell, in the way in which it is smallest. */
interface Box {
  readonly way: Way;
  readonly w: number;
  readonly h: number;
  readonly mayTurn: boolean;
}

/** In which order boxes are put, by which rule, and of how many that come next the one that fits best goes first. */
interface BoxPlan {
  readonly order: readonly number[];
  readonly rule: Rule;
  readonly choice: number;
}

/** More boxes than these take too long: the largest free rectangles are many. */
const MOST_BOXES = 600;
/** Layouts that are tried where what boxes come to is good: by effort, at the most, and of many shells. */
const [TRIES, TRIES_OF_MANY] = [15_000, 150_000];
/** Of what shells come to in another way, what their boxes have to come to for more to be tried. */
const WORTH_IT = 0.93;
/** Plans of those by keys that are tried at every scale. */
const BEST_PLANS = 4;
/** Scales looked at for the largest at which one of them fits, and how near they are then. */
const [BISECTED, NEAR] = [14, 1.002];
const FIRST_FILL = 0.75;
/** Of how many boxes that come next the one that fits best is taken. */
const CHOICES = [1, 4, 16] as const;
/** Of the page, how much more may be left over for a change to be taken, at first. */
const WORSE = 0.01;
/** How much larger than what fits is tried, at the least and at the most, and how often before it is another. */
const [NEXT, FARTHEST, PATIENCE] = [0.0005, 0.004, 150];

/**
 * Packs the boxes about shells, which is better than their outlines where those are boxes or nearly so: places are not
 * bound to cells. By several keys and rules, then by changing the best order.
 *
 * @param known the scale that was come to in another way: where boxes come nowhere near it, they are given up
 * @param onStep told the share done, throws to stop @param onBest told of every layout that fits at a larger scale
 */
export function searchBoxes(
  items: readonly Item[],
  options: OrderOptions,
  known: number,
  onStep: (share: number) => void,
  onBest: (found: FoundLayout) => void,
): void {
  if (options.page.w > 0 && options.page.h > 0 && items.length <= MOST_BOXES)
    new BoxSearch(items, options, onStep, onBest).run(known);
}

class BoxSearch {
  private readonly boxes: readonly Box[];
  private readonly next: () => number;
  private plans: BoxPlan[];
  private fits = 0;
  private done = 0;
  private readonly tries: number;

  constructor(
    items: readonly Item[],
    private readonly options: OrderOptions,
    private readonly onStep: (share: number) => void,
    private readonly onBest: (found: FoundLayout) => void,
  ) {
    this.next = randomBy(options.seed ?? 0);
    this.boxes = options.ways.map(boxOf);
    this.tries = Math.floor(options.effort * Math.min(TRIES, TRIES_OF_MANY / items.length));
    this.plans = KEYS.flatMap((key) => {
      const size = this.boxes.map(key);
      const order = items.map((_, i) => i).sort((a, b) => size[b]! - size[a]! || a - b);
      return RULES.flatMap((rule) => CHOICES.map((choice) => ({ order, rule, choice })));
    });
  }

  run(known: number): void {
    const { fixed, page, unit, padding } = this.options;
    const size = known * unit;
    const taken = this.boxes.reduce((sum, { w, h }) => sum + (w * size + padding) * (h * size + padding), 0);
    // At that scale, and at larger ones, boxes take more than there is.
    if (known && taken > roomOf(page, padding)) return;
    const area = this.boxes.reduce((sum, { w, h }) => sum + w * h, 0);
    const first = Math.sqrt((FIRST_FILL * page.w * page.h) / (area || 1e-12)) / unit;
    const at = (scale: number) => (this.tryPlans(scale) ? true : null);
    if (fixed !== undefined) at(fixed);
    else largestScale(at, first, Infinity, BISECTED, NEAR);
    if (fixed === undefined && this.fits >= WORTH_IT * known) this.improve();
  }

  /** Tries the best plans at a scale, all of them at first. @returns whether one fits */
  private tryPlans(scale: number): boolean {
    const left = this.plans.map((plan) => this.lay(plan, scale, Infinity));
    const order = left.map((_, i) => i).sort((a, b) => left[a]! - left[b]! || a - b);
    this.plans = order.slice(0, BEST_PLANS).map((i) => this.plans[i]!);
    return left[order[0]!] === 0;
  }

  /** Changes the best order until it fits at a larger scale, and so on. */
  private improve(): void {
    const { page } = this.options;
    let [plan] = this.plans as [BoxPlan];
    let [scale, least, since] = [0, 0, PATIENCE];
    for (let k = 0; k < this.tries; k++) {
      if (least === 0 || since >= PATIENCE) {
        scale = this.fits * (1 + NEXT + FARTHEST * this.next());
        least = this.lay(plan, scale, Infinity);
        since = 0;
      }
      // A little worse is taken as well, less and less so: what is better lies behind it.
      const worse = WORSE * page.w * page.h * (1 - k / this.tries) * this.next() ** 2;
      const changed = this.changed(plan);
      const left = this.lay(changed, scale, least + worse);
      since++;
      if (left > least + worse) continue;
      [plan, least] = [changed, left];
    }
  }

  /** Puts all boxes, one after another. @param most more area that is left over is no use @returns the area that was left over, 0 where all fit */
  private lay({ order, rule, choice }: BoxPlan, scale: number, most: number): number {
    this.onStep(Math.min(1, this.done++ / (this.tries + BISECTED * BEST_PLANS)));
    const { boxes } = this;
    const { page, padding, unit, obstacles = [] } = this.options;
    const [size, half] = [scale * unit, padding / 2];
    const least = boxes.reduce((a, b) => Math.min(a, b.w, b.h), Infinity) * size + padding;
    const free = new FreeRectangles(page.w + padding, page.h + padding, least);
    for (const item of obstacles) {
      const { u0, v0, u1, v1 } = boundsOf(item);
      const [x, y] = [half - page.u0, half - page.v0];
      free.take(u0 + x - half, v0 + y - half, u1 + x + half, v1 + y + half);
    }
    const places: BoxPlace[] = new Array(order.length);
    const waiting = [...order];
    let left = 0;
    for (let from = 0; from < waiting.length; from++) {
      let [best, at]: [BoxPlace | null, number] = [null, from];
      for (let k = from; k < Math.min(waiting.length, from + choice); k++) {
        const { w, h, mayTurn } = boxes[waiting[k]!]!;
        const place = free.find(w * size + padding, h * size + padding, mayTurn, rule);
        if (place && (!best || place.score < best.score || (place.score === best.score && place.second < best.second)))
          [best, at] = [place, k];
      }
      // What is taken before its turn leaves its place to the one whose turn it was.
      const i = waiting[at]!;
      waiting.copyWithin(from + 1, from, at);
      waiting[from] = i;
      const [w, h] = [boxes[i]!.w * size + padding, boxes[i]!.h * size + padding];
      if (best) {
        places[i] = best;
        free.take(best.x, best.y, best.x + (best.turned ? h : w), best.y + (best.turned ? w : h));
      } else left += w * h;
      if (left > most) return Infinity;
    }
    if (!left && scale > this.fits) {
      this.fits = scale;
      this.onBest({ scale, placements: places.map((place, i) => this.placement(place, boxes[i]!, size)) });
    }
    return left;
  }

  private placement({ x, y, turned }: BoxPlace, { way }: Box, size: number): Placement {
    const { page } = this.options;
    const { u0, v0, v1 } = boundsOf(way.item);
    const [u, v] = [page.u0 + x, page.v0 + y];
    // By a quarter turn (u, v) goes to (-v, u).
    const put: Placement = turned
      ? { xx: 0, xy: -size, yx: size, yy: 0, du: u + v1 * size, dv: v - u0 * size }
      : { xx: size, xy: 0, yx: 0, yy: size, du: u - u0 * size, dv: v - v0 * size };
    return after(way.by, put);
  }

  /** A plan with one thing changed: of its order, or now and then its rule and its choice. */
  private changed({ order, rule, choice }: BoxPlan): BoxPlan {
    const { next } = this;
    const some = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
    if (next() < 0.1) return { order, rule: some(RULES), choice: some(CHOICES) };
    const out = [...order];
    const n = out.length;
    const i = Math.floor(next() * n);
    const far = next() < 0.5 ? n / 4 : n - 1;
    const j = (i + 1 + Math.floor(next() * far)) % n;
    if (next() < 0.5) [out[i], out[j]] = [out[j]!, out[i]!];
    else out.splice(j, 0, ...out.splice(i, 1));
    return { order: out, rule, choice };
  }
}

type Key = (box: Box) => number;

/** What boxes are put by, the largest first. */
const KEYS: readonly Key[] = [
  ({ w, h }) => w * h,
  ({ w, h }) => Math.max(w, h),
  ({ w, h }) => Math.min(w, h),
  ({ w, h }) => w + h,
];

function boxOf(ways: readonly Way[]): Box {
  let best: Box | null = null;
  for (const way of ways) {
    const { u0, v0, u1, v1 } = boundsOf(way.item);
    const [w, h] = [u1 - u0, v1 - v0];
    if (!best || w * h < best.w * best.h) best = { way, w, h, mayTurn: way.quarters.includes(1) };
  }
  return best!;
}
