import { SparseCholesky } from "../numeric/sparse-cholesky";
import { patternOf, type RestShapes } from "./rest-shapes";

const ROUNDS = 10;

/**
 * Conformal map of a disk with a free border: the least eigenvector of the conformal energy against the border's
 * mass, by inverse iteration on one Cholesky factorisation. No point is pinned, so none is favoured.
 *
 * @param positions 3 per point, only for the elimination order
 * @param border points on the border
 * @returns 2 per point, signed area 1 in all; or nothing when the factorisation fails
 * Source: Mullen, Tong, Alliez, Desbrun, Spectral conformal parameterization (2008); the energy is that of
 * Lévy, Petitjean, Ray, Maillot, Least squares conformal maps (2002).
 */
export function conformalMap(
  rest: RestShapes,
  positions: Float64Array,
  border: readonly number[],
): Float64Array | null {
  const pattern = patternOf(rest.triangles, rest.points);
  const values = conformalEnergy(rest, pattern.slot, pattern.index.length);
  const n = rest.points;
  let trace = 0;
  for (let v = 0; v < n; v++) trace += values[4 * pattern.start[v]!]!;
  for (let v = 0; v < n; v++) {
    values[4 * pattern.start[v]!]! += 1e-9 * (trace / n);
    values[4 * pattern.start[v]! + 3]! += 1e-9 * (trace / n);
  }
  const solver = new SparseCholesky(pattern, positions, 3, 2);
  if (!solver.factor(values)) return null;

  let x = new Float64Array(2 * n);
  for (let i = 0; i < border.length; i++) {
    const angle = (2 * Math.PI * i) / border.length;
    x[2 * border[i]!] = Math.cos(angle);
    x[2 * border[i]! + 1] = Math.sin(angle);
  }
  let before = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const y = new Float64Array(2 * n);
    for (const v of border) {
      y[2 * v] = x[2 * v]!;
      y[2 * v + 1] = x[2 * v + 1]!;
    }
    solver.solve(y);
    const norm = centre(y, border);
    if (!(norm > 0) || !Number.isFinite(norm)) return null;
    for (let i = 0; i < y.length; i++) y[i]! /= norm;
    x = y;
    if (Math.abs(norm - before) < 1e-4 * norm) break;
    before = norm;
  }
  return scaleToArea(rest.triangles, x);
}

/** Hessian of Dirichlet energy minus signed area, 2 x 2 blocks per entry of the pattern. */
function conformalEnergy(rest: RestShapes, slot: Uint32Array, entries: number): Float64Array {
  const values = new Float64Array(4 * entries);
  const { area, gradient } = rest;
  for (let t = 0; t < area.length; t++) {
    for (let a = 0; a < 3; a++) {
      for (let b = 0; b < 3; b++) {
        const at = 4 * slot[9 * t + 3 * a + b]!;
        const g = 6 * t;
        const weight =
          area[t]! *
          (gradient[g + 2 * a]! * gradient[g + 2 * b]! + gradient[g + 2 * a + 1]! * gradient[g + 2 * b + 1]!);
        values[at]! += weight;
        values[at + 3]! += weight;
        if (a === b) continue;
        const turn = b === (a + 1) % 3 ? 0.5 : -0.5;
        values[at + 1]! -= turn; // u_a v_b
        values[at + 2]! += turn; // v_a u_b
      }
    }
  }
  return values;
}

/** Moves the border's mean to the origin; returns the border's norm. */
function centre(x: Float64Array, border: readonly number[]): number {
  let u = 0;
  let v = 0;
  for (const p of border) {
    u += x[2 * p]!;
    v += x[2 * p + 1]!;
  }
  u /= border.length;
  v /= border.length;
  for (let i = 0; i < x.length; i += 2) {
    x[i]! -= u;
    x[i + 1]! -= v;
  }
  let sum = 0;
  for (const p of border) sum += x[2 * p]! ** 2 + x[2 * p + 1]! ** 2;
  return Math.sqrt(sum);
}

/** Scales a map so that its signed area is 1; nothing when the area is not positive. */
export function scaleToArea(triangles: Uint32Array, x: Float64Array): Float64Array | null {
  let area = 0;
  for (let t = 0; t < triangles.length; t += 3) area += signedArea(x, triangles, t);
  if (!(area > 0) || !Number.isFinite(area)) return null;
  const scale = 1 / Math.sqrt(area);
  return x.map((value) => value * scale);
}

/** Signed area of the triangle whose first point stands at `at` in `triangles`. */
export function signedArea(x: Float64Array, triangles: Uint32Array, at: number): number {
  const a = 2 * triangles[at]!;
  const b = 2 * triangles[at + 1]!;
  const c = 2 * triangles[at + 2]!;
  return ((x[b]! - x[a]!) * (x[c + 1]! - x[a + 1]!) - (x[c]! - x[a]!) * (x[b + 1]! - x[a + 1]!)) / 2;
}
