import { f32At, i32At, putI32 } from "./lists";
import {
  addWork,
  below,
  cellAt,
  cellCount,
  cellShell,
  count,
  isChanged,
  nxOf,
  nyOf,
  oxOf,
  oyOf,
  poseOf,
  putAt,
  radiusOf,
  rasterOf,
  recordOf,
  sampleCountOf,
  samplesOf,
  setChanged,
  turnsOf,
} from "./settle-page";

// All shells pushed apart together. Source: Imamichi, Yagiura, Nagamochi, An iterated local search algorithm based on
// nonlinear programming for the irregular strip packing problem (2009), on distances told by rasters.

/** How much further than its own solution a shell is moved: those beside it give way by less than is asked. */
const BEYOND: f64 = 1.3;
/** Of the system's trace, what is added so that it can be solved. */
const DAMPED: f64 = 0.05;

/** What a shell's samples ask for: the system of least squares of its move and turn. */
let g0: f64 = 0;
let g1: f64 = 0;
let g2: f64 = 0;
let a00: f64 = 0;
let a01: f64 = 0;
let a11: f64 = 0;
let a02: f64 = 0;
let a12: f64 = 0;
let a22: f64 = 0;
let deepest: f32 = 0;

/** Adds what one sample at (x, y) of a shell asks for, on its way out of another. */
function addSample(other: i32, x: f32, y: f32, rx: f32, ry: f32, apart: f32, perTurn: f32, mayTurn: bool): void {
  const o = poseOf(other);
  const record = recordOf(other);
  const c = f32At(o, 2);
  const s = f32At(o, 3);
  const dx = x - f32At(o, 0);
  const dy = y - f32At(o, 1);
  const u = c * dx + s * dy - oxOf(record);
  const v = c * dy - s * dx - oyOf(record);
  const nx = nxOf(record);
  if (!(u >= 0 && v >= 0 && u < <f32>(nx - 1) && v < <f32>(nyOf(record) - 1))) return;
  const i = <i32>u;
  const j = <i32>v;
  const fa = u - <f32>i;
  const fb = v - <f32>j;
  const q = rasterOf(record) + ((<usize>(j * nx + i)) << 2);
  const q0 = f32At(q, 0);
  const q1 = f32At(q, 1);
  const q2 = f32At(q, nx);
  const q3 = f32At(q, nx + 1);
  const low = q0 + fa * (q1 - q0);
  const high = q2 + fa * (q3 - q2);
  const pen = apart - (low + fb * (high - low));
  if (pen <= 0) return;
  const gu = (<f32>1 - fb) * (q1 - q0) + fb * (q3 - q2);
  const gv = high - low;
  const gx = c * gu - s * gv;
  const gy = s * gu + c * gv;
  deepest = max(deepest, pen);
  g0 += <f64>(pen * gx);
  g1 += <f64>(pen * gy);
  a00 += <f64>(gx * gx);
  a01 += <f64>(gx * gy);
  a11 += <f64>(gy * gy);
  if (!mayTurn) return;
  const gt = (rx * gy - ry * gx) * perTurn;
  g2 += <f64>(pen * gt);
  a02 += <f64>(gx * gt);
  a12 += <f64>(gy * gt);
  a22 += <f64>(gt * gt);
}

let moveX: f64 = 0;
let moveY: f64 = 0;
let moveTurn: f64 = 0;

function solve(mayTurn: bool): void {
  const more = DAMPED * (a00 + a11) + 1e-9;
  a00 += more;
  a11 += more;
  moveTurn = 0;
  const det = a00 * a11 - a01 * a01;
  if (mayTurn) {
    a22 += 2 * more;
    // The turn first, by what the moves would leave of it.
    const b0 = (a11 * a02 - a01 * a12) / det;
    const b1 = (a00 * a12 - a01 * a02) / det;
    moveTurn = (g2 - b0 * g0 - b1 * g1) / (a22 - b0 * a02 - b1 * a12);
  }
  const h0 = g0 - a02 * moveTurn;
  const h1 = g1 - a12 * moveTurn;
  moveX = (a11 * h0 - a01 * h1) / det;
  moveY = (a00 * h1 - a01 * h0) / det;
}

/** Pushes one shell out of those about it. @returns how deep it was in them */
function relaxOne(a: i32, apart: f32, allowed: f32, mayTurn: bool): f32 {
  const record = recordOf(a);
  const pose = poseOf(a);
  const px = f32At(pose, 0);
  const py = f32At(pose, 1);
  const pc = f32At(pose, 2);
  const ps = f32At(pose, 3);
  const samples = samplesOf(record);
  const n = sampleCountOf(record);
  const perTurn: f32 = 1 / radiusOf(record);
  g0 = g1 = g2 = a00 = a01 = a11 = a02 = a12 = a22 = 0;
  deepest = 0;
  let looked = n;
  for (let k: i32 = 0; k < n; k++) {
    const sx = f32At(samples, 2 * k);
    const sy = f32At(samples, 2 * k + 1);
    const rx = pc * sx - ps * sy;
    const ry = ps * sx + pc * sy;
    const cell = cellAt(rx + px, ry + py);
    const near = cellCount(cell);
    looked += near;
    for (let z: i32 = 0; z < near; z++) {
      const b = cellShell(cell, z);
      if (b !== a) addSample(b, rx + px, ry + py, rx, ry, apart, perTurn, mayTurn);
    }
  }
  addWork(looked);
  if (deepest <= allowed) return deepest;
  solve(mayTurn);
  const length = Math.sqrt(moveX * moveX + moveY * moveY + moveTurn * moveTurn);
  if (length < 1e-12) return deepest;
  const by = BEYOND * min(1.0, (2 * <f64>deepest) / length);
  const turn = (by * moveTurn) / <f64>radiusOf(record);
  const tc = <f32>Math.cos(turn);
  const ts = <f32>Math.sin(turn);
  let c = pc;
  let s = ps;
  if (mayTurn) {
    c = pc * tc - ps * ts;
    s = ps * tc + pc * ts;
    // Rounding would let it grow or shrink.
    const one: f32 = 1 / sqrt<f32>(c * c + s * s);
    c *= one;
    s *= one;
  }
  putAt(a, px + <f32>(by * moveX), py + <f32>(by * moveY), c, s);
  return deepest;
}

/** What a sweep left: the deepest of all, and the sum of the deepest of each. */
let worst: f32 = 0;
let sum: f64 = 0;

/**
 * Pushes every shell that lies too near to others, or whose neighbours moved, away from them once.
 *
 * @param order of the shells, mixed anew where it is asked @param apart what is aimed at @param allowed what may be missing of it
 * @returns how much the nearest two lie too near
 */
export function settleRelax(order: usize, mix: i32, apart: f32, allowed: f32, mayTurn: i32): f32 {
  worst = 0;
  sum = 0;
  if (mix) mixOrder(order, count);
  for (let k: i32 = 0; k < count; k++) {
    const a = i32At(order, k);
    if (!isChanged(a)) continue;
    setChanged(a, false);
    if (turnsOf(a) === 0) continue;
    const left = relaxOne(a, apart, allowed, mayTurn !== 0 && turnsOf(a) === 4);
    worst = max(worst, left);
    sum += <f64>left;
  }
  return worst;
}

/** The sum over all shells of how deep each was in others in the last sweep. */
export function settleSum(): f64 {
  return sum;
}

export function mixOrder(order: usize, n: i32): void {
  for (let i = n; i > 1; i--) {
    const j = below(i);
    const at = i32At(order, i - 1);
    putI32(order, i - 1, i32At(order, j));
    putI32(order, j, at);
  }
}
