import type { Kernels } from "../kernels/kernels";
import { forKernels, type GridShape, levelOf } from "./grid-shapes";
import { runsOf } from "./runs";

/** A place of a shape: which of its turns, and its lower left corner. */
export interface GridPlace {
  readonly turn: number;
  readonly x: number;
  readonly y: number;
}

/** Columns and rows, from the first to before the last. */
export interface GridBox {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** A place, and its score: the less the better. */
export interface ScoredPlace {
  readonly x: number;
  readonly y: number;
  readonly score: number;
}

/** A sheet of cells as bits, as wide as it is told and open above, on which shapes are put as low as they go. */
export class BitGrid {
  private readonly grid: number;
  private readonly bytes: number;
  /** The sheet as it is when it is cleared, where something stays on it. */
  private blank: number | null = null;
  /** Columns that are free when it is cleared. */
  private narrowed: number;
  /** The sheet as it was at the last mark, and the rows that were changed since, from the first to before the last. */
  private marked: number | null = null;
  private first = 0;
  private last = 0;
  /** Of each row, the levels that are kept. */
  private levels: number;

  /**
   * @param columns a multiple of 64
   * @param tall places are found sooner, and cells taken slower: for sheets that are filled once and cleared then
   */
  constructor(
    private readonly kernels: Kernels,
    readonly columns: number,
    readonly rows: number,
    tall = false,
  ) {
    this.narrowed = columns;
    this.levels = levelOf(columns) + 1;
    this.bytes = kernels.code.gridBytes(rows, columns / 64, this.levels, tall ? 1 : 0);
    this.grid = kernels.take(this.bytes);
    kernels.code.beginGrid(this.grid, rows, columns / 64, this.levels, tall ? 1 : 0);
  }

  /** @param longest cells of the longest run of all shapes that are put on it then: what longer ones need is not kept */
  clear(longest: number): void {
    const { code } = this.kernels;
    this.levels = levelOf(longest) + 1;
    code.keepLevels(this.grid, this.levels);
    if (this.blank === null) code.freeAll(this.grid);
    else code.copyAll(this.grid, this.blank);
    if (this.narrowed < this.columns) code.limitTo(this.grid, this.narrowed, this.blank === null ? this.narrowed : -1);
    [this.first, this.last] = [0, this.rows];
  }

  /** What is taken now stays taken when it is cleared. */
  keep(): void {
    this.blank = this.kernels.take(this.bytes);
    new Uint8Array(this.kernels.code.memory.buffer).copyWithin(this.blank, this.grid, this.grid + this.bytes);
  }

  /** Only the first columns are free from when it is cleared next. */
  narrow(columns: number): void {
    this.narrowed = columns;
  }

  /** What is taken and freed from now on may be undone; not on a tall sheet. */
  mark(): void {
    const { code } = this.kernels;
    if (this.marked === null) {
      this.marked = this.kernels.take(this.bytes);
      code.beginGrid(this.marked, this.rows, this.columns / 64, levelOf(this.columns) + 1, 0);
      [this.first, this.last] = [0, this.rows];
    }
    code.keepLevels(this.marked, this.levels);
    if (this.last > this.first) code.copyRows(this.marked, this.grid, this.first, this.last);
    [this.first, this.last] = [this.rows, 0];
  }

  /** Undoes what was taken and freed since the last mark. */
  goBack(): void {
    if (this.marked !== null && this.last > this.first)
      this.kernels.code.copyRows(this.grid, this.marked, this.first, this.last);
    [this.first, this.last] = [this.rows, 0];
  }

  /** Leaves only some of the columns, the first ones; what is beyond stays taken. */
  limit(columns: number): void {
    this.kernels.code.limitTo(this.grid, columns, -1);
    [this.first, this.last] = [0, this.rows];
  }

  /** How many cells a shape takes. */
  cellsOf({ grown, grownCount }: GridShape): number {
    const runs = this.kernels.i32(grown, 4 * grownCount);
    let count = 0;
    for (let k = 2; k < runs.length; k += 4) count += runs[k]!;
    return count;
  }

  /** Takes cells of a frame that lies at (x, y), as far as they are on the sheet. */
  takeCells(cells: Uint8Array, w: number, h: number, x: number, y: number): void {
    this.kernels.during(() => {
      const runs = runsOf(cells, w, h);
      this.setRuns(this.kernels.put(forKernels(runs, 0, 0, 0)), runs.length / 3, x, y, h, true);
    });
  }

  private setRuns(runs: number, count: number, x: number, y: number, h: number, taken: boolean): void {
    this.first = Math.min(this.first, Math.max(0, y));
    this.last = Math.max(this.last, Math.min(this.rows, y + h));
    this.kernels.code.setRuns(this.grid, runs, count, x, y, h, taken ? 1 : 0);
  }

  /**
   * Puts a shape where it ends lowest, then leftmost, of all its turns.
   *
   * @param below the row above which it may not end @param within what it is to lie on at least in part
   * @param some which of its turns
   */
  put(
    turns: readonly GridShape[],
    below: number,
    within?: GridBox,
    some: Iterable<number> = turns.keys(),
  ): (GridPlace & { end: number }) | null {
    let best: (GridPlace & { end: number }) | null = null;
    const { x0, y0, x1, y1 } = within ?? { x0: 0, y0: 0, x1: this.columns, y1: this.rows };
    for (const turn of some) {
      const shape = turns[turn]!;
      const lastY = Math.min(Math.min(this.rows, best ? best.end : below) - shape.h, y1 - 1);
      const lastX = Math.min(this.columns - shape.w, x1 - 1);
      const [firstX, firstY] = [Math.max(0, x0 + 1 - shape.w), Math.max(0, y0 + 1 - shape.h)];
      if (lastX < firstX || lastY < firstY) continue;
      const at = this.kernels.code.fitRuns(
        this.grid,
        shape.body,
        shape.bodyCount,
        shape.h,
        firstX,
        lastX,
        firstY,
        lastY,
      );
      if (at < 0) continue;
      const [x, y] = [at & 0xffff, at >> 16];
      const end = y + shape.h;
      if (!best || end < best.end || (end === best.end && x < best.x)) best = { turn, x, y, end };
    }
    if (best) this.take(turns[best.turn]!, best);
    return best;
  }

  /**
   * Puts a shape where the row it ends in, less what contact with others brings, is least.
   *
   * @param worth what contact all round is worth, in sides of a square as large as the box about the shape
   */
  putClose(turns: readonly GridShape[], below: number, worth: number): (GridPlace & { end: number }) | null {
    let best: (GridPlace & { end: number }) | null = null;
    let least = Infinity;
    const all = { x0: 0, y0: 0, x1: this.columns, y1: below };
    for (const [turn, shape] of turns.entries()) {
      const found = this.closest(shape, all, worth, least);
      if (!found) continue;
      least = found.score;
      best = { turn, x: found.x, y: found.y, end: found.y + shape.h };
    }
    if (best) this.take(turns[best.turn]!, best);
    return best;
  }

  /**
   * Where the row that a shape ends in, less what contact with others brings, is least, and that score.
   *
   * @param within which box it is to lie @param worth as for putClose @param limit scores as high are no use
   */
  closest(shape: GridShape, within: GridBox, worth: number, limit: number): ScoredPlace | null {
    const { body, bodyCount, w, h, rim, rimCount } = shape;
    const [firstX, firstY] = [Math.max(0, within.x0), Math.max(0, within.y0)];
    const edge = this.columns - w;
    const [lastX, lastY] = [Math.min(edge, within.x1 - w), Math.min(this.rows, within.y1) - h];
    if (lastX < firstX || lastY < firstY) return null;
    const { code } = this.kernels;
    const gain = worth * Math.sqrt(w * h);
    const box = [firstX, lastX, firstY, lastY, edge] as const;
    const at = code.fitContact(this.grid, body, bodyCount, h, ...box, rim, rimCount, gain, limit);
    return at < 0 ? null : { x: at & 0xffff, y: at >> 16, score: code.contactScore() };
  }

  /**
   * Puts a shape where its frame comes to lie nearest to where it is wanted.
   *
   * @param wanted by turn, the column and row of its lower left corner
   */
  putNear(turns: readonly GridShape[], wanted: readonly (readonly [x: number, y: number])[]): GridPlace | null {
    let best: (GridPlace & { far: number }) | null = null;
    for (const [turn, shape] of turns.entries()) {
      const [lastX, lastY] = [this.columns - shape.w, this.rows - shape.h];
      if (lastX < 0 || lastY < 0) continue;
      const [wx, wy] = wanted[turn]!;
      const { code } = this.kernels;
      const at = code.fitNear(this.grid, shape.body, shape.bodyCount, shape.h, lastX, lastY, wx, wy);
      if (at < 0) continue;
      const [x, y] = [at & 0xffff, at >> 16];
      const far = Math.hypot(x - wx, y - wy);
      if (!best || far < best.far) best = { turn, x, y, far };
    }
    if (best) this.take(turns[best.turn]!, best);
    return best;
  }

  /** Takes the cells of a shape at a place. */
  take(shape: GridShape, { x, y }: GridPlace): void {
    this.setRuns(shape.grown, shape.grownCount, x + shape.x, y + shape.y, shape.rows, true);
  }

  /** Frees the cells of a shape that lies at a place: nothing else may have taken any of them. */
  free(shape: GridShape, { x, y }: GridPlace): void {
    this.setRuns(shape.grown, shape.grownCount, x + shape.x, y + shape.y, shape.rows, false);
  }
}
