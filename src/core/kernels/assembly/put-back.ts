// Puts points that were taken out back into a map of the coarser disk, the last first, each where the triangles about it have
// the least energy, and never so that one flips.

import { recordOf } from "./coarsen";
import { isFree, isKept, putBetween } from "./growing-border";
import { i32At } from "./lists";
import { solveTwo, stepU, stepV } from "./newton";
import { worked } from "./pause";

/** What is known of a triangle over an edge of the ring, 9 numbers each. */
const STAR = memory.data(9 * 8 * 64, 16);
const BYTES: usize = 72;
/** Where the point would stand in the triangle's own plane along its base, and what its base makes of the way up. */
const FOOT_U: usize = 0;
const FOOT_V: usize = 8;
const UP_U: usize = 16;
const UP_V: usize = 24;
/** The first end of its base. */
const BASE_U: usize = 32;
const BASE_V: usize = 40;
/** 1 / height^2, the square of the base's stretch, and its area, doubled. */
const INVERSE: usize = 48;
const STRETCH: usize = 56;
const AREA: usize = 64;
/** Height over base below which a triangle counts as having no shape of its own. */
const NEEDLE: f64 = 1e-5;

let size: i32 = 0;
/** Where the point stands. */
let atU: f64 = 0;
let atV: f64 = 0;
let energy: f64 = 0;

function ringAt(record: usize, i: i32): i32 {
  return i32At(record, 4 + i);
}

/** Looks up a triangle of the point over the edge from a to b of its ring. */
function lookUp(q: usize, p: i32, a: i32, b: i32, places: usize, x: usize, scale: f64): void {
  const pa = places + <usize>a * 24;
  const pb = places + <usize>b * 24;
  const pp = places + <usize>p * 24;
  const ex = load<f64>(pb) - load<f64>(pa);
  const ey = load<f64>(pb, 8) - load<f64>(pa, 8);
  const ez = load<f64>(pb, 16) - load<f64>(pa, 16);
  const fx = load<f64>(pp) - load<f64>(pa);
  const fy = load<f64>(pp, 8) - load<f64>(pa, 8);
  const fz = load<f64>(pp, 16) - load<f64>(pa, 16);
  const square = fx * fx + fy * fy + fz * fz;
  const base = Math.sqrt(Math.max(ex * ex + ey * ey + ez * ez, Math.max(1e-12 * square, 1e-60)));
  const along = (ex * fx + ey * fy + ez * fz) / base;
  const height = Math.max(Math.sqrt(Math.max(0, square - along * along)), NEEDLE * Math.max(base, Math.abs(along)));
  const ua = x + ((<usize>a) << 4);
  const ub = x + ((<usize>b) << 4);
  const length = base * scale;
  const du = (load<f64>(ub) - load<f64>(ua)) / length;
  const dv = (load<f64>(ub, 8) - load<f64>(ua, 8)) / length;
  const up = height * scale;
  store<f64>(q, load<f64>(ua) + along * scale * du, FOOT_U);
  store<f64>(q, load<f64>(ua, 8) + along * scale * dv, FOOT_V);
  store<f64>(q, -dv / up, UP_U);
  store<f64>(q, du / up, UP_V);
  store<f64>(q, load<f64>(ua), BASE_U);
  store<f64>(q, load<f64>(ua, 8), BASE_V);
  store<f64>(q, 1 / (up * up), INVERSE);
  store<f64>(q, du * du + dv * dv, STRETCH);
  store<f64>(q, length * up, AREA);
}

/** The energy about the point where it stands at (u, v); infinite where a triangle flips. */
export function energyAt(u: f64, v: f64): f64 {
  let sum: f64 = 0;
  for (let i: i32 = 0; i < size; i++) {
    const q = STAR + <usize>i * BYTES;
    const det = load<f64>(q, UP_U) * (u - load<f64>(q, BASE_U)) + load<f64>(q, UP_V) * (v - load<f64>(q, BASE_V));
    if (!(det > 0)) return Infinity;
    const du = u - load<f64>(q, FOOT_U);
    const dv = v - load<f64>(q, FOOT_V);
    const square = load<f64>(q, STRETCH) + (du * du + dv * dv) * load<f64>(q, INVERSE);
    sum += load<f64>(q, AREA) * square * (1 + 1 / (det * det));
  }
  return sum;
}

/** Begins where the triangles would set their tips by themselves, weighed by area. */
function beginAtTips(): void {
  let sumU: f64 = 0;
  let sumV: f64 = 0;
  let weights: f64 = 0;
  for (let i: i32 = 0; i < size; i++) {
    const q = STAR + <usize>i * BYTES;
    const area = load<f64>(q, AREA);
    // UP is the way up for a height of one, over the height once more.
    const high = 1 / load<f64>(q, INVERSE);
    sumU += area * (load<f64>(q, FOOT_U) + high * load<f64>(q, UP_U));
    sumV += area * (load<f64>(q, FOOT_V) + high * load<f64>(q, UP_V));
    weights += area;
  }
  atU = sumU / weights;
  atV = sumV / weights;
  energy = energyAt(atU, atV);
}

/** The way from the target into the triangles at it, and the lesser of their bases in the map. */
let wayU: f64 = 0;
let wayV: f64 = 0;
let wayLength: f64 = 0;

function addWay(record: usize, i: i32, ringSize: i32, x: usize): void {
  const q = STAR + <usize>i * BYTES;
  const u = load<f64>(q, UP_U);
  const v = load<f64>(q, UP_V);
  const length = Math.sqrt(u * u + v * v);
  if (length > 0) {
    wayU += u / length;
    wayV += v / length;
  }
  const a = x + ((<usize>ringAt(record, i)) << 4);
  const b = x + ((<usize>ringAt(record, i + 1 === ringSize ? 0 : i + 1)) << 4);
  const du = load<f64>(a) - load<f64>(b);
  const dv = load<f64>(a, 8) - load<f64>(b, 8);
  wayLength = Math.min(wayLength, Math.sqrt(du * du + dv * dv));
}

/** Begins beside the target, between the two edges that the point was drawn in by. @returns false where no such place is found */
function beginAtTarget(record: usize, open: bool, target: i32, ringSize: i32, x: usize): bool {
  wayU = 0;
  wayV = 0;
  wayLength = Infinity;
  if (open) addWay(record, target === 0 ? 0 : size - 1, ringSize, x);
  else {
    addWay(record, target, ringSize, x);
    addWay(record, (target + size - 1) % size, ringSize, x);
  }
  const length = Math.max(Math.sqrt(wayU * wayU + wayV * wayV), 1e-300);
  const from = x + ((<usize>ringAt(record, target)) << 4);
  const fromU = load<f64>(from);
  const fromV = load<f64>(from, 8);
  energy = Infinity;
  let t = wayLength;
  for (let tries = 0; tries < 60; tries++) {
    const u = fromU + (t * wayU) / length;
    const v = fromV + (t * wayV) / length;
    const e = energyAt(u, v);
    if (e < energy) {
      energy = e;
      atU = u;
      atV = v;
    } else if (energy < Infinity) break;
    t *= 0.6;
  }
  return energy < Infinity;
}

/** Newton's step from where the point stands. */
function newtonStep(): void {
  let g0: f64 = 0;
  let g1: f64 = 0;
  let h00: f64 = 0;
  let h01: f64 = 0;
  let h11: f64 = 0;
  let m00: f64 = 0;
  let m01: f64 = 0;
  let m11: f64 = 0;
  for (let i: i32 = 0; i < size; i++) {
    const q = STAR + <usize>i * BYTES;
    const n0 = load<f64>(q, UP_U);
    const n1 = load<f64>(q, UP_V);
    const inverse = 1 / (n0 * (atU - load<f64>(q, BASE_U)) + n1 * (atV - load<f64>(q, BASE_V)));
    const du = atU - load<f64>(q, FOOT_U);
    const dv = atV - load<f64>(q, FOOT_V);
    const w = load<f64>(q, INVERSE);
    const area = load<f64>(q, AREA);
    const square = load<f64>(q, STRETCH) + (du * du + dv * dv) * w;
    const cube = inverse * inverse * inverse;
    const a = 2 * area * w * (1 + inverse * inverse);
    const b = 2 * area * square * cube;
    g0 += a * du - b * n0;
    g1 += a * dv - b * n1;
    const b3 = 3 * b * inverse;
    h00 += a + b3 * n0 * n0;
    h11 += a + b3 * n1 * n1;
    h01 += b3 * n0 * n1;
    const c = 4 * area * w * cube;
    m00 += 2 * c * du * n0;
    m11 += 2 * c * dv * n1;
    m01 += c * (du * n1 + dv * n0);
  }
  solveTwo(h00, h01, h11, m00, m01, m11, g0, g1);
}

/** Lessens the energy by a few steps. */
function settle(): void {
  for (let step = 0; step < 5; step++) {
    newtonStep();
    let goesOn = false;
    for (let part: f64 = 1; part > 2e-4; part /= 2) {
      const u = atU + part * stepU;
      const v = atV + part * stepV;
      const e = energyAt(u, v);
      if (!(e < energy)) continue;
      goesOn = energy - e > 1e-3 * e;
      atU = u;
      atV = v;
      energy = e;
      break;
    }
    if (!goesOn) return;
  }
}

/** Where on the edge between its neighbours a point is tried that finds no free place beside it. */
const ON_EDGE: StaticArray<f64> = [0.5, 0.3, 0.7, 0.15, 0.85, 0.05, 0.01, 0.001];

/**
 * Moves a border point that would cross the border to where it does not: towards a point of the edge between its neighbours
 * that is there now, or towards the one it was drawn onto. Nothing flips on the way, since where nothing does is convex.
 */
function comeFree(before: i32, after: i32, target: i32, x: usize): void {
  if (isFree(before, after, atU, atV)) return;
  const a = x + ((<usize>target) << 4);
  const b = x + ((<usize>(target === before ? after : before)) << 4);
  let towardsU = load<f64>(a);
  let towardsV = load<f64>(a, 8);
  let least: f64 = Infinity;
  for (let k = 0; k < ON_EDGE.length; k++) {
    const s = ON_EDGE[k];
    const u = load<f64>(a) + s * (load<f64>(b) - load<f64>(a));
    const v = load<f64>(a, 8) + s * (load<f64>(b, 8) - load<f64>(a, 8));
    const e = energyAt(u, v);
    if (e >= least) continue;
    least = e;
    towardsU = u;
    towardsV = v;
  }
  const wayU = atU - towardsU;
  const wayV = atV - towardsV;
  let t: f64 = 1;
  for (let tries = 0; tries < 60; tries++) {
    t *= 0.6;
    if (isFree(before, after, towardsU + t * wayU, towardsV + t * wayV)) break;
  }
  // Half as far again keeps some room.
  if (isFree(before, after, towardsU + (t / 2) * wayU, towardsV + (t / 2) * wayV)) t /= 2;
  atU = towardsU + t * wayU;
  atV = towardsV + t * wayV;
}

/** Operations that putting one point back takes, about. */
const PUTTING: f64 = 2000;

/**
 * Puts points back, from record `from` - 1 down to `to`.
 *
 * @param places 3 a point, in space @param x pairs, those of points that are there; those put back are written
 * @param scale from lengths in space to lengths in the map
 * @returns how many found no place at which nothing flips; they stand where they were drawn to
 */
export function putBack(from: i32, to: i32, places: usize, x: usize, scale: f64): i32 {
  let failed: i32 = 0;
  for (let i = from - 1; i >= to; i--) {
    worked(PUTTING);
    const record = recordOf(i);
    const p = i32At(record, 0);
    const open = i32At(record, 1) !== 0;
    const target = i32At(record, 2);
    const ringSize = i32At(record, 3);
    size = open ? ringSize - 1 : ringSize;
    for (let k: i32 = 0; k < size; k++) {
      const b = ringAt(record, k + 1 === ringSize ? 0 : k + 1);
      lookUp(STAR + <usize>k * BYTES, p, ringAt(record, k), b, places, x, scale);
    }
    const point = x + ((<usize>p) << 4);
    beginAtTips();
    if (!(energy < Infinity) && !beginAtTarget(record, open, target, ringSize, x)) {
      failed++;
      const there = x + ((<usize>ringAt(record, target)) << 4);
      atU = load<f64>(there);
      atV = load<f64>(there, 8);
    } else settle();
    const keeps = open && isKept;
    const before = ringAt(record, ringSize - 1);
    const after = ringAt(record, 0);
    if (keeps) comeFree(before, after, ringAt(record, target), x);
    store<f64>(point, atU);
    store<f64>(point, atV, 8);
    if (keeps) putBetween(before, p, after);
  }
  return failed;
}
