// Keeps the border of a disk from crossing itself. With all triangles the right way round a point of the sheet is covered as
// often as the border winds about it: where no triangle is flipped and the border is simple, nothing lies over itself.
//
// Close pairs of a border point and a border edge push each other away by a logarithm. Source: Smith, Schaefer, Bijective
// parameterization with free boundaries (2015); Li et al., Incremental potential contact (2020) for its form.
import { f64At, i32At, putF64, putI32 } from "./lists";
import { segmentsMeet } from "./segments";

/** Points of the border in turn, how far along it each lies, and the mean length of its two edges; one more along than points. */
export let count: i32 = 0;
export let loop: usize = 0;
let along: usize = 0;
let shares: usize = 0;
let total: f64 = 0;
/** Below this distance a pair pushes; of neighbours and the tips of cuts that nearly close, below a share of the way between. */
export let range: f64 = 0;
const ALONG_SHARE: f64 = 0.05;

/** Places of the border's points, the first again at the end. */
let places: usize = 0;
/** Cells of a grid over them, and the edges in each. */
let heads: usize = 0;
let items: usize = 0;
let mostCells: i32 = 0;
let mostItems: i32 = 0;
let columns: i32 = 0;
let rows: i32 = 0;
let lowU: f64 = 0;
let lowV: f64 = 0;
let perCell: f64 = 0;
/** Pairs that push: point and edge by their place in the loop, then the share of the edge, the distance and its limit. */
export let pairs: usize = 0;
let mostPairs: i32 = 0;
export let pairCount: i32 = 0;
export const PAIR: usize = 32;

/**
 * Looks at a border.
 *
 * @param points of the loop @param ways how far along each lies, one more @param lengths the mean of each one's two edges
 * @param below the distance below which pairs push
 * @param scratch places, heads, items and pairs, one behind the other: 2 (n + 1), 9 n + 100 and 32 n + 500 and 64 n numbers
 */
export function setBorder(n: i32, points: usize, ways: usize, lengths: usize, below: f64, scratch: usize): void {
  count = n;
  loop = points;
  along = ways;
  shares = lengths;
  total = f64At(ways, n);
  range = below;
  places = scratch;
  heads = places + ((<usize>(n + 1)) << 4);
  mostCells = 18 * n + 190;
  items = heads + ((<usize>(9 * n + 100)) << 3);
  mostItems = 64 * n + 1000;
  pairs = items + ((<usize>(32 * n + 500)) << 3);
  mostPairs = 16 * n;
  pairCount = 0;
}

function cellOf(x: f64, low: f64): i32 {
  return <i32>Math.floor((x - low) * perCell);
}

/** Goes over the cells of every edge, widened: counts them, or enters the edges. @returns how many entries there are */
function goOver(wide: f64, enters: bool): i32 {
  let entries: i32 = 0;
  for (let i: i32 = 0; i < count; i++) {
    const p = places + ((<usize>i) << 4);
    const ax = load<f64>(p);
    const ay = load<f64>(p, 8);
    const bx = load<f64>(p, 16);
    const by = load<f64>(p, 24);
    const i0 = max(0, cellOf(Math.min(ax, bx) - wide, lowU));
    const i1 = min(columns - 1, cellOf(Math.max(ax, bx) + wide, lowU));
    const j0 = max(0, cellOf(Math.min(ay, by) - wide, lowV));
    const j1 = min(rows - 1, cellOf(Math.max(ay, by) + wide, lowV));
    for (let j = j0; j <= j1; j++)
      for (let k = i0; k <= i1; k++) {
        const cell = j * columns + k;
        entries++;
        if (enters) {
          const at = i32At(heads, cell + 1) - 1;
          putI32(heads, cell + 1, at);
          putI32(items, at, i);
        } else putI32(heads, cell + 1, i32At(heads, cell + 1) + 1);
      }
    // So many that counting goes on for nothing: the cells are too small.
    if (entries > mostItems) return entries;
  }
  return entries;
}

/** Sorts the edges into cells, widened. @param x pairs of all points @returns false where one is nowhere */
export function sortEdges(x: usize, wide: f64): bool {
  let highU: f64 = -Infinity;
  let highV: f64 = -Infinity;
  lowU = Infinity;
  lowV = Infinity;
  for (let i: i32 = 0; i <= count; i++) {
    const from = x + ((<usize>i32At(loop, i === count ? 0 : i)) << 4);
    const u = load<f64>(from);
    const v = load<f64>(from, 8);
    store<f64>(places + ((<usize>i) << 4), u);
    store<f64>(places + ((<usize>i) << 4), v, 8);
    lowU = Math.min(lowU, u);
    lowV = Math.min(lowV, v);
    highU = Math.max(highU, u);
    highV = Math.max(highV, v);
  }
  let length: f64 = 0;
  for (let i: i32 = 0; i < count; i++) {
    const p = places + ((<usize>i) << 4);
    const du = load<f64>(p, 16) - load<f64>(p);
    const dv = load<f64>(p, 24) - load<f64>(p, 8);
    length += Math.sqrt(du * du + dv * dv);
  }
  if (!(length < Infinity)) return false;
  lowU -= wide;
  lowV -= wide;
  const width = highU + wide - lowU;
  const height = highV + wide - lowV;
  let size = Math.max(
    (1.2 * length) / <f64>count,
    Math.max(1.5 * wide, Math.sqrt((width * height) / <f64>(16 * count + 64))),
  );
  size = Math.max(size, 1e-200);
  for (;;) {
    perCell = 1 / size;
    const wanted = (Math.floor(width * perCell) + 1) * (Math.floor(height * perCell) + 1);
    if (wanted <= <f64>mostCells) {
      columns = <i32>Math.floor(width * perCell) + 1;
      rows = <i32>Math.floor(height * perCell) + 1;
      memory.fill(heads, 0, (<usize>(columns * rows + 2)) << 2);
      if (goOver(wide, false) <= mostItems) break;
    }
    size *= 2;
  }
  for (let c: i32 = 0; c < columns * rows; c++) putI32(heads, c + 1, i32At(heads, c + 1) + i32At(heads, c));
  putI32(heads, columns * rows + 1, i32At(heads, columns * rows));
  goOver(wide, true);
  return true;
}

function start(cell: i32): i32 {
  return i32At(heads, cell + 1);
}
function end(cell: i32): i32 {
  return cell + 1 < columns * rows ? i32At(heads, cell + 2) : i32At(heads, columns * rows + 1);
}

/** The square of the distance from a point to the segment from p to the point after it. */
function squareTo(x: f64, y: f64, p: usize): f64 {
  const ax = load<f64>(p);
  const ay = load<f64>(p, 8);
  const ex = load<f64>(p, 16) - ax;
  const ey = load<f64>(p, 24) - ay;
  const square = ex * ex + ey * ey;
  let t: f64 = square > 0 ? ((x - ax) * ex + (y - ay) * ey) / square : 0;
  t = Math.max(0, Math.min(1, t));
  const dx = x - ax - t * ex;
  const dy = y - ay - t * ey;
  return dx * dx + dy * dy;
}

/** The first end found of two edges that lies on the other. */
let nearX: f64 = 0;
let nearY: f64 = 0;
let nearEnds: i32 = 0;

/** Counts an end that lies on the other edge, at a place of its own. */
function countNear(x: f64, y: f64, p: usize, slack: f64): void {
  if (squareTo(x, y, p) > slack * slack) return;
  const away = Math.abs(x - nearX) + Math.abs(y - nearY);
  if (nearEnds && away <= 10 * slack) return;
  if (!nearEnds) {
    nearX = x;
    nearY = y;
  }
  nearEnds++;
}

/**
 * Whether two edges that meet only touch: an end of one lies on the other. Edges that lie on one another touch where they
 * run against each other, as the two sides of a cut do; side by side the shell lies on both of them twice.
 */
function onlyTouch(p: usize, q: usize, slack: f64): bool {
  nearEnds = 0;
  countNear(load<f64>(p), load<f64>(p, 8), q, slack);
  countNear(load<f64>(p, 16), load<f64>(p, 24), q, slack);
  countNear(load<f64>(q), load<f64>(q, 8), p, slack);
  countNear(load<f64>(q, 16), load<f64>(q, 24), p, slack);
  if (!nearEnds) return false;
  const along =
    (load<f64>(p, 16) - load<f64>(p)) * (load<f64>(q, 16) - load<f64>(q)) +
    (load<f64>(p, 24) - load<f64>(p, 8)) * (load<f64>(q, 24) - load<f64>(q, 8));
  return nearEnds === 1 || along < 0;
}

/** Whether two edges of the border that are not neighbours meet, once they are sorted; by more than a touch within a slack. */
function crosses(slack: f64): bool {
  for (let cell: i32 = 0; cell < columns * rows; cell++) {
    const last = end(cell);
    for (let a = start(cell); a < last; a++) {
      const i = i32At(items, a);
      const p = places + ((<usize>i) << 4);
      for (let b = a + 1; b < last; b++) {
        const j = i32At(items, b);
        const apart = abs(i - j);
        if (apart <= 1 || apart === count - 1) continue;
        const q = places + ((<usize>j) << 4);
        if (
          segmentsMeet(
            load<f64>(p),
            load<f64>(p, 8),
            load<f64>(p, 16),
            load<f64>(p, 24),
            load<f64>(q),
            load<f64>(q, 8),
            load<f64>(q, 16),
            load<f64>(q, 24),
          ) &&
          !(slack > 0 && onlyTouch(p, q, slack))
        )
          return true;
      }
    }
  }
  return false;
}

/** Whether the border meets itself; with a slack, whether it crosses itself by more than that. */
export function borderCrosses(x: usize, slack: f64): bool {
  return !sortEdges(x, slack) || crosses(slack);
}

/** Below which distance a point and an edge push. */
function limitOf(point: i32, edge: i32): f64 {
  const at = f64At(along, point);
  let first = Math.abs(at - f64At(along, edge));
  let second = Math.abs(at - f64At(along, edge + 1));
  first = Math.min(first, total - first);
  second = Math.min(second, total - second);
  return Math.min(range, ALONG_SHARE * Math.min(first, second));
}

/** Collects pairs nearer than `reach`, or than their own limit times `times` where that is less. @returns false where there is no room */
export function collect(reach: f64, times: f64): bool {
  pairCount = 0;
  for (let i: i32 = 0; i < count; i++) {
    const p = places + ((<usize>i) << 4);
    const px = load<f64>(p);
    const py = load<f64>(p, 8);
    const cell = cellOf(py, lowV) * columns + cellOf(px, lowU);
    for (let k = start(cell); k < end(cell); k++) {
      const e = i32At(items, k);
      if (e === i || e === i - 1 || (i === 0 && e === count - 1)) continue;
      const q = places + ((<usize>e) << 4);
      const ax = load<f64>(q);
      const ay = load<f64>(q, 8);
      const ex = load<f64>(q, 16) - ax;
      const ey = load<f64>(q, 24) - ay;
      const square = ex * ex + ey * ey;
      let t: f64 = square > 0 ? ((px - ax) * ex + (py - ay) * ey) / square : 0;
      t = Math.max(0, Math.min(1, t));
      const dx = px - ax - t * ex;
      const dy = py - ay - t * ey;
      const distance = Math.sqrt(dx * dx + dy * dy);
      if (distance >= reach) continue;
      const limit = limitOf(i, e);
      if (times > 0 && distance >= times * limit) continue;
      if (pairCount === mostPairs) return false;
      const pair = pairs + <usize>pairCount * PAIR;
      pairCount++;
      store<i32>(pair, i);
      store<i32>(pair, e, 4);
      store<f64>(pair, t, 8);
      store<f64>(pair, distance, 16);
      store<f64>(pair, limit, 24);
    }
  }
  return true;
}

/** What the pairs of a map's border cost, which are kept for the gradient; infinite where it meets itself. */
export function barrierEnergy(x: usize): f64 {
  if (!sortEdges(x, range) || crosses(0) || !collect(range, 1)) return Infinity;
  let sum: f64 = 0;
  for (let k: i32 = 0; k < pairCount; k++) {
    const pair = pairs + <usize>k * PAIR;
    const limit = load<f64>(pair, 24);
    const v = load<f64>(pair, 16) / limit;
    sum -= f64At(shares, load<i32>(pair)) * limit * (1 - v) * (1 - v) * Math.log(v);
  }
  return sum;
}

function addPair(to: usize, u: f64, v: f64): void {
  store<f64>(to, load<f64>(to) + u);
  store<f64>(to, load<f64>(to, 8) + v, 8);
}

/** Adds the gradient of the pairs last looked at. */
export function addBarrierGradient(out: usize): void {
  for (let k: i32 = 0; k < pairCount; k++) {
    const pair = pairs + <usize>k * PAIR;
    const i = load<i32>(pair);
    const e = load<i32>(pair, 4);
    const t = load<f64>(pair, 8);
    const distance = load<f64>(pair, 16);
    const limit = load<f64>(pair, 24);
    const v = distance / limit;
    const slope = f64At(shares, i) * (2 * (1 - v) * Math.log(v) - ((1 - v) * (1 - v)) / v);
    const p = places + ((<usize>i) << 4);
    const q = places + ((<usize>e) << 4);
    const du = ((load<f64>(p) - load<f64>(q) - t * (load<f64>(q, 16) - load<f64>(q))) * slope) / distance;
    const dv = ((load<f64>(p, 8) - load<f64>(q, 8) - t * (load<f64>(q, 24) - load<f64>(q, 8))) * slope) / distance;
    addPair(out + ((<usize>i32At(loop, i)) << 4), du, dv);
    addPair(out + ((<usize>i32At(loop, e)) << 4), -(1 - t) * du, -(1 - t) * dv);
    addPair(out + ((<usize>i32At(loop, e + 1 === count ? 0 : e + 1)) << 4), -t * du, -t * dv);
  }
}

/** Adds to the entry of two points, or where there is none to both their diagonals. */
function addEntry(values: usize, starts: usize, index: usize, a: i32, b: i32, more: f64): void {
  const row = min(a, b);
  const column = max(a, b);
  for (let k = i32At(starts, row) + 1; k < i32At(starts, row + 1); k++)
    if (i32At(index, k) === column) {
      putF64(values, k, f64At(values, k) + more);
      return;
    }
  addDiagonal(values, starts, a, Math.abs(more));
  addDiagonal(values, starts, b, Math.abs(more));
}
function addDiagonal(values: usize, starts: usize, p: i32, more: f64): void {
  const k = i32At(starts, p);
  putF64(values, k, f64At(values, k) + more);
}

/** Adds how stiff the pairs of a map's border are to the entries of a metric: half of each one's second derivative. */
export function addBarrierMetric(x: usize, values: usize, starts: usize, index: usize): void {
  if (!sortEdges(x, range)) return;
  collect(range, 1);
  for (let k: i32 = 0; k < pairCount; k++) {
    const pair = pairs + <usize>k * PAIR;
    const i = load<i32>(pair);
    const e = load<i32>(pair, 4);
    const t = load<f64>(pair, 8);
    const limit = load<f64>(pair, 24);
    const v = load<f64>(pair, 16) / limit;
    const bend = -2 * Math.log(v) + (4 * (1 - v)) / v + ((1 - v) * (1 - v)) / (v * v);
    const stiff = (f64At(shares, i) * bend) / (2 * limit);
    const p = i32At(loop, i);
    const a = i32At(loop, e);
    const b = i32At(loop, e + 1 === count ? 0 : e + 1);
    addDiagonal(values, starts, p, stiff);
    addDiagonal(values, starts, a, stiff * (1 - t) * (1 - t));
    addDiagonal(values, starts, b, stiff * t * t);
    addEntry(values, starts, index, a, b, stiff * t * (1 - t));
    addEntry(values, starts, index, p, a, -stiff * (1 - t));
    addEntry(values, starts, index, p, b, -stiff * t);
  }
}
