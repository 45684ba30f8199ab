// Moves one point after the other to the least energy of the triangles about it.

import { i32At } from "./lists";
import { solveTwo, stepU, stepV } from "./newton";
import { worked } from "./pause";
import { deform, f00, f01, f10, f11, pointAt, REST } from "./stretch";

/** Triangles about a point, at the most; a point with more stays where it is. */
const MOST: i32 = 128;
/** What is known of a triangle when one of its points moves, 8 numbers each, in the order of the names below. */
const STAR = memory.data(8 * 8 * 128, 16);
const AREA: usize = 0;
/** |F|^2 and det F, at the start. */
const SQUARE: usize = 8;
const DET: usize = 16;
/** How det F grows with the point's u and v. */
const DET_U: usize = 24;
const DET_V: usize = 32;
/** Half of how |F|^2 grows with them at the start, and with the square of the way. */
const LEAN_U: usize = 40;
const LEAN_V: usize = 48;
const SPREAD: usize = 56;

/** Looks up the triangles about a point. @returns their energy, times 4 */
function lookAbout(first: i32, count: i32, corners: usize, triangles: usize, rests: usize, x: usize): f64 {
  let sum: f64 = 0;
  for (let i: i32 = 0; i < count; i++) {
    const c = i32At(corners, first + i);
    const t = c / 3;
    const rest = rests + <usize>t * REST;
    deform(pointAt(triangles, t, 0, x), pointAt(triangles, t, 1, x), pointAt(triangles, t, 2, x), rest);
    const own = rest + ((<usize>(c - 3 * t)) << 4);
    const gx = load<f64>(own, 8);
    const gy = load<f64>(own, 16);
    const q = STAR + ((<usize>i) << 6);
    const det = f00 * f11 - f01 * f10;
    const square = f00 * f00 + f01 * f01 + f10 * f10 + f11 * f11;
    store<f64>(q, load<f64>(rest), AREA);
    store<f64>(q, square, SQUARE);
    store<f64>(q, det, DET);
    store<f64>(q, gx * f11 - gy * f10, DET_U);
    store<f64>(q, f00 * gy - f01 * gx, DET_V);
    store<f64>(q, f00 * gx + f01 * gy, LEAN_U);
    store<f64>(q, f10 * gx + f11 * gy, LEAN_V);
    store<f64>(q, gx * gx + gy * gy, SPREAD);
    sum += load<f64>(rest) * square * (1 + 1 / (det * det));
  }
  return sum;
}

/** The energy, times 4, with the point moved; infinite where that flips one. */
function energyAt(count: i32, u: f64, v: f64): f64 {
  let sum: f64 = 0;
  for (let i: i32 = 0; i < count; i++) {
    const q = STAR + ((<usize>i) << 6);
    const det = load<f64>(q, DET) + u * load<f64>(q, DET_U) + v * load<f64>(q, DET_V);
    if (!(det > 0)) return Infinity;
    const square =
      load<f64>(q, SQUARE) +
      2 * (u * load<f64>(q, LEAN_U) + v * load<f64>(q, LEAN_V)) +
      (u * u + v * v) * load<f64>(q, SPREAD);
    sum += load<f64>(q, AREA) * square * (1 + 1 / (det * det));
  }
  return sum;
}

/** Newton's step; along a matrix that is surely positive where the Hessian is not. */
function newtonStep(count: i32, u: f64, v: f64): void {
  let g0: f64 = 0;
  let g1: f64 = 0;
  // What makes the matrix positive, and what may take that away.
  let h00: f64 = 0;
  let h01: f64 = 0;
  let h11: f64 = 0;
  let m00: f64 = 0;
  let m01: f64 = 0;
  let m11: f64 = 0;
  for (let i: i32 = 0; i < count; i++) {
    const q = STAR + ((<usize>i) << 6);
    const n0 = load<f64>(q, DET_U);
    const n1 = load<f64>(q, DET_V);
    const spread = load<f64>(q, SPREAD);
    const area = load<f64>(q, AREA);
    const inverse = 1 / (load<f64>(q, DET) + u * n0 + v * n1);
    const l0 = load<f64>(q, LEAN_U) + u * spread;
    const l1 = load<f64>(q, LEAN_V) + v * spread;
    const square =
      load<f64>(q, SQUARE) + 2 * (u * load<f64>(q, LEAN_U) + v * load<f64>(q, LEAN_V)) + (u * u + v * v) * spread;
    const cube = inverse * inverse * inverse;
    const a = 2 * area * (1 + inverse * inverse);
    const b = 2 * area * square * cube;
    g0 += a * l0 - b * n0;
    g1 += a * l1 - b * n1;
    const b3 = 3 * b * inverse;
    h00 += a * spread + b3 * n0 * n0;
    h11 += a * spread + b3 * n1 * n1;
    h01 += b3 * n0 * n1;
    const c = 4 * area * cube;
    m00 += 2 * c * l0 * n0;
    m11 += 2 * c * l1 * n1;
    m01 += c * (l0 * n1 + l1 * n0);
  }
  solveTwo(h00, h01, h11, m00, m01, m11, g0, g1);
}

/** Newton steps of one point, at the most. */
const STEPS: i32 = 2;

/** Moves a point whose triangles are looked up. @param reach how far from (u0, v0) it may come to stand */
function settle(count: i32, energy: f64, point: usize, startU: f64, startV: f64, reach: f64): void {
  const fromU = load<f64>(point);
  const fromV = load<f64>(point, 8);
  let u: f64 = 0;
  let v: f64 = 0;
  for (let step = 0; step < STEPS; step++) {
    newtonStep(count, u, v);
    let goesOn = false;
    for (let part: f64 = 1; part > 1e-3; part /= 2) {
      const nextU = u + part * stepU;
      const nextV = v + part * stepV;
      const awayU = fromU + nextU - startU;
      const awayV = fromV + nextV - startV;
      if (awayU * awayU + awayV * awayV > reach * reach) continue;
      const next = energyAt(count, nextU, nextV);
      if (!(next < energy)) continue;
      goesOn = energy - next > 1e-3 * energy;
      u = nextU;
      v = nextV;
      energy = next;
      break;
    }
    if (!goesOn) break;
  }
  store<f64>(point, fromU + u);
  store<f64>(point, fromV + v, 8);
}

/** Operations that moving one point takes, about. */
const MOVING: f64 = 600;

/**
 * Moves every point to the least energy of its triangles, one after the other, forth and back in turn.
 *
 * @param starts of every point's corners, one more than points
 * @param marks a byte a point: those that are moved; 0 for all
 * @param radii how far each may get away from where it stood in `from`; 0 for as far as it likes
 */
export function smooth(
  points: i32,
  sweeps: i32,
  starts: usize,
  corners: usize,
  triangles: usize,
  rests: usize,
  x: usize,
  marks: usize,
  radii: usize,
  from: usize,
): void {
  for (let sweep = 0; sweep < sweeps; sweep++)
    for (let k: i32 = 0; k < points; k++) {
      const p = sweep & 1 ? points - 1 - k : k;
      if (marks && !load<u8>(marks + <usize>p)) continue;
      const first = i32At(starts, p);
      const count = i32At(starts, p + 1) - first;
      if (count > MOST) continue;
      const reach = radii ? load<f64>(radii + ((<usize>p) << 3)) : Infinity;
      if (reach <= 0) continue;
      worked(MOVING);
      const energy = lookAbout(first, count, corners, triangles, rests, x);
      const start = (radii ? from : x) + ((<usize>p) << 4);
      settle(count, energy, x + ((<usize>p) << 4), load<f64>(start), load<f64>(start, 8), reach);
    }
}
