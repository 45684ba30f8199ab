import type { Kernels } from "../kernels/kernels";
import { type Mask, rasterise, rasteriseMiddles } from "./raster";
import { halfTurnRuns, longestFirst, quarterTurnRuns, runsOf } from "./runs";
import type { Quarter, Way } from "./ways";

/** A shape as it may be put: its cells, and those nearer to it than the padding, as runs in the memory of kernels. */
export interface GridShape {
  readonly w: number;
  readonly h: number;
  readonly body: number;
  readonly bodyCount: number;
  /** Cells of the longest of its runs. */
  readonly longest: number;
  readonly grown: number;
  readonly grownCount: number;
  /** Where the frame of the grown cells lies from the corner of the shape, and its rows. */
  readonly x: number;
  readonly y: number;
  readonly rows: number;
  /** As it stands without a quarter turn. */
  readonly frame: Frame;
  /** Some of the cells just outside of the body, by which contact is told; 2 numbers each, from the corner of the shape. */
  readonly rim: number;
  readonly rimCount: number;
  /** The way it is turned or mirrored, by its number, and the quarter from there. */
  readonly way: number;
  readonly quarter: Quarter;
}

/** The frame that a shell's cells lie in: its size, and the cells between it and the shell's box. */
export type Frame = Pick<Mask, "w" | "h" | "pad">;

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

/** A sheet of cells as bits, as wide as it is told and open above, on which shapes are put as low as they go. */
export class BitGrid {
  private readonly grid: number;
  private readonly bytes: number;
  /** The sheet as it is when it is cleared, where something stays on it. */
  private blank: number | null = null;
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
    [this.first, this.last] = [0, this.rows];
  }

  /** What is taken now stays taken when it is cleared. */
  keep(): void {
    this.blank ??= this.kernels.take(this.bytes);
    new Uint8Array(this.kernels.code.memory.buffer).copyWithin(this.blank, this.grid, this.grid + this.bytes);
  }

  /** Clears it but for its last columns, which stay taken from now on. */
  narrow(columns: number): void {
    const { code } = this.kernels;
    code.keepLevels(this.grid, levelOf(this.columns) + 1);
    code.freeAll(this.grid);
    if (columns < this.columns) this.limit(columns);
    this.keep();
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
    const runs = new Int32Array(3 * this.rows);
    for (let row = 0; row < this.rows; row++) runs.set([row, 0, this.columns - columns], 3 * row);
    this.takeRuns(runs, columns, 0, this.rows);
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
    this.takeRuns(runsOf(cells, w, h), x, y, h);
  }

  private takeRuns(runs: Int32Array, x: number, y: number, h: number): void {
    this.kernels.during(() => {
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
    for (const [turn, shape] of turns.entries()) {
      const [lastX, lastY] = [this.columns - shape.w, Math.min(this.rows, below) - shape.h];
      if (lastX < 0 || lastY < 0) continue;
      const { code } = this.kernels;
      const { body, bodyCount, h, rim, rimCount } = shape;
      const gain = worth * Math.sqrt(shape.w * h);
      const at = code.fitContact(this.grid, body, bodyCount, lastX, lastY, h, rim, rimCount, gain, least);
      if (at < 0) continue;
      least = code.contactScore();
      const [x, y] = [at & 0xffff, at >> 16];
      best = { turn, x, y, end: y + h };
    }
    if (best) this.take(turns[best.turn]!, best);
    return best;
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

/** Cells of the longest run of some shapes, in all of their turns. */
export const longestRun = (shapes: readonly (readonly GridShape[])[]): number =>
  shapes.reduce((most, turns) => turns.reduce((own, { longest }) => Math.max(own, longest), most), 1);

/** How shells are made into cells. */
export interface ShapeOptions {
  /** They are to be put by contact. */
  readonly close?: boolean;
  /**
   * By the middles of cells: what is put may lie nearer than the padding, by less than a cell. It is what lies about a shape
   * besides half the padding, cells: for some of what rounding takes.
   */
  readonly rough?: number | undefined;
}

/**
 * The turns of a shell at a size, laid into the memory of kernels.
 *
 * @param side cells per unit @param padding in cells
 */
export const gridShapes = (
  kernels: Kernels,
  ways: readonly Way[],
  side: number,
  padding: number,
  options: ShapeOptions = {},
): GridShape[] => ways.flatMap((way, number) => shapesOfWay(kernels, way, number, side, padding, options));

function shapesOfWay(
  kernels: Kernels,
  { item, quarters }: Way,
  way: number,
  side: number,
  padding: number,
  { close = false, rough }: ShapeOptions,
): GridShape[] {
  const mask = rough === undefined ? rasterise(item, side, padding) : rasteriseMiddles(item, side, padding / 2 + rough);
  const { body, grown, w, h, pad } = mask;
  const shapeOf = (own: Int32Array, wide: Int32Array, rows: number, quarter: Quarter): GridShape =>
    gridShape(kernels, own, wide, close, { rows, frame: { w, h, pad }, way, quarter });
  // Rough shapes take what they are tested by.
  const both = <T>(of: T, other: T, runs: (of: T) => Int32Array): [Int32Array, Int32Array] => {
    const own = runs(of);
    return [own, other === of ? own : runs(other)];
  };
  const rows = both(body, grown, (cells) => runsOf(cells, w, h));
  const [own, wide] = both(...rows, (runs) => longestFirst(runs, w));
  const shapes = [shapeOf(own, wide, h, 0)];
  if (quarters.includes(2)) shapes.push(shapeOf(halfTurnRuns(own, w, h), halfTurnRuns(wide, w, h), h, 2));
  if (!quarters.includes(1)) return shapes;
  const [turned, wider] = both(...rows, (runs) => longestFirst(quarterTurnRuns(runs, w, h), h));
  shapes.splice(1, 0, shapeOf(turned, wider, w, 1));
  return [...shapes, shapeOf(halfTurnRuns(turned, h, w), halfTurnRuns(wider, h, w), w, 3)];
}

function gridShape(
  kernels: Kernels,
  body: Int32Array,
  grown: Int32Array,
  close: boolean,
  lies: Pick<GridShape, "rows" | "frame" | "way" | "quarter">,
): GridShape {
  const { x0, y0, x1, y1 } = boxOf(body);
  const rim = close ? rimOf(body, x0, y0, x1 - x0, y1 - y0) : new Int32Array(0);
  return {
    rim: kernels.put(rim),
    rimCount: rim.length / 2,
    w: x1 - x0,
    h: y1 - y0,
    body: kernels.put(forKernels(body, x0, y0, y1 - y0)),
    bodyCount: body.length / 3,
    longest: longestOf(body),
    grown: kernels.put(forKernels(grown, 0, 0, 0)),
    grownCount: grown.length / 3,
    x: -x0,
    y: -y0,
    ...lies,
  };
}

/** Cells of a rim that are kept. */
const MOST_RIM = 72;

/** Cells just outside of a shape of runs, above, below and at the ends of each: spread over all of them where they are many. */
function rimOf(runs: Int32Array, x0: number, y0: number, w: number, h: number): Int32Array {
  const frame = w + 2;
  const cells = new Uint8Array(frame * (h + 2));
  for (let k = 0; k < runs.length; k += 3) {
    const at = (runs[k]! - y0 + 1) * frame + 1 - x0;
    cells.fill(1, at + runs[k + 1]!, at + runs[k + 2]!);
  }
  const found: number[] = [];
  for (let y = 0, at = 0; y < h + 2; y++)
    for (let x = 0; x < frame; x++, at++)
      if (!cells[at] && (cells[at - 1] || cells[at + 1] || cells[at - frame] || cells[at + frame]))
        found.push(x - 1, y - 1);
  const count = found.length / 2;
  const kept = Math.min(count, MOST_RIM);
  const out = new Int32Array(2 * kept);
  for (let k = 0; k < kept; k++) {
    const from = Math.floor((k * count) / kept);
    out[2 * k] = found[2 * from]!;
    out[2 * k + 1] = found[2 * from + 1]!;
  }
  return out;
}

/** Box of the set cells: first columns and rows, and ends. */
function boxOf(runs: Int32Array): { x0: number; y0: number; x1: number; y1: number } {
  let [x0, y0, x1, y1] = [Infinity, Infinity, 0, 0];
  for (let k = 0; k < runs.length; k += 3) {
    x0 = Math.min(x0, runs[k + 1]!);
    x1 = Math.max(x1, runs[k + 2]!);
    y0 = Math.min(y0, runs[k]!);
    y1 = Math.max(y1, runs[k]! + 1);
  }
  return { x0, y0, x1, y1 };
}

function longestOf(runs: Int32Array): number {
  let longest = 1;
  for (let k = 0; k < runs.length; k += 3) longest = Math.max(longest, runs[k + 2]! - runs[k + 1]!);
  return longest;
}

/** Of the way through the runs, the step from one that is tested to the next: neighbours tell the same. */
const APART = 0.618;

/** The level by which a run of so many cells is tested. */
const levelOf = (length: number): number => 31 - Math.clz32(length);

/**
 * Runs as kernels take them: row, first cell, length, and the level by which it is tested; far ones after each other. Behind
 * them, for as many rows as there are said to be, the length of the longest in it.
 */
function forKernels(runs: Int32Array, x0: number, y0: number, rows: number): Int32Array {
  const count = runs.length / 3;
  const out = new Int32Array(4 * count + rows);
  const stride = coprime(Math.max(1, Math.round(APART * count)), count);
  for (let n = 0, k = 0; n < count; n++, k = (k + stride) % count) {
    const length = runs[3 * k + 2]! - runs[3 * k + 1]!;
    out[4 * n] = runs[3 * k]! - y0;
    out[4 * n + 1] = runs[3 * k + 1]! - x0;
    out[4 * n + 2] = length;
    out[4 * n + 3] = levelOf(length);
    const row = 4 * count + out[4 * n]!;
    if (row < out.length) out[row] = Math.max(out[row]!, length);
  }
  return out;
}

/** The least number from one on by which all of some are reached. */
function coprime(from: number, count: number): number {
  const divisor = (a: number, b: number): number => (b ? divisor(b, a % b) : a);
  let stride = from;
  while (divisor(stride, count) > 1) stride++;
  return stride;
}
