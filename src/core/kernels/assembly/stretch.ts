// The symmetric Dirichlet energy of a map, mean by area: (s1^2 + s2^2 + s1^-2 + s2^-2) / 4, with s1 and s2 the stretches of
// a triangle along and across; 1 where nothing is stretched. A triangle is 3 numbers of points; its rest shape is 7 numbers:
// the share of its area, and the gradients of its three hat functions in its own plane. Points are pairs.
// Source: Smith, Schaefer, Bijective parameterization with free boundaries (2015).
import { i32At } from "./lists";

/** Bytes of a rest shape. */
export const REST: usize = 56;

/** Where a corner's point stands. */
export function pointAt(triangles: usize, t: i32, k: i32, x: usize): usize {
  return x + ((<usize>i32At(triangles, 3 * t + k)) << 4);
}

/** The deformation gradient of the triangle last looked at: rows u and v. */
export let f00: f64 = 0;
export let f01: f64 = 0;
export let f10: f64 = 0;
export let f11: f64 = 0;

/** Looks at a triangle. @param rest its rest shape */
export function deform(p: usize, q: usize, r: usize, rest: usize): void {
  const u0 = load<f64>(p);
  const v0 = load<f64>(p, 8);
  const u1 = load<f64>(q) - u0;
  const v1 = load<f64>(q, 8) - v0;
  const u2 = load<f64>(r) - u0;
  const v2 = load<f64>(r, 8) - v0;
  // The three gradients cancel each other, so that two of them tell.
  const g1x = load<f64>(rest, 24);
  const g1y = load<f64>(rest, 32);
  const g2x = load<f64>(rest, 40);
  const g2y = load<f64>(rest, 48);
  f00 = u1 * g1x + u2 * g2x;
  f01 = u1 * g1y + u2 * g2y;
  f10 = v1 * g1x + v2 * g2x;
  f11 = v1 * g1y + v2 * g2y;
}

function look(triangles: usize, t: i32, x: usize, rest: usize): void {
  deform(pointAt(triangles, t, 0, x), pointAt(triangles, t, 1, x), pointAt(triangles, t, 2, x), rest);
}

/** The energy; infinite where a triangle is flipped or has no area. */
export function stretchEnergy(count: i32, triangles: usize, rests: usize, x: usize): f64 {
  let sum: f64 = 0;
  for (let t: i32 = 0; t < count; t++) {
    const rest = rests + <usize>t * REST;
    look(triangles, t, x, rest);
    const det = f00 * f11 - f01 * f10;
    if (!(det > 0)) return Infinity;
    const inverse = 1 / det;
    const square = f00 * f00 + f01 * f01 + f10 * f10 + f11 * f11;
    sum += load<f64>(rest) * square * (1 + inverse * inverse);
  }
  return sum / 4;
}

function addPair(to: usize, u: f64, v: f64): void {
  store<f64>(to, load<f64>(to) + u);
  store<f64>(to, load<f64>(to, 8) + v, 8);
}

/**
 * The energy, and its gradient by the points; with more weight on angles or on areas where that is asked for, as
 * angles ((s1 / s2 + s2 / s1) / 2 - 1) + areas ((s1 s2 + 1 / (s1 s2)) / 2 - 1).
 *
 * @param out pairs, written; part of them where the energy is infinite
 * Source of those: Hormann, Greiner, MIPS: an efficient global parametrization method (2000); Degener, Meseth, Klein, An
 * adaptable surface parameterization method (2003).
 */
export function stretchGradient(
  points: i32,
  count: i32,
  triangles: usize,
  rests: usize,
  x: usize,
  out: usize,
  angles: f64,
  areas: f64,
): f64 {
  let sum: f64 = 0;
  memory.fill(out, 0, (<usize>points) << 4);
  for (let t: i32 = 0; t < count; t++) {
    const rest = rests + <usize>t * REST;
    look(triangles, t, x, rest);
    const det = f00 * f11 - f01 * f10;
    if (!(det > 0)) return Infinity;
    const inverse = 1 / det;
    const area = load<f64>(rest);
    const square = f00 * f00 + f01 * f01 + f10 * f10 + f11 * f11;
    const more = angles * (0.5 * square * inverse - 1) + areas * (0.5 * (det + inverse) - 1);
    sum += area * (square * (1 + inverse * inverse) + 4 * more);
    // By F, a quarter of 2 F (1 + det^-2) - 2 |F|^2 det^-3 cof F, and what more there is.
    const own = area * (0.5 * (1 + inverse * inverse) + angles * inverse);
    const ofAreas = 0.5 * areas * (1 - inverse * inverse);
    const other = area * (0.5 * square * inverse * inverse * (inverse + angles) - ofAreas);
    const p00 = own * f00 - other * f11;
    const p01 = own * f01 + other * f10;
    const p10 = own * f10 + other * f01;
    const p11 = own * f11 - other * f00;
    for (let k: i32 = 0; k < 3; k++) {
      const gx = load<f64>(rest + ((<usize>k) << 4), 8);
      const gy = load<f64>(rest + ((<usize>k) << 4), 16);
      addPair(pointAt(triangles, t, k, out), p00 * gx + p01 * gy, p10 * gx + p11 * gy);
    }
  }
  return sum / 4;
}

function addAt(values: usize, i: i32, more: f64): void {
  const at = values + ((<usize>i) << 3);
  store<f64>(at, load<f64>(at) + more);
}

/**
 * A scalar metric for steps that lessen the energy, the same for u and v: the mean of the two diagonal blocks of its
 * Hessian, every triangle's part made positive by its eigenvalues in closed form.
 *
 * @param angles and `areas`: what more they weigh, as for the gradient
 * @param slots 6 a triangle: where the products of its corners stand among the values, 00 01 02 11 12 22
 * @param size how many values there are; they are written
 * Source: Smith, de Goes, Kim, Analytic eigensystems for isotropic distortion energies (2019).
 */
export function stretchMetric(
  count: i32,
  triangles: usize,
  rests: usize,
  x: usize,
  slots: usize,
  values: usize,
  size: i32,
  angles: f64,
  areas: f64,
): void {
  memory.fill(values, 0, (<usize>size) << 3);
  for (let t: i32 = 0; t < count; t++) {
    const rest = rests + <usize>t * REST;
    look(triangles, t, x, rest);
    // F^T F has the squares of the stretches, and the directions in the triangle that they stretch.
    const c00 = f00 * f00 + f10 * f10;
    const c01 = f00 * f01 + f10 * f11;
    const c11 = f01 * f01 + f11 * f11;
    const det = f00 * f11 - f01 * f10;
    const half = (c00 + c11) / 2;
    const lean = (c00 - c11) / 2;
    const r = Math.sqrt(lean * lean + c01 * c01);
    const square1 = half + r;
    const s1 = Math.sqrt(square1);
    const s2 = Math.max(det / s1, 1e-150);
    const i1 = 1 / square1;
    const i2 = 1 / (s2 * s2);
    const square2 = s2 * s2;
    const inverse = 1 / det;
    const ii = inverse * inverse;
    // Of the energy times 4: eigenvalues of turning and mirroring, then second derivatives by s1 and s2.
    let twist = (2 * (s1 + s2) - (2 * i1) / s1 - (2 * i2) / s2) / (s1 + s2);
    let flip = 2 + 2 * (square1 + det + square2) * ii * inverse;
    twist += 2 * angles * (inverse - (square1 - det + square2) * ii) + 2 * areas * (1 - ii);
    flip += 2 * angles * (inverse + (square1 + det + square2) * ii) - 2 * areas * (1 - ii);
    const both = (Math.max(0, twist) + Math.max(0, flip)) / 4;
    const k1 = 1 + 3 * i1 * i1 + both + 2 * ((angles * s2 * i1) / s1 + areas * square2 * ii * inverse);
    const k2 = 1 + 3 * i2 * i2 + both + 2 * ((angles * s1 * i2) / s2 + areas * square1 * ii * inverse);
    const weight = load<f64>(rest) / 4;
    const mean = (weight * (k1 + k2)) / 2;
    const part = r > 1e-12 * half ? (weight * (k1 - k2)) / (2 * r) : 0;
    addProducts(rest, mean + part * lean, part * c01, mean - part * lean, slots + <usize>t * 24, values);
  }
}

/** Adds the products of a triangle's gradients under a matrix to the values. */
function addProducts(rest: usize, m00: f64, m01: f64, m11: f64, slots: usize, values: usize): void {
  for (let n: i32 = 0; n < 3; n++) {
    const gx = load<f64>(rest + ((<usize>n) << 4), 8);
    const gy = load<f64>(rest + ((<usize>n) << 4), 16);
    const px = m00 * gx + m01 * gy;
    const py = m01 * gx + m11 * gy;
    for (let m = n; m < 3; m++) {
      const hx = load<f64>(rest + ((<usize>m) << 4), 8);
      const hy = load<f64>(rest + ((<usize>m) << 4), 16);
      addAt(values, i32At(slots, n ? n + m + 1 : m), px * hx + py * hy);
    }
  }
}

/** The longest step along `step` before a triangle flips: the least root of each one's area; exact up to a little above 1. */
export function stepBeforeFlip(count: i32, triangles: usize, x: usize, step: usize): f64 {
  let least: f64 = Infinity;
  const toStep = step - x;
  for (let t: i32 = 0; t < count; t++) {
    const i = pointAt(triangles, t, 0, x);
    const j = pointAt(triangles, t, 1, x);
    const k = pointAt(triangles, t, 2, x);
    const ax = load<f64>(j) - load<f64>(i);
    const ay = load<f64>(j, 8) - load<f64>(i, 8);
    const bx = load<f64>(k) - load<f64>(i);
    const by = load<f64>(k, 8) - load<f64>(i, 8);
    const cx = load<f64>(j + toStep) - load<f64>(i + toStep);
    const cy = load<f64>(j + toStep, 8) - load<f64>(i + toStep, 8);
    const dx = load<f64>(k + toStep) - load<f64>(i + toStep);
    const dy = load<f64>(k + toStep, 8) - load<f64>(i + toStep, 8);
    const a = cx * dy - cy * dx;
    const b = ax * dy - ay * dx + cx * by - cy * bx;
    const c = ax * by - ay * bx;
    // Most triangles stay far from it: as long as this is positive there is no root before the limit.
    const limit = Math.min(least, 1.2);
    if (c + Math.min(0, b) * limit + Math.min(0, a) * limit * limit > 0) continue;
    const under = b * b - 4 * a * c;
    if (under < 0) continue;
    const q = -0.5 * (b + (b < 0 ? -1.0 : 1.0) * Math.sqrt(under));
    const r1 = q !== 0 ? c / q : Infinity;
    const r2 = a !== 0 ? q / a : Infinity;
    if (r1 > 0 && r1 < least) least = r1;
    if (r2 > 0 && r2 < least) least = r2;
  }
  return least;
}

/** Marks the points of triangles whose own energy is above a limit, a byte each. @returns how many triangles there are */
export function markStretched(
  points: i32,
  count: i32,
  triangles: usize,
  rests: usize,
  x: usize,
  limit: f64,
  marks: usize,
): i32 {
  memory.fill(marks, 0, points);
  let found: i32 = 0;
  for (let t: i32 = 0; t < count; t++) {
    look(triangles, t, x, rests + <usize>t * REST);
    const det = f00 * f11 - f01 * f10;
    const inverse = 1 / det;
    const square = f00 * f00 + f01 * f01 + f10 * f10 + f11 * f11;
    if (square * (1 + inverse * inverse) <= 4 * limit) continue;
    found++;
    for (let k: i32 = 0; k < 3; k++) store<u8>(marks + <usize>i32At(triangles, 3 * t + k), 1);
  }
  return found;
}
