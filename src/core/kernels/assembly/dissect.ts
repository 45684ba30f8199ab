// Nested dissection: a region is parted by the few of its points that two halves of it meet at; those are eliminated last.
// Source: A. George, Nested dissection of a regular finite element mesh (1973). Where to part is looked for in sweeps: points
// are put into bins by a key that grows across the region, and one pass over the edges tells for every bin how many points a
// cut before it would need.

import { addI32, i32At, putI32 } from "./lists";
import { worked } from "./pause";

/** The graph, 3 coordinates a point, the order of elimination so far, and scratch of one number a point each. */
let starts: usize = 0;
let neighbours: usize = 0;
let places: usize = 0;
let order: usize = 0;
let regionOf: usize = 0;
let aside: usize = 0;
let bins: usize = 0;
let bestBins: usize = 0;
let queue: usize = 0;
/** Where every node begins in the order, and its parent. */
let nodeStart: usize = 0;
let nodeParent: usize = 0;
let nodes: i32 = 0;
let regions: i32 = 0;

/** Points of a region that is eliminated as one node: small products cost more than what is filled in. */
const LEAF: i32 = 16;
/** Points from which on every key is tried. */
const LARGE: i32 = 200;
const MOST_BINS: i32 = 512;
/** Of a region's points so many, one in these, have to be on each side. */
const LEAST_SHARE: i32 = 5;

/** By bin: how many points left of it have a neighbour right of it begin there, the same of points right of it, and points. */
const LEFT = memory.data(516 * 4, 16);
const RIGHT = memory.data(516 * 4, 16);
const COUNT = memory.data(516 * 4, 16);

/** The best cut of the bins last looked at: what it costs, before which bin, and whether it takes points right of it. */
let cost: f64 = 0;
let cutBin: i32 = 0;
let takesRight: bool = false;

function evaluate(from: i32, to: i32, region: i32, count: i32): void {
  memory.fill(LEFT, 0, 516 * 4);
  memory.fill(RIGHT, 0, 516 * 4);
  memory.fill(COUNT, 0, 516 * 4);
  for (let i = from; i < to; i++) {
    const v = i32At(order, i);
    const own = i32At(bins, v);
    addI32(COUNT, own, 1);
    let most = own;
    let least = own;
    for (let k = i32At(starts, v); k < i32At(starts, v + 1); k++) {
      const w = i32At(neighbours, k);
      if (i32At(regionOf, w) !== region) continue;
      const other = i32At(bins, w);
      most = max(most, other);
      least = min(least, other);
    }
    if (most > own) {
      addI32(LEFT, own + 1, 1);
      addI32(LEFT, most + 1, -1);
    }
    if (least < own) {
      addI32(RIGHT, least + 1, 1);
      addI32(RIGHT, own + 1, -1);
    }
  }
  chooseBin(to - from, count);
}

function chooseBin(points: i32, count: i32): void {
  cost = Infinity;
  let onLeft: i32 = 0;
  let onRight: i32 = 0;
  let before: i32 = 0;
  for (let t: i32 = 0; t <= count; t++) {
    onLeft += i32At(LEFT, t);
    onRight += i32At(RIGHT, t);
    if (t > 0) before += i32At(COUNT, t - 1);
    const right = onRight < onLeft;
    const cut = right ? onRight : onLeft;
    const lesser = min(before - (right ? 0 : cut), points - before - (right ? cut : 0));
    if (LEAST_SHARE * lesser < points) continue;
    const own = (<f64>cut + 1) * (1 + 1.5 * (0.5 - <f64>lesser / <f64>points));
    if (own >= cost) continue;
    cost = own;
    cutBin = t;
    takesRight = right;
  }
}

/** Bins by how many edges away from a point; those of a region that hangs together. @returns how many were reached */
function spread(from: i32, to: i32, region: i32, seed: i32): i32 {
  for (let i = from; i < to; i++) putI32(bins, i32At(order, i), -1);
  let head: i32 = 0;
  let tail: i32 = 1;
  putI32(bins, seed, 0);
  putI32(queue, 0, seed);
  while (head < tail) {
    const v = i32At(queue, head++);
    const next = i32At(bins, v) + 1;
    for (let k = i32At(starts, v); k < i32At(starts, v + 1); k++) {
      const w = i32At(neighbours, k);
      if (i32At(regionOf, w) !== region || i32At(bins, w) >= 0) continue;
      putI32(bins, w, next);
      putI32(queue, tail++, w);
    }
  }
  return tail;
}

/** Bins along an axis. */
function along(from: i32, to: i32, axis: i32, least: f64, most: f64, count: i32): void {
  const scale: f64 = most > least ? (<f64>count - 1e-6) / (most - least) : 0;
  const own = places + ((<usize>axis) << 3);
  for (let i = from; i < to; i++) {
    const v = i32At(order, i);
    putI32(bins, v, <i32>((load<f64>(own + <usize>v * 24) - least) * scale));
  }
}

/** Of the cuts looked at in one region, the cheapest. */
let bestCost: f64 = 0;
let bestCut: i32 = -1;
let bestRight: bool = false;

function keepBetter(from: i32, to: i32): void {
  if (cost >= bestCost) return;
  bestCost = cost;
  bestCut = cutBin;
  bestRight = takesRight;
  for (let i = from; i < to; i++) {
    const v = i32At(order, i);
    putI32(bestBins, v, i32At(bins, v));
  }
}

/** Tries bins by distance from a far point, and from the point that lies farthest from that. */
function tryDistances(from: i32, to: i32, region: i32): void {
  const points = to - from;
  if (spread(from, to, region, i32At(order, from)) !== points) return;
  let seed = i32At(queue, points - 1);
  for (let round = 0; round < 2; round++) {
    spread(from, to, region, seed);
    seed = i32At(queue, points - 1);
    const farthest = i32At(bins, seed);
    if (farthest >= MOST_BINS)
      for (let i = from; i < to; i++) {
        const v = i32At(order, i);
        putI32(bins, v, <i32>((<i64>i32At(bins, v) * MOST_BINS) / (farthest + 1)));
      }
    evaluate(from, to, region, MOST_BINS);
    keepBetter(from, to);
  }
}

/** Tries bins along the longest axis of the region's box. */
function tryAxis(from: i32, to: i32, region: i32): void {
  let axis: i32 = 0;
  let low: f64 = 0;
  let high: f64 = -1;
  for (let d: i32 = 0; d < 3; d++) {
    let least: f64 = Infinity;
    let most: f64 = -Infinity;
    for (let i = from; i < to; i++) {
      const x = load<f64>(places + <usize>i32At(order, i) * 24 + ((<usize>d) << 3));
      least = Math.min(least, x);
      most = Math.max(most, x);
    }
    if (most - least <= high - low) continue;
    axis = d;
    low = least;
    high = most;
  }
  const count = to - from > LARGE ? MOST_BINS : 64;
  along(from, to, axis, low, high, count);
  evaluate(from, to, region, count);
  keepBetter(from, to);
}

function addNode(from: i32, to: i32): i32 {
  const node = nodes++;
  putI32(nodeStart, node, from);
  putI32(nodeStart, node + 1, to);
  putI32(nodeParent, node, -1);
  return node;
}

/** Whether a point of one side has a neighbour on the other. */
function isAtCut(v: i32, region: i32, left: bool): bool {
  for (let k = i32At(starts, v); k < i32At(starts, v + 1); k++) {
    const w = i32At(neighbours, k);
    if (i32At(regionOf, w) === region && i32At(bestBins, w) < bestCut !== left) return true;
  }
  return false;
}

/** Where the halves of the region last parted end in the order: the left one, and the right one behind it. */
let leftEnd: i32 = 0;
let rightEnd: i32 = 0;

/** Orders a region by its best cut: the left half, the right half, and what parts them. */
function part(from: i32, to: i32, region: i32): void {
  let left = from;
  let right: i32 = 0;
  let cut: i32 = 0;
  const points = to - from;
  // The right half is put aside from the front, what parts them from the back.
  for (let i = from; i < to; i++) {
    const v = i32At(order, i);
    const isLeft = i32At(bestBins, v) < bestCut;
    if (isLeft !== bestRight && isAtCut(v, region, isLeft)) putI32(aside, points - ++cut, v);
    else if (isLeft) putI32(order, left++, v);
    else putI32(aside, right++, v);
  }
  leftEnd = left;
  for (let i: i32 = 0; i < right; i++) putI32(order, left++, i32At(aside, i));
  rightEnd = left;
  for (let i: i32 = 1; i <= cut; i++) {
    const v = i32At(aside, points - i);
    putI32(order, left++, v);
    putI32(regionOf, v, -1);
  }
}

function visit(from: i32, to: i32): i32 {
  const points = to - from;
  if (points <= LEAF) return addNode(from, to);
  const region = ++regions;
  worked(200 * <f64>points);
  for (let i = from; i < to; i++) putI32(regionOf, i32At(order, i), region);
  bestCost = Infinity;
  bestCut = -1;
  if (points > LARGE) tryDistances(from, to, region);
  tryAxis(from, to, region);
  if (bestCut < 0) {
    // No cut parts it well: small ones stay whole, others are halved as they lie.
    if (points <= 2 * LEAF) return addNode(from, to);
    for (let i = from; i < to; i++) putI32(bestBins, i32At(order, i), i < from + points / 2 ? 0 : 1);
    bestCut = 1;
    bestRight = false;
  }
  part(from, to, region);
  const middle = leftEnd;
  const last = rightEnd;
  const left = middle > from ? visit(from, middle) : -1;
  const right = last > middle ? visit(middle, last) : -1;
  const node = addNode(last, to);
  if (left >= 0) putI32(nodeParent, left, node);
  if (right >= 0) putI32(nodeParent, right, node);
  return node;
}

/**
 * Orders the points of a graph for elimination.
 *
 * @param start of every point's neighbours, one more than points @param coordinates 3 a point
 * @param out the order; it is written, as are `begin`, one more than points, and `parent`
 * @param scratch 5 numbers a point
 * @returns how many nodes there are, children before their parents
 */
export function dissect(
  points: i32,
  start: usize,
  index: usize,
  coordinates: usize,
  out: usize,
  begin: usize,
  parent: usize,
  scratch: usize,
): i32 {
  const list = (<usize>points) << 2;
  starts = start;
  neighbours = index;
  places = coordinates;
  order = out;
  nodeStart = begin;
  nodeParent = parent;
  regionOf = scratch;
  aside = regionOf + list;
  bins = aside + list;
  bestBins = bins + list;
  queue = bestBins + list;
  memory.fill(regionOf, 0, list);
  for (let i: i32 = 0; i < points; i++) putI32(order, i, i);
  nodes = 0;
  regions = 0;
  if (points) visit(0, points);
  return nodes;
}
