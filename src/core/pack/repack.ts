import type { BitGrid, GridBox, GridPlace } from "./bit-grid";
import { type GridShape, longestRun } from "./grid-shapes";
import { randomBy } from "./random";
import type { PageCells } from "./sheet";

/** Where shapes lie on a page of so many columns and rows. */
export interface Laid extends PageCells {
  readonly places: readonly GridPlace[];
}

/** Shapes that are taken out at once, at the most; mostly there are fewer. */
const MOST_OUT = 10;
/** How far chance changes the order in which they are put back, largest first. */
const MIXED = 0.6;
/** How often a turn of a shape is passed over: what is put back otherwise comes to lie otherwise. */
const PASSED_OVER = 0.2;
/** What cells that lie at the very top count beside cells that are left out: what goes down leaves room above. */
const BY_HEIGHT = 0.03;
/** What a change for the worse may cost, shapes of mean size, so that it is still taken now and then. */
const TAKEN_WORSE = 0.03;
/** Changes after which the last layout that left nothing out is taken up again. */
const PATIENCE = 2500;

/**
 * Makes a page of cells smaller by a column or a row at a time: shapes that then stick out are put elsewhere, for which those
 * about some place are taken out with them, and put back in another order; a change that leaves out less is kept, others
 * now and then.
 *
 * Sources: ruin and recreate, Schrimpf, Schneider, Stamm-Wilbrandt, Dueck 2000; Gardeyn, Wauters, A goal-driven ruin and
 * recreate heuristic for the 2D variable-sized bin packing problem with guillotine constraints (2022); Christiaens, Vanden Berghe,
 * Slack induction by string removals for vehicle routing problems (2020), for what is passed over by chance.
 */
export class Repacking {
  private places: (GridPlace | null)[];
  /** By shape, cells: all of them, and the mean. */
  private readonly areas: readonly number[];
  private readonly mean: number;
  /** Cells of the longest run of all. */
  private readonly longest: number;
  private readonly next: () => number;
  private columns = 0;
  private rows = 0;
  /** Cells of what is left out. */
  private out = 0;
  /** The last layout that left nothing out. */
  private full: Laid;

  /**
   * @param shapes by shell, its turns: rough ones, whose cells no two share
   * @param start where they lie @param look called before each change, throws to stop
   * @param onLaid told of every smaller page that all of them lie on
   */
  constructor(
    private readonly grid: BitGrid,
    private readonly shapes: readonly (readonly GridShape[])[],
    private readonly start: Laid,
    seed: number,
    private readonly look: (share: number) => void,
    private readonly onLaid: (laid: Laid) => void,
  ) {
    this.next = randomBy(seed);
    this.areas = shapes.map(([shape]) => grid.cellsOf(shape!));
    this.mean = this.areas.reduce((a, b) => a + b, 0) / this.areas.length;
    this.longest = longestRun(shapes);
    this.places = shapes.map(() => null);
    this.full = start;
  }

  /** @param changes that are tried */
  run(changes: number): void {
    this.lay(this.start);
    for (let done = 0; done < changes && this.makeSmaller(); ) {
      done += this.fill(done, changes);
      if (this.out) this.lay(this.full);
      else {
        this.full = { columns: this.columns, rows: this.rows, places: this.places.map((place) => place!) };
        this.onLaid(this.full);
      }
    }
  }

  /** Puts all shapes where they lay. */
  private lay({ columns, rows, places }: Laid): void {
    const { grid } = this;
    grid.clear(this.longest);
    if (columns < grid.columns) grid.limit(columns);
    [this.columns, this.rows, this.out] = [columns, rows, 0];
    places.forEach((place, i) => {
      this.places[i] = place;
      grid.take(this.shapeOf(i, place), place);
    });
  }

  /** Takes a column away, or a row, and puts what stuck out elsewhere where it goes. @returns whether all could still lie on it */
  private makeSmaller(): boolean {
    const { start, shapes, places } = this;
    const isWide = this.columns / start.columns >= this.rows / start.rows;
    const [columns, rows] = isWide ? [this.columns - 1, this.rows] : [this.columns, this.rows - 1];
    if (!shapes.every((turns) => turns.some(({ w, h }) => w <= columns && h <= rows))) return false;
    [this.columns, this.rows] = [columns, rows];
    const beyond = places.flatMap((place, i) => {
      const { w, h } = this.shapeOf(i, place!);
      return place!.x + w > columns || place!.y + h > rows ? [i] : [];
    });
    for (const i of beyond) this.takeOut(i);
    // Only now: what is taken out frees its cells.
    if (isWide) this.grid.limit(columns);
    for (const i of this.mixed(beyond)) this.putIn(i);
    return true;
  }

  /** Changes the layout until nothing is left out, or for as long as that is of use. @returns how many changes that took */
  private fill(done: number, most: number): number {
    let cost = this.cost();
    let changes = 0;
    this.grid.mark();
    for (; this.out && changes < PATIENCE && done + changes < most; changes++) {
      this.look((done + changes) / most);
      const was = { places: this.places.slice(), out: this.out };
      this.change();
      const now = this.cost();
      if (now <= cost || this.next() < Math.exp((cost - now) / (TAKEN_WORSE * this.mean))) {
        cost = now;
        this.grid.mark();
        continue;
      }
      ({ places: this.places, out: this.out } = was);
      this.grid.goBack();
    }
    return Math.max(1, changes);
  }

  private cost(): number {
    let sum = 0;
    this.places.forEach((place, i) => {
      if (place) sum += this.areas[i]! * (place.y + this.shapeOf(i, place).h / 2);
    });
    return this.out + (BY_HEIGHT * sum) / this.rows;
  }

  /** Takes out those about some place, and puts them back with what is left out. */
  private change(): void {
    const { next } = this;
    const missing = this.places.flatMap((place, i) => (place ? [] : [i]));
    const some = this.nearest(next() * this.columns, next() * this.rows, 1 + Math.floor(MOST_OUT * next() * next()));
    // What is left out had no place before: it can only lie where something was taken out.
    const freed = { x0: Infinity, y0: Infinity, x1: 0, y1: 0 };
    for (const i of some) {
      const { x, y } = this.places[i]!;
      const { w, h } = this.shapeOf(i, this.places[i]!);
      freed.x0 = Math.min(freed.x0, x);
      freed.y0 = Math.min(freed.y0, y);
      freed.x1 = Math.max(freed.x1, x + w);
      freed.y1 = Math.max(freed.y1, y + h);
      this.takeOut(i);
    }
    const wasMissing = new Set(missing);
    for (const i of this.mixed([...missing, ...some])) this.putIn(i, wasMissing.has(i) ? freed : undefined);
  }

  /** The shapes on the page whose boxes lie nearest to a place. */
  private nearest(x: number, y: number, count: number): number[] {
    const near: { i: number; far: number }[] = [];
    this.places.forEach((place, i) => {
      if (!place) return;
      const { w, h } = this.shapeOf(i, place);
      const dx = Math.max(0, place.x - x, x - place.x - w);
      const dy = Math.max(0, place.y - y, y - place.y - h);
      const far = dx * dx + dy * dy;
      if (near.length === count && far >= near.at(-1)!.far) return;
      if (near.length === count) near.pop();
      let k = near.length;
      while (k > 0 && near[k - 1]!.far > far) k--;
      near.splice(k, 0, { i, far });
    });
    return near.map(({ i }) => i);
  }

  /** The largest first, more or less. */
  private mixed(shells: readonly number[]): number[] {
    const { next, areas } = this;
    const by = MIXED * next();
    return shells
      .map((i) => ({ i, size: areas[i]! * Math.exp(by * (next() + next() - 1)) }))
      .sort((a, b) => b.size - a.size || a.i - b.i)
      .map(({ i }) => i);
  }

  private shapeOf(i: number, { turn }: GridPlace): GridShape {
    return this.shapes[i]![turn]!;
  }

  private takeOut(i: number): void {
    const place = this.places[i]!;
    this.grid.free(this.shapeOf(i, place), place);
    this.places[i] = null;
    this.out += this.areas[i]!;
  }

  private putIn(i: number, within?: GridBox): void {
    const turns = this.shapes[i]!;
    const some = turns.flatMap((_, turn) => (turns.length > 1 && this.next() < PASSED_OVER ? [] : [turn]));
    const put = this.grid.put(turns, this.rows, within, some);
    if (!put) return;
    this.places[i] = put;
    this.out -= this.areas[i]!;
  }
}
