import type { GridPlace } from "./bit-grid";
import type { Laying } from "./sheet";

/** How shells are chosen. */
export interface Choice {
  /** Of how many that come next in the order the one that fits best is put first. */
  readonly among: number;
  /** What contact all round is worth, in sides of a square as large as the box about a shape. */
  readonly worth: number;
  /** What a shape is put sooner for being large, in the same. */
  readonly largeFirst: number;
}

/** Where shells lie. */
export interface LaidInOrder {
  /** How they were put one after another. */
  readonly order: readonly number[];
  /** By shell. */
  readonly places: readonly GridPlace[];
  /** The row before which all of them end. */
  readonly height: number;
}

/** A turn of a shell that may come next. */
interface Candidate {
  readonly shell: number;
  readonly turn: number;
  /** The least score that it may have; what it has, once that is looked up. */
  score: number;
  isKnown: boolean;
  x: number;
  y: number;
}

/** Scores this near are one. */
const SAME = 1e-9;

/**
 * Lays shapes one after another: of those that come next always the one that fits best goes to where it fits best. A place
 * that was found stays the best there is but for what was put near it since, and one that was taken leaves none that is
 * better: so few places are looked for anew.
 *
 * Sources: best fit, Burke, Kendall, Whitwell, A new placement heuristic for the orthogonal stock-cutting problem (2004); what is
 * looked up again, Minoux, Accelerated greedy algorithms for maximizing submodular set functions (1978).
 *
 * @param order of the shells, the largest first @param look called before each, throws to stop
 * @returns null where one does not go onto the sheet
 */
export function fitBest(
  laying: Laying,
  order: readonly number[],
  choice: Choice,
  look: (share: number) => void,
): LaidInOrder | null {
  return new BestFit(laying, order, choice).run(look);
}

class BestFit {
  private readonly places: GridPlace[];
  private candidates: Candidate[] = [];
  /** How many of the order are candidates, or were. */
  private taken = 0;

  constructor(
    private readonly laying: Laying,
    private readonly order: readonly number[],
    private readonly choice: Choice,
  ) {
    this.places = new Array(order.length);
  }

  run(look: (share: number) => void): LaidInOrder | null {
    const { laying, order, places, choice } = this;
    laying.grid.clear(laying.longest);
    for (let k = 0; k < choice.among; k++) this.takeNext();
    const put: number[] = [];
    let height = 0;
    for (let done = 0; done < order.length; done++) {
      look(done / order.length);
      const best = this.best();
      if (!best) return null;
      const { shell, turn, x, y } = best;
      const shape = this.shapeOf(best);
      laying.grid.take(shape, { x, y, turn });
      places[shell] = { turn, x, y };
      put.push(shell);
      height = Math.max(height, y + shape.h);
      this.candidates = this.candidates.filter((other) => other.shell !== shell);
      this.lookAbout(best);
      this.takeNext();
    }
    return { order: put, places, height };
  }

  private shapeOf = ({ shell, turn }: Candidate) => this.laying.shapes[shell]![turn]!;

  private takeNext(): void {
    const shell = this.order[this.taken++];
    if (shell === undefined) return;
    this.laying.shapes[shell]!.forEach((_, turn) => {
      this.candidates.push({ shell, turn, score: -Infinity, isKnown: false, x: 0, y: 0 });
    });
  }

  /** What counts of a candidate: the less the better. */
  private keyOf(candidate: Candidate): number {
    const { w, h } = this.shapeOf(candidate);
    return candidate.score - this.choice.largeFirst * Math.sqrt(w * h);
  }

  /** The candidate that fits best. Only what may be better than all others is looked up. */
  private best(): Candidate | null {
    const { grid } = this.laying;
    const all = { x0: 0, y0: 0, x1: this.laying.columns, y1: grid.rows };
    for (;;) {
      let [best, least] = [null as Candidate | null, Infinity];
      for (const candidate of this.candidates) {
        const key = this.keyOf(candidate);
        if (key < least) [best, least] = [candidate, key];
      }
      if (!best || best.isKnown) return best;
      const found = grid.closest(this.shapeOf(best), all, this.choice.worth, Infinity);
      // What goes nowhere, as it is turned, is not asked for again.
      if (found) Object.assign(best, found, { isKnown: true });
      else best.score = Infinity;
    }
  }

  /** Looks for better places of all candidates beside a shape that was put. */
  private lookAbout(put: Candidate): void {
    const { laying, choice } = this;
    const { w, h } = this.shapeOf(put);
    for (const candidate of this.candidates) {
      if (candidate.score === -Infinity) continue;
      const shape = this.shapeOf(candidate);
      const about = {
        x0: put.x - shape.w - 1,
        y0: put.y - shape.h - 1,
        x1: Math.min(laying.columns, put.x + w + shape.w + 1),
        y1: put.y + h + shape.h + 1,
      };
      const found = laying.grid.closest(shape, about, choice.worth, candidate.score + SAME);
      if (found) Object.assign(candidate, found, { isKnown: true });
      // Where it was is taken, or was not seen among others: elsewhere it is no better.
      else if (liesIn(candidate, about)) candidate.isKnown = false;
    }
  }
}

const liesIn = ({ x, y }: Candidate, box: { x0: number; y0: number; x1: number; y1: number }): boolean =>
  x >= box.x0 && y >= box.y0 && x < box.x1 && y < box.y1;
