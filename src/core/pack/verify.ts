import { orient2d } from "robust-predicates";
import { endDistance } from "../numeric/segments";
import { CellTable } from "./cell-table";
import type { Page } from "./page";
import { boundsOf, type Item } from "./raster";

/** Told of two items that lie nearer than the padding, and how much is missing of it: Infinity where they overlap. */
export type OnPair = (a: number, b: number, missing: number) => void;

/**
 * How much is missing of the padding between shells, and of the page about them: 0 where nothing is, Infinity where two
 * overlap.
 *
 * @param items as they were placed @param padding in units of the page @param staying obstacles: nothing is told of two of them
 */
export function missing(items: readonly Item[], page: Page, padding: number, staying: readonly Item[] = []): number {
  let least = 0;
  for (const item of items) least = Math.max(least, beyond(item, page));
  tooNear([...items, ...staying], items.length, padding, (_a, _b, more) => {
    least = Math.max(least, more);
  });
  return least;
}

/** Tiles that a place is off by where it was only rounded. */
const OFF = 1e-9;

/** How far an item reaches beyond a page; 0 where that is rounding alone. */
export function beyond(item: Item, page: Page): number {
  const { u0, v0, u1, v1 } = boundsOf(item);
  const far = Math.max(page.u0 - u0, page.v0 - v0, u1 - page.u0 - page.w, v1 - page.v0 - page.h);
  return far > OFF ? far : 0;
}

/**
 * Finds all pairs of items that lie nearer than the padding, or overlap. Told by distances of segments, whose crossings are
 * decided exactly. Linear time, where about as many segments lie about every place.
 *
 * Source: Shewchuk, Adaptive precision floating-point arithmetic and fast robust geometric predicates (1997).
 *
 * @param moving the first so many: pairs of others are not looked at
 */
export function tooNear(items: readonly Item[], moving: number, padding: number, onPair: OnPair): void {
  const touching = new Set<number>();
  nearSegments(items, moving, padding, touching, onPair);
  for (const pair of touching) {
    const [a, b] = [Math.floor(pair / items.length), pair % items.length];
    if (overlap(items[a]!, items[b]!)) onPair(a, b, Infinity);
  }
  containedItems(items, moving, onPair);
}

/** Sides of cells at the least, where nothing has a length. */
const LEAST_CELL = 1e-9;
/** What rounding takes away is no fault. */
const ROUNDED = 1 - 1e-9;

/** Segments of all items, one item after another: 4 numbers each, and by segment whose it is. */
interface Segments {
  readonly ends: Float64Array;
  readonly owners: Int32Array;
}

function segmentsOf(items: readonly Item[]): Segments {
  const count = items.reduce((sum, { outline }) => sum + outline.length / 4, 0);
  const ends = new Float64Array(4 * count);
  const owners = new Int32Array(count);
  let at = 0;
  for (const [owner, { outline }] of items.entries()) {
    ends.set(outline, 4 * at);
    owners.fill(owner, at, at + outline.length / 4);
    at += outline.length / 4;
  }
  return { ends, owners };
}

function cellSide({ ends, owners }: Segments, padding: number): number {
  let length = 0;
  for (let i = 0; i < ends.length; i += 4) length += Math.hypot(ends[i + 2]! - ends[i]!, ends[i + 3]! - ends[i + 1]!);
  return Math.max(2 * (length / (owners.length || 1)), padding, LEAST_CELL);
}

/** Compares segments with those of items before theirs that lie in cells near them. */
function nearSegments(
  items: readonly Item[],
  moving: number,
  padding: number,
  touching: Set<number>,
  onPair: OnPair,
): void {
  const segments = segmentsOf(items);
  const { ends, owners } = segments;
  const table = new CellTable(ends, cellSide(segments, padding));
  let [s, owner] = [0, 0];
  const compare = (t: number): void => {
    const other = owners[t]!;
    if (other >= owner || (owner >= moving && other >= moving)) return;
    const gap = segmentGap(ends, 4 * s, ends, 4 * t);
    // Edges that lie along each other cross nowhere, whether what is about them overlaps or not.
    if (gap >= 0 && gap < OFF) touching.add(other * items.length + owner);
    if (gap < padding * ROUNDED) onPair(other, owner, gap < 0 ? Infinity : padding - gap);
  };
  for (; s < owners.length; s++) {
    owner = owners[s]!;
    table.eachNear(4 * s, padding, compare);
  }
}

/** Whether any triangles of two items have an area in common: no edge of either has all of the other beyond it. */
function overlap({ triangles: p }: Item, { triangles: q }: Item): boolean {
  for (let i = 0; i < p.length; i += 6)
    for (let j = 0; j < q.length; j += 6) if (!parted(p, i, q, j) && !parted(q, j, p, i)) return true;
  return false;
}

/** Whether an edge of a triangle has all of another beyond it, or on it but for rounding; one without an area has all beyond. */
function parted(p: Float64Array, i: number, q: Float64Array, j: number): boolean {
  const side = Math.sign(orient2d(p[i]!, p[i + 1]!, p[i + 2]!, p[i + 3]!, p[i + 4]!, p[i + 5]!));
  for (let k = 0; k < 6; k += 2) {
    const [ax, ay] = [p[i + k]!, p[i + k + 1]!];
    const [bx, by] = [p[i + ((k + 2) % 6)]!, p[i + ((k + 3) % 6)]!];
    const rounded = OFF * Math.hypot(bx - ax, by - ay);
    let isBeyond = true;
    for (let m = j; m < j + 6 && isBeyond; m += 2)
      isBeyond = orient2d(ax, ay, bx, by, q[m]!, q[m + 1]!) * side <= rounded;
    if (isBeyond) return true;
  }
  return false;
}

/** An item within another has no outline near that one's. */
function containedItems(items: readonly Item[], moving: number, onPair: OnPair): void {
  const boxes = items.map(boundsOf);
  const order = items.map((_, i) => i).sort((a, b) => boxes[a]!.u0 - boxes[b]!.u0);
  for (const [k, a] of order.entries())
    for (let m = k + 1; m < order.length; m++) {
      const b = order[m]!;
      if (boxes[b]!.u0 > boxes[a]!.u1) break;
      if (boxes[b]!.v0 > boxes[a]!.v1 || boxes[a]!.v0 > boxes[b]!.v1 || (a >= moving && b >= moving)) continue;
      if (holds(items[a]!, items[b]!) || holds(items[b]!, items[a]!)) onPair(Math.min(a, b), Math.max(a, b), Infinity);
    }
}

/** Whether a point within one item lies within another. */
function holds({ triangles: q }: Item, { triangles: own }: Item): boolean {
  const inner = innerPoint(own);
  if (!inner) return false;
  const [u, v] = inner;
  for (let i = 0; i < q.length; i += 6) {
    const a = orient2d(q[i]!, q[i + 1]!, q[i + 2]!, q[i + 3]!, u, v);
    const b = orient2d(q[i + 2]!, q[i + 3]!, q[i + 4]!, q[i + 5]!, u, v);
    const c = orient2d(q[i + 4]!, q[i + 5]!, q[i]!, q[i + 1]!, u, v);
    // Also on an edge: it may be one between two triangles, and is never one of the outline.
    const within = (a >= 0 && b >= 0 && c >= 0) || (a <= 0 && b <= 0 && c <= 0);
    if (within && (a !== 0 || b !== 0 || c !== 0)) return true;
  }
  return false;
}

/** The middle of the first triangle that has an area. */
function innerPoint(q: Float64Array): [number, number] | null {
  for (let i = 0; i < q.length; i += 6)
    if (orient2d(q[i]!, q[i + 1]!, q[i + 2]!, q[i + 3]!, q[i + 4]!, q[i + 5]!) !== 0)
      return [(q[i]! + q[i + 2]! + q[i + 4]!) / 3, (q[i + 1]! + q[i + 3]! + q[i + 5]!) / 3];
  return null;
}

/** The distance of two segments, less than nothing where they cross. */
function segmentGap(a: Float64Array, i: number, b: Float64Array, j: number): number {
  const [ax, ay, bx, by] = [a[i]!, a[i + 1]!, a[i + 2]!, a[i + 3]!];
  const [cx, cy, dx, dy] = [b[j]!, b[j + 1]!, b[j + 2]!, b[j + 3]!];
  const [abc, abd] = [orient2d(ax, ay, bx, by, cx, cy), orient2d(ax, ay, bx, by, dx, dy)];
  const [cda, cdb] = [orient2d(cx, cy, dx, dy, ax, ay), orient2d(cx, cy, dx, dy, bx, by)];
  return abc * abd < 0 && cda * cdb < 0 ? -1 : endDistance(a, i / 4, b, j / 4);
}
