// The border of a disk while points are put back into it: its edges in the cells of a hashed grid. Edges that are there no
// more stay in their cells, and are told by what comes next now.
import { i32At, putI32 } from "./lists";
import { segmentsMeet } from "./segments";

let pointsAt: usize = 0;
/** The next point of the border, by point. */
let nextOf: usize = 0;
let heads: usize = 0;
let mask: i32 = 0;
/** Entries: the next in its cell, and the two ends. */
let entries: usize = 0;
let entryCount: i32 = 0;
let mostEntries: i32 = 0;
let perCell: f64 = 0;
/** Whether borders are kept apart at all. */
export let isKept: bool = false;

/** Puts points back without looking at borders from now on. */
export function forgetBorder(): void {
  isKept = false;
}

/**
 * Begins with a border.
 *
 * @param cells a power of two @param following where the next point of each is kept, by point @param scratch cells, then
 * 3 numbers an entry
 */
export function growBorder(
  n: i32,
  loop: usize,
  x: usize,
  cells: i32,
  following: usize,
  scratch: usize,
  most: i32,
): void {
  isKept = true;
  pointsAt = x;
  nextOf = following;
  heads = scratch;
  mask = cells - 1;
  entries = scratch + ((<usize>cells) << 2);
  entryCount = 0;
  mostEntries = most;
  memory.fill(heads, 0xff, (<usize>cells) << 2);
  let length: f64 = 0;
  for (let i: i32 = 0; i < n; i++) {
    const a = x + ((<usize>i32At(loop, i)) << 4);
    const b = x + ((<usize>i32At(loop, i + 1 === n ? 0 : i + 1)) << 4);
    const du = load<f64>(a) - load<f64>(b);
    const dv = load<f64>(a, 8) - load<f64>(b, 8);
    length += Math.sqrt(du * du + dv * dv);
  }
  perCell = length > 0 && length < Infinity ? <f64>n / length : 0;
  for (let i: i32 = 0; i < n; i++) addEdge(i32At(loop, i), i32At(loop, i + 1 === n ? 0 : i + 1));
}

function cell(i: i32, j: i32): i32 {
  return ((i * 73856093) ^ (j * 19349663)) & mask;
}
function cellOf(x: f64): i32 {
  return <i32>Math.floor(x * perCell);
}

function addEdge(a: i32, b: i32): void {
  putI32(nextOf, a, b);
  const p = pointsAt + ((<usize>a) << 4);
  const q = pointsAt + ((<usize>b) << 4);
  const i1 = cellOf(Math.max(load<f64>(p), load<f64>(q)));
  const j1 = cellOf(Math.max(load<f64>(p, 8), load<f64>(q, 8)));
  for (let j = cellOf(Math.min(load<f64>(p, 8), load<f64>(q, 8))); j <= j1; j++)
    for (let i = cellOf(Math.min(load<f64>(p), load<f64>(q))); i <= i1; i++) {
      // An edge without room is not seen any more; what meets it is found when the whole border is looked at.
      if (entryCount === mostEntries) return;
      const c = cell(i, j);
      putI32(entries, 3 * entryCount, i32At(heads, c));
      putI32(entries, 3 * entryCount + 1, a);
      putI32(entries, 3 * entryCount + 2, b);
      putI32(heads, c, entryCount++);
    }
}

/** Whether the way from a border point to (u, v) meets an edge that does not end in that point. */
function meets(from: i32, u: f64, v: f64): bool {
  const p = pointsAt + ((<usize>from) << 4);
  const pu = load<f64>(p);
  const pv = load<f64>(p, 8);
  const i1 = cellOf(Math.max(pu, u));
  const j1 = cellOf(Math.max(pv, v));
  for (let j = cellOf(Math.min(pv, v)); j <= j1; j++)
    for (let i = cellOf(Math.min(pu, u)); i <= i1; i++)
      for (let k = i32At(heads, cell(i, j)); k >= 0; k = i32At(entries, 3 * k)) {
        const a = i32At(entries, 3 * k + 1);
        const b = i32At(entries, 3 * k + 2);
        if (a === from || b === from || i32At(nextOf, a) !== b) continue;
        const qa = pointsAt + ((<usize>a) << 4);
        const qb = pointsAt + ((<usize>b) << 4);
        if (segmentsMeet(pu, pv, u, v, load<f64>(qa), load<f64>(qa, 8), load<f64>(qb), load<f64>(qb, 8))) return true;
      }
  return false;
}

/** Whether a point between two of the border, beside each other, may stand at (u, v). */
export function isFree(before: i32, after: i32, u: f64, v: f64): bool {
  return !meets(before, u, v) && !meets(after, u, v);
}

/** Takes a point into the border, where it stands. */
export function putBetween(before: i32, point: i32, after: i32): void {
  addEdge(before, point);
  addEdge(point, after);
}
