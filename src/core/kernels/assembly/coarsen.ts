// Takes points out of a disk one by one, each by drawing it along an edge onto a neighbour, and writes down how, so that they
// can be put back. Source: Hormann, Greiner, Campagna, Hierarchical parametrization of triangulated surfaces (1999).
//
// Triangles are corners, three in a row; across from every corner lies another one, or a border.

import { f64At, i32At, putF64, putI32 } from "./lists";
import { worked } from "./pause";

/** Triangles about a point that is taken out, at the most, and about the one it is drawn onto. */
const MOST: i32 = 14;
/** Of a triangle that comes of it: 3.46 times its double area by the squares of its edges, 1 where all are alike. */
const LEAST_SHAPE: f64 = 0.03;

let corners: i32 = 0;
let points: i32 = 0;
let places: usize = 0;
/** By corner: its point, and the corner across; by triangle a byte: it is gone. */
export let cornerPoint: usize = 0;
let across: usize = 0;
export let gone: usize = 0;
/** By point: one of its corners, how many it has, whether it lies on the border, and when it was marked last. */
let cornerOf: usize = 0;
let cornerCount: usize = 0;
let onBorder: usize = 0;
let marked: usize = 0;
let stamp: i32 = 0;
/** Points by what taking them out costs: the first in every bucket, and by point the next in its own. */
const BUCKETS: i32 = 256;
const first = memory.data(256 * 4, 16);
let nextIn: usize = 0;
let lowest: i32 = 0;
let leastCost: f64 = 0;
/** What was done: the point, whether it lay on the border, to which of its ring it was drawn, how many those are, and which. */
let records: usize = 0;
let recordEnd: i32 = 0;
let recordStart: usize = 0;
let taken: i32 = 0;

function next(c: i32): i32 {
  return c % 3 === 2 ? c - 2 : c + 1;
}
function before(c: i32): i32 {
  return c % 3 === 0 ? c + 2 : c - 1;
}

/** The corners about a point in turn, and the points beside it; of one on the border from one end to the other. */
const fan = memory.data(64 * 4, 16);
const ring = memory.data(64 * 4, 16);
let fanSize: i32 = 0;
let ringSize: i32 = 0;
/** The places of the ring as seen from the point, and what drawing it onto each costs. */
const away = memory.data(64 * 24, 16);
const costs = memory.data(64 * 8, 16);

function isOnBorder(p: i32): bool {
  return load<u8>(onBorder + <usize>p) !== 0;
}

/** The corner of a point at which its fan begins. */
function fanStart(p: i32): i32 {
  let c = i32At(cornerOf, p);
  if (!isOnBorder(p)) return c;
  let o = i32At(across, before(c));
  while (o >= 0) {
    c = before(o);
    o = i32At(across, before(c));
  }
  return c;
}

/** Collects what lies about a point. @returns false where it has too many neighbours */
function collect(p: i32): bool {
  const start = fanStart(p);
  let c = start;
  fanSize = 0;
  for (;;) {
    if (fanSize > MOST) return false;
    putI32(fan, fanSize, c);
    putI32(ring, fanSize, i32At(cornerPoint, next(c)));
    fanSize++;
    const o = i32At(across, next(c));
    if (o < 0) putI32(ring, fanSize, i32At(cornerPoint, before(c)));
    if (o < 0) break;
    c = next(o);
    if (c === start) break;
  }
  ringSize = isOnBorder(p) ? fanSize + 1 : fanSize;
  return fanSize <= MOST;
}

/** Whether a point has as many neighbours in common with the marked ring as it must. */
function linkHolds(p: i32, wanted: i32): bool {
  const start = fanStart(p);
  let c = start;
  let found: i32 = 0;
  for (;;) {
    if (i32At(marked, i32At(cornerPoint, next(c))) === stamp) found++;
    const o = i32At(across, next(c));
    if (o < 0) {
      if (i32At(marked, i32At(cornerPoint, before(c))) === stamp) found++;
      break;
    }
    c = next(o);
    if (c === start) break;
  }
  return found === wanted;
}

/** The double area of a triangle by two of its edges, and the sum of its edges' squares. */
let square: f64 = 0;
function twiceArea(ax: f64, ay: f64, az: f64, bx: f64, by: f64, bz: f64): f64 {
  const cx = ay * bz - az * by;
  const cy = az * bx - ax * bz;
  const cz = ax * by - ay * bx;
  const ex = ax - bx;
  const ey = ay - by;
  const ez = az - bz;
  square = ax * ax + ay * ay + az * az + bx * bx + by * by + bz * bz + ex * ex + ey * ey + ez * ez;
  return Math.sqrt(cx * cx + cy * cy + cz * cz);
}

/** Places of the ring as seen from a point. @returns the double area about it */
function lookFrom(p: i32): f64 {
  const at = places + <usize>p * 24;
  for (let i: i32 = 0; i < ringSize; i++) {
    const from = places + <usize>i32At(ring, i) * 24;
    const to = away + <usize>i * 24;
    store<f64>(to, load<f64>(from) - load<f64>(at));
    store<f64>(to, load<f64>(from, 8) - load<f64>(at, 8), 8);
    store<f64>(to, load<f64>(from, 16) - load<f64>(at, 16), 16);
  }
  let sum: f64 = 0;
  for (let i: i32 = 0; i < fanSize; i++) {
    const a = away + <usize>i * 24;
    const b = away + <usize>(i + 1 === ringSize ? 0 : i + 1) * 24;
    sum += twiceArea(load<f64>(a), load<f64>(a, 8), load<f64>(a, 16), load<f64>(b), load<f64>(b, 8), load<f64>(b, 16));
  }
  return sum;
}

/** Whether a neighbour can lose a triangle. */
function canLose(p: i32): bool {
  return i32At(cornerCount, p) >= (isOnBorder(p) ? 2 : 4);
}

/** Whether numbers of triangles stay within bounds when a point is drawn onto entry j of its ring. */
function countsHold(open: bool, j: i32): bool {
  const target = i32At(ring, j);
  const all = fanSize + i32At(cornerCount, target);
  if (open) {
    if (j !== 0 && j !== ringSize - 1) return false;
    return canLose(i32At(ring, j === 0 ? 1 : ringSize - 2)) && all - 2 >= 1 && all - 2 <= MOST;
  }
  const left = i32At(ring, j === 0 ? ringSize - 1 : j - 1);
  const right = i32At(ring, j === ringSize - 1 ? 0 : j + 1);
  return canLose(left) && canLose(right) && all - 4 >= (isOnBorder(target) ? 1 : 3) && all - 4 <= MOST;
}

/** What drawing the point onto entry j of its ring costs; infinite where a triangle would come of it that is hardly one. */
function costOf(j: i32, areaNow: f64): f64 {
  const v = away + <usize>j * 24;
  const vx = load<f64>(v);
  const vy = load<f64>(v, 8);
  const vz = load<f64>(v, 16);
  let area: f64 = 0;
  let squares: f64 = 0;
  for (let i: i32 = 0; i < fanSize; i++) {
    const k = i + 1 === ringSize ? 0 : i + 1;
    if (i === j || k === j) continue;
    const a = away + <usize>i * 24;
    const b = away + <usize>k * 24;
    const own = twiceArea(
      load<f64>(a) - vx,
      load<f64>(a, 8) - vy,
      load<f64>(a, 16) - vz,
      load<f64>(b) - vx,
      load<f64>(b, 8) - vy,
      load<f64>(b, 16) - vz,
    );
    if (3.4641 * own < LEAST_SHAPE * square) return Infinity;
    area += own;
    squares += square;
  }
  return Math.abs(area - areaNow) + 0.1 * areaNow + 0.015 * squares;
}

/** The best of the ring to draw a point onto, and what that costs; -1 for none. */
let bestTarget: i32 = -1;
let bestCost: f64 = 0;

function rate(p: i32): void {
  bestTarget = -1;
  bestCost = Infinity;
  if (!collect(p)) return;
  const open = isOnBorder(p);
  const areaNow = lookFrom(p);
  for (let j: i32 = 0; j < ringSize; j++) putF64(costs, j, countsHold(open, j) ? costOf(j, areaNow) : Infinity);
  stamp++;
  for (let i: i32 = 0; i < ringSize; i++) putI32(marked, i32At(ring, i), stamp);
  for (;;) {
    let best: i32 = -1;
    let least: f64 = Infinity;
    for (let j: i32 = 0; j < ringSize; j++) {
      if (f64At(costs, j) >= least) continue;
      least = f64At(costs, j);
      best = j;
    }
    if (best < 0) return;
    if (linkHolds(i32At(ring, best), open ? 1 : 2)) {
      bestTarget = best;
      bestCost = least;
      return;
    }
    putF64(costs, best, Infinity);
  }
}

function bucketOf(cost: f64): i32 {
  const b = <i32>Math.floor(6 * Math.log2(Math.max(cost / leastCost, 1)));
  return min(BUCKETS - 1, b);
}
function enter(p: i32, bucket: i32): void {
  putI32(nextIn, p, i32At(first, bucket));
  putI32(first, bucket, p);
  lowest = min(lowest, bucket);
}

/** Makes two corners, or a corner and a border, each other's across. */
function join(a: i32, b: i32): void {
  if (a >= 0) putI32(across, a, b);
  if (b >= 0) putI32(across, b, a);
}

/** A corner of the point that the last one was drawn onto. */
let kept: i32 = -1;

/** Closes the gap that a triangle leaves, its corner `c` at the point that goes. @param turns whether it lies before the edge that is drawn in */
function closeOver(c: i32, turns: bool): void {
  const side = turns ? before(c) : next(c);
  const other = turns ? next(c) : before(c);
  const w = i32At(cornerPoint, side);
  const x = i32At(across, c);
  const y = i32At(across, other);
  store<u8>(gone + <usize>(c / 3), 1);
  join(x, y);
  putI32(cornerCount, w, i32At(cornerCount, w) - 1);
  if (turns) {
    putI32(cornerOf, w, x >= 0 ? next(x) : before(y));
    if (kept < 0 && x >= 0) kept = before(x);
    if (kept < 0 && y >= 0) kept = next(y);
  } else {
    putI32(cornerOf, w, x >= 0 ? before(x) : next(y));
    if (kept < 0 && x >= 0) kept = next(x);
    if (kept < 0 && y >= 0) kept = before(y);
  }
}

/** Draws a point that was rated onto its best target, and writes that down. */
function takeOut(p: i32): void {
  const open = isOnBorder(p);
  const target = i32At(ring, bestTarget);
  putI32(recordStart, taken++, recordEnd);
  putI32(records, recordEnd++, p);
  putI32(records, recordEnd++, open ? 1 : 0);
  putI32(records, recordEnd++, bestTarget);
  putI32(records, recordEnd++, ringSize);
  for (let i: i32 = 0; i < ringSize; i++) putI32(records, recordEnd++, i32At(ring, i));
  let right = bestTarget;
  let left = (bestTarget + fanSize - 1) % fanSize;
  if (open) {
    right = bestTarget === 0 ? 0 : -1;
    left = bestTarget === 0 ? -1 : fanSize - 1;
  }
  kept = -1;
  for (let i: i32 = 0; i < fanSize; i++) {
    if (i === right || i === left) continue;
    putI32(cornerPoint, i32At(fan, i), target);
    kept = i32At(fan, i);
  }
  if (right >= 0) closeOver(i32At(fan, right), true);
  if (left >= 0) closeOver(i32At(fan, left), false);
  putI32(cornerOf, target, kept);
  putI32(cornerCount, target, i32At(cornerCount, target) + fanSize - (open ? 2 : 4));
}

/** Finds the corner across from each. @param heads scratch, one a point @param links scratch, one a corner */
function findAcross(heads: usize, links: usize): void {
  for (let p: i32 = 0; p < points; p++) putI32(heads, p, -1);
  for (let c: i32 = 0; c < corners; c++) {
    putI32(across, c, -1);
    const a = i32At(cornerPoint, next(c));
    const b = i32At(cornerPoint, before(c));
    const low = min(a, b);
    const high = max(a, b);
    let q = i32At(heads, low);
    while (q >= 0) {
      const other = max(i32At(cornerPoint, next(q)), i32At(cornerPoint, before(q)));
      if (other === high && i32At(across, q) < 0) break;
      q = i32At(links, q);
    }
    if (q >= 0) join(q, c);
    else {
      putI32(links, c, i32At(heads, low));
      putI32(heads, low, c);
    }
  }
}

/** Operations that rating a point takes, about. */
const RATING: f64 = 600;

/**
 * Begins with a disk.
 *
 * @param triangles 3 a triangle; they are written over as points go @param coordinates 3 a point
 * @param deleted a byte a triangle, written: 1 for one that is gone
 * @param out what is done, 20 numbers a point at the most @param starts where every record begins, one a point
 * @param scratch 2 numbers a corner, then 5 a point, then a byte a point
 * @param area of the whole
 */
export function beginCoarsening(
  pointCount: i32,
  cornerTotal: i32,
  triangles: usize,
  coordinates: usize,
  deleted: usize,
  out: usize,
  starts: usize,
  scratch: usize,
  area: f64,
): void {
  points = pointCount;
  corners = cornerTotal;
  cornerPoint = triangles;
  places = coordinates;
  gone = deleted;
  records = out;
  recordStart = starts;
  across = scratch;
  const links = across + ((<usize>corners) << 2);
  cornerOf = links + ((<usize>corners) << 2);
  const list = (<usize>points) << 2;
  cornerCount = cornerOf + list;
  marked = cornerCount + list;
  nextIn = marked + list;
  onBorder = nextIn + 2 * list;
  memory.fill(gone, 0, corners / 3);
  memory.fill(cornerCount, 0, 2 * list);
  memory.fill(onBorder, 0, points);
  memory.fill(first, 0xff, (<usize>BUCKETS) << 2);
  stamp = 0;
  recordEnd = 0;
  taken = 0;
  lowest = BUCKETS;
  leastCost = 2e-9 * area;
  findAcross(nextIn, links);
  for (let c: i32 = 0; c < corners; c++) {
    const p = i32At(cornerPoint, c);
    putI32(cornerOf, p, c);
    putI32(cornerCount, p, i32At(cornerCount, p) + 1);
    if (i32At(across, c) >= 0) continue;
    store<u8>(onBorder + <usize>i32At(cornerPoint, next(c)), 1);
    store<u8>(onBorder + <usize>i32At(cornerPoint, before(c)), 1);
  }
  for (let p: i32 = 0; p < points; p++) {
    rate(p);
    worked(RATING);
    if (bestTarget >= 0) enter(p, bucketOf(bestCost));
  }
}

/** Takes points out until so many are left, the cheapest first. @returns how many were taken out in all; fewer where none can go */
export function coarsenTo(left: i32): i32 {
  while (points - taken > left) {
    while (lowest < BUCKETS && i32At(first, lowest) < 0) lowest++;
    if (lowest >= BUCKETS) break;
    const bucket = lowest;
    const p = i32At(first, bucket);
    putI32(first, bucket, i32At(nextIn, p));
    // What it costs may have changed since: it is rated again, and put back where it has become dearer.
    rate(p);
    worked(RATING);
    if (bestTarget < 0) continue;
    const now = bucketOf(bestCost);
    if (now > bucket + 1) enter(p, now);
    else takeOut(p);
  }
  return taken;
}

/** Where a record begins. */
export function recordOf(i: i32): usize {
  return records + ((<usize>i32At(recordStart, i)) << 2);
}
