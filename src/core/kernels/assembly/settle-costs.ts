import { f32At, i32At, putF32, putI32 } from "./lists";
import {
  addWork,
  cellAt,
  cellCount,
  cellShell,
  coarseCountOf,
  coarseOf,
  count,
  nxOf,
  nyOf,
  oxOf,
  oyOf,
  padding,
  poseOf,
  rasterOf,
  reach,
  recordOf,
  sampleCountOf,
  samplesOf,
} from "./settle-page";

// What a pose of a shell costs: over all others the weight of the pair times the root of how deep its samples lie in them,
// together. Sources: Egeblad, Nielsen, Odgaard, Fast neighborhood search for two- and three-dimensional nesting problems
// (2007), for guided local search on overlap; Gardeyn, Wauters 2025 for samples and descents.

/** Weights of pairs, f32, count x count; and a byte per shell, whether any of its own is more than 1. */
let weights: usize = 0;
let heavy: usize = 0;
/** Per shell how deep the shell that is looked at lies in it, f32, and those where that is not nothing. */
let sums: usize = 0;
let touched: usize = 0;
let touchedCount: i32 = 0;

/** Pairs of a sample and a shell near it: where the sample lies in that one's raster; grouped by shell. */
let us: usize = 0;
let vs: usize = 0;
let mostPairs: i32 = 0;
let pairCount: i32 = 0;
let rawU: usize = 0;
let rawV: usize = 0;
let rawShell: usize = 0;
/** Groups: shell, first pair, pairs, as i32; weight, cosine and sine, as f32; raster, nx. */
let groups: usize = 0;
let groupCount: i32 = 0;
const GROUP: i32 = 8;
/** Per shell how many pairs it has, and then where its next one goes. */
let counts: usize = 0;

export const FAR: f32 = 1e30;

/** @param scratch 4 count x (count + 4) + 33 count + 20 x pairs bytes */
export function settleWeights(pairs: i32, scratch: usize): void {
  weights = scratch;
  sums = weights + ((<usize>(count * count)) << 2);
  touched = sums + ((<usize>count) << 2);
  counts = touched + ((<usize>count) << 2);
  groups = counts + ((<usize>count) << 2);
  us = groups + ((<usize>(GROUP * count)) << 2);
  mostPairs = pairs;
  vs = us + ((<usize>pairs) << 2);
  rawU = vs + ((<usize>pairs) << 2);
  rawV = rawU + ((<usize>pairs) << 2);
  rawShell = rawV + ((<usize>pairs) << 2);
  touchedCount = 0;
  memory.fill(sums, 0, (<usize>count) << 2);
  memory.fill(counts, 0, (<usize>count) << 2);
  heavy = rawShell + ((<usize>pairs) << 2);
  memory.fill(heavy, 1, <usize>count);
  forgetWeights();
}

export function forgetWeights(): void {
  for (let a: i32 = 0; a < count; a++) {
    if (!load<u8>(heavy + <usize>a)) continue;
    store<u8>(heavy + <usize>a, 0);
    for (let b: i32 = 0; b < count; b++) putF32(weights, a * count + b, 1);
  }
}
export function weightOf(a: i32, b: i32): f32 {
  return f32At(weights, a * count + b);
}
/** Sets the weight of a pair, which is more than 1. */
export function setWeight(a: i32, b: i32, to: f32): void {
  putF32(weights, a * count + b, to);
  putF32(weights, b * count + a, to);
  store<u8>(heavy + <usize>a, 1);
  store<u8>(heavy + <usize>b, 1);
}

/** Lessens all weights, but none to less than 1. */
export function lessenWeights(by: f32): void {
  for (let a: i32 = 0; a < count; a++) {
    if (!load<u8>(heavy + <usize>a)) continue;
    let any: u8 = 0;
    for (let k = a * count; k < (a + 1) * count; k++) {
      const w = f32At(weights, k);
      if (w <= 1) continue;
      putF32(weights, k, max(<f32>1, w * by));
      any = 1;
    }
    store<u8>(heavy + <usize>a, any);
  }
}

function forgetSums(): void {
  for (let k: i32 = 0; k < touchedCount; k++) putF32(sums, i32At(touched, k), 0);
  touchedCount = 0;
}

/** Adds how deep something lies in a shell. @returns what that adds to the cost */
function addDepth(own: usize, b: i32, pen: f32): f32 {
  const before = f32At(sums, b);
  if (before === 0) putI32(touched, touchedCount++, b);
  putF32(sums, b, before + pen);
  return f32At(own, b) * (sqrt<f32>(before + pen) - sqrt<f32>(before));
}

/** How deep a place lies in a shell: as the nearest node tells, or between the nodes about it. */
function depthIn(b: i32, x: f32, y: f32, nearest: bool): f32 {
  const o = poseOf(b);
  const record = recordOf(b);
  const c = f32At(o, 2);
  const s = f32At(o, 3);
  const dx = x - f32At(o, 0);
  const dy = y - f32At(o, 1);
  const u = c * dx + s * dy - oxOf(record);
  const v = c * dy - s * dx - oyOf(record);
  const nx = nxOf(record);
  if (!(u >= 0 && v >= 0 && u < <f32>(nx - 1) && v < <f32>(nyOf(record) - 1))) return 0;
  if (nearest) return padding - f32At(rasterOf(record), <i32>(v + <f32>0.5) * nx + <i32>(u + <f32>0.5));
  const i = <i32>u;
  const j = <i32>v;
  const fa = u - <f32>i;
  const q = rasterOf(record) + ((<usize>(j * nx + i)) << 2);
  const low = f32At(q, 0) + fa * (f32At(q, 1) - f32At(q, 0));
  const high = f32At(q, nx) + fa * (f32At(q, nx + 1) - f32At(q, nx));
  return padding - (low + (v - <f32>j) * (high - low));
}

function costBy(a: i32, samples: usize, n: i32, x: f32, y: f32, c: f32, s: f32, limit: f32, nearest: bool): f32 {
  const own = weights + ((<usize>(a * count)) << 2);
  let cost: f32 = 0;
  let looked: i32 = 0;
  forgetSums();
  for (let k: i32 = 0; k < n; k++) {
    const sx = f32At(samples, 2 * k);
    const sy = f32At(samples, 2 * k + 1);
    const wx = c * sx - s * sy + x;
    const wy = s * sx + c * sy + y;
    const cell = cellAt(wx, wy);
    const near = cellCount(cell);
    looked += near + 1;
    for (let z: i32 = 0; z < near; z++) {
      const b = cellShell(cell, z);
      if (b === a) continue;
      const pen = depthIn(b, wx, wy, nearest);
      if (pen > 0) cost += addDepth(own, b, pen);
    }
    if (cost > limit) {
      addWork(looked);
      return FAR;
    }
  }
  addWork(looked);
  return cost;
}

/** By all samples. @returns FAR where it is more than the limit */
export function costAt(a: i32, x: f32, y: f32, c: f32, s: f32, limit: f32): f32 {
  const record = recordOf(a);
  return costBy(a, samplesOf(record), sampleCountOf(record), x, y, c, s, limit, false);
}

/** By some samples. */
export function coarseCostAt(a: i32, x: f32, y: f32, c: f32, s: f32, limit: f32): f32 {
  const record = recordOf(a);
  return costBy(a, coarseOf(record), coarseCountOf(record), x, y, c, s, limit, true);
}

/** The shells that one lies too near to, and how deep in each: after costAt. @param out pairs of shell and depth @returns how many */
export function depthsOf(a: i32, out: usize, most: i32): i32 {
  const pose = poseOf(a);
  costAt(a, f32At(pose, 0), f32At(pose, 1), f32At(pose, 2), f32At(pose, 3), FAR);
  const n = min(most, touchedCount);
  for (let k: i32 = 0; k < n; k++) {
    const b = i32At(touched, k);
    putI32(out, 2 * k, b);
    putF32(out, 2 * k + 1, f32At(sums, b));
  }
  return n;
}

/** Collects the pairs of samples and shells that may touch while a shell is moved a little from a pose. */
export function collect(a: i32, x: f32, y: f32, c: f32, s: f32): void {
  const record = recordOf(a);
  const samples = samplesOf(record);
  const n = sampleCountOf(record);
  const limit = padding + reach + 1;
  forgetSums();
  let raw: i32 = 0;
  let looked = n;
  for (let k: i32 = 0; k < n; k++) {
    const sx = f32At(samples, 2 * k);
    const sy = f32At(samples, 2 * k + 1);
    const wx = c * sx - s * sy + x;
    const wy = s * sx + c * sy + y;
    const cell = cellAt(wx, wy);
    const near = cellCount(cell);
    looked += near;
    for (let z: i32 = 0; z < near; z++) {
      const b = cellShell(cell, z);
      if (b === a) continue;
      const o = poseOf(b);
      const other = recordOf(b);
      const oc = f32At(o, 2);
      const os = f32At(o, 3);
      const dx = wx - f32At(o, 0);
      const dy = wy - f32At(o, 1);
      const u = oc * dx + os * dy - oxOf(other);
      const v = oc * dy - os * dx - oyOf(other);
      const nx = nxOf(other);
      // As far as it may be moved, the place is to stay within the raster.
      if (!(u >= 3 && v >= 3 && u < <f32>(nx - 4) && v < <f32>(nyOf(other) - 4))) continue;
      if (f32At(rasterOf(other), <i32>v * nx + <i32>u) >= limit || raw >= mostPairs) continue;
      putF32(rawU, raw, u);
      putF32(rawV, raw, v);
      putI32(rawShell, raw++, b);
      if (i32At(counts, b) === 0) putI32(touched, touchedCount++, b);
      putI32(counts, b, i32At(counts, b) + 1);
    }
  }
  addWork(looked);
  group(a, raw);
}

function group(a: i32, raw: i32): void {
  groupCount = touchedCount;
  let first: i32 = 0;
  for (let k: i32 = 0; k < groupCount; k++) {
    const b = i32At(touched, k);
    const record = recordOf(b);
    const pose = poseOf(b);
    const own = i32At(counts, b);
    const at = GROUP * k;
    putI32(groups, at, b);
    putI32(groups, at + 1, first);
    putI32(groups, at + 2, own);
    putF32(groups, at + 3, weightOf(a, b));
    putF32(groups, at + 4, f32At(pose, 2));
    putF32(groups, at + 5, f32At(pose, 3));
    putI32(groups, at + 6, <i32>rasterOf(record));
    putI32(groups, at + 7, nxOf(record));
    putI32(counts, b, first);
    first += own;
  }
  for (let k: i32 = 0; k < raw; k++) {
    const b = i32At(rawShell, k);
    const to = i32At(counts, b);
    putF32(us, to, f32At(rawU, k));
    putF32(vs, to, f32At(rawV, k));
    putI32(counts, b, to + 1);
  }
  for (let k: i32 = 0; k < groupCount; k++) putI32(counts, i32At(touched, k), 0);
  touchedCount = 0;
  pairCount = raw;
}

/** The gradient where it was last asked for. */
export let gradientX: f32 = 0;
export let gradientY: f32 = 0;

/** The cost where a shell is moved by (dx, dy) from where its pairs were collected. */
export function collectedCost(dx: f32, dy: f32, limit: f32): f32 {
  let cost: f32 = 0;
  addWork(pairCount);
  for (let k: i32 = 0; k < groupCount; k++) {
    const at = groups + ((<usize>(GROUP * k)) << 2);
    const c = f32At(at, 4);
    const s = f32At(at, 5);
    const du = c * dx + s * dy;
    const dv = c * dy - s * dx;
    const raster = <usize>i32At(at, 6);
    const nx = i32At(at, 7);
    const end = i32At(at, 1) + i32At(at, 2);
    let depth: f32 = 0;
    for (let p = i32At(at, 1); p < end; p++) {
      const u = f32At(us, p) + du;
      const v = f32At(vs, p) + dv;
      const i = <i32>u;
      const j = <i32>v;
      const fa = u - <f32>i;
      const q = raster + ((<usize>(j * nx + i)) << 2);
      const low = f32At(q, 0) + fa * (f32At(q, 1) - f32At(q, 0));
      const high = f32At(q, nx) + fa * (f32At(q, nx + 1) - f32At(q, nx));
      depth += max(<f32>0, padding - (low + (v - <f32>j) * (high - low)));
    }
    cost += f32At(at, 3) * sqrt<f32>(depth);
    if (cost > limit) return FAR;
  }
  return cost;
}

/** The same with the gradient. */
export function collectedGradient(dx: f32, dy: f32): f32 {
  let cost: f32 = 0;
  gradientX = 0;
  gradientY = 0;
  addWork(pairCount);
  for (let k: i32 = 0; k < groupCount; k++) {
    const at = groups + ((<usize>(GROUP * k)) << 2);
    const c = f32At(at, 4);
    const s = f32At(at, 5);
    const du = c * dx + s * dy;
    const dv = c * dy - s * dx;
    const raster = <usize>i32At(at, 6);
    const nx = i32At(at, 7);
    const end = i32At(at, 1) + i32At(at, 2);
    let depth: f32 = 0;
    let su: f32 = 0;
    let sv: f32 = 0;
    for (let p = i32At(at, 1); p < end; p++) {
      const u = f32At(us, p) + du;
      const v = f32At(vs, p) + dv;
      const i = <i32>u;
      const j = <i32>v;
      const fa = u - <f32>i;
      const fb = v - <f32>j;
      const q = raster + ((<usize>(j * nx + i)) << 2);
      const q0 = f32At(q, 0);
      const q1 = f32At(q, 1);
      const q2 = f32At(q, nx);
      const q3 = f32At(q, nx + 1);
      const low = q0 + fa * (q1 - q0);
      const high = q2 + fa * (q3 - q2);
      const pen = padding - (low + fb * (high - low));
      if (pen <= 0) continue;
      depth += pen;
      su += (<f32>1 - fb) * (q1 - q0) + fb * (q3 - q2);
      sv += high - low;
    }
    if (depth <= 0) continue;
    const root = sqrt<f32>(depth);
    const by = (f32At(at, 3) * <f32>0.5) / root;
    cost += f32At(at, 3) * root;
    gradientX += by * (c * su - s * sv);
    gradientY += by * (s * su + c * sv);
  }
  return cost;
}
