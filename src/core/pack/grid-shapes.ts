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
export const levelOf = (length: number): number => 31 - Math.clz32(length);

/**
 * Runs as kernels take them: row, first cell, length, and the level by which it is tested; far ones after each other. Behind
 * them, for as many rows as there are said to be, the length of the longest in it.
 */
export function forKernels(runs: Int32Array, x0: number, y0: number, rows: number): Int32Array {
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
