import type { SparseCholesky } from "../numeric/sparse-cholesky";
import type { RestShapes, ShellPattern } from "./rest-shapes";
import type { ShellSystem } from "./shell-system";
import { stretchEnergy, stretchGradient, stretchMetric } from "./stretch-energy";

export interface Minimised {
  readonly uv: Float64Array;
  /** Mean of (s1^2 + s2^2 + 1/s1^2 + 1/s2^2) / 4 over the area; 1 where nothing is stretched. */
  readonly energy: number;
  readonly passes: number;
}

export interface MinimiseOptions {
  /** How many factorisations at the most. */
  readonly passes: number;
  /** Relative gain of a whole pass below which the work is done. */
  readonly enough?: number | undefined;
  /** Energy at which the work is done. */
  readonly until?: number | undefined;
  /** Called before each pass, and between its steps; throws to stop the work. */
  readonly onPass?: ((pass: number) => void) | undefined;
  /** Asked at the same times, with the pass: true to end with what was reached. */
  readonly isOver?: ((pass: number) => boolean) | undefined;
}

/** Quasi-Newton steps taken on one factorisation, at the most. */
const STEPS_PER_PASS = 20;
/** A step that gains less than this share of the pass's first one ends the pass. */
const FADED = 0.02;

/**
 * Minimises the symmetric Dirichlet energy of a map without flipping a triangle. A pass factors a scalar metric, one
 * unknown a point, and takes limited-memory quasi-Newton steps on it; every step stops short of the first flip.
 *
 * @param start 2 per point, no triangle flipped
 * Source: Smith, Schaefer, Bijective parameterization with free boundaries (2015) for energy and line search;
 * Liu, Bouaziz, Kavan, Quasi-Newton methods for real-time simulation (2017) for steps on one factorisation.
 */
export function minimiseStretch(
  { rest, pattern, solver }: ShellSystem,
  start: Float64Array,
  { passes, enough = 2e-6, until = 0, onPass, isOver }: MinimiseOptions,
): Minimised {
  let here: State = atBestScale(rest, start);
  if (!Number.isFinite(here.energy) || passes <= 0) return { ...here, passes: 0 };
  const values = new Float64Array(pattern.index.length);
  const ends = (pass: number): boolean => {
    onPass?.(pass);
    return isOver?.(pass) ?? false;
  };
  let pass = 0;
  while (pass < passes && here.energy > until && !ends(pass)) {
    pass++;
    stretchMetric(rest, pattern, here.uv, values);
    if (!factorSafely(solver, pattern, values)) break;
    const before = here.energy;
    const atPass = pass;
    here = quasiNewton(rest, solver, here, enough, until, () => ends(atPass));
    if (before - here.energy < enough * here.energy) break;
  }
  return { ...here, passes: pass };
}

interface State {
  readonly uv: Float64Array;
  readonly energy: number;
}

/** Limited-memory BFGS steps whose first metric is the factored Hessian, until they fade. */
function quasiNewton(
  rest: RestShapes,
  solver: SparseCholesky,
  from: State,
  enough: number,
  until: number,
  isOver: () => boolean,
): State {
  let here = from;
  let gradient = new Float64Array(from.uv.length);
  stretchGradient(rest, here.uv, gradient);
  const history: Pair[] = [];
  let firstGain = 0;
  for (let n = 0; n < STEPS_PER_PASS && !isOver(); n++) {
    const step = direction(solver, history, gradient);
    const slope = dot(gradient, step);
    if (!(slope < 0)) break;
    const next = searchLine(rest, here.uv, step, here.energy, slope);
    if (!next) break;
    const gain = here.energy - next.energy;
    if (n === 0) firstGain = gain;
    const newGradient = new Float64Array(gradient.length);
    stretchGradient(rest, next.uv, newGradient);
    const s = next.uv.map((x, i) => x - here.uv[i]!);
    const y = newGradient.map((x, i) => x - gradient[i]!);
    const curvature = dot(s, y);
    if (curvature > 0) history.push({ s, y, rho: 1 / curvature });
    here = next;
    gradient = newGradient;
    if (here.energy <= until || gain < FADED * firstGain || gain < enough * here.energy) break;
  }
  return here;
}

interface Pair {
  readonly s: Float64Array;
  readonly y: Float64Array;
  readonly rho: number;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

/** The two-loop recursion. */
function direction(solver: SparseCholesky, history: readonly Pair[], gradient: Float64Array): Float64Array {
  const q = gradient.map((g) => -g);
  const alpha: number[] = [];
  for (let n = history.length - 1; n >= 0; n--) {
    const { s, y, rho } = history[n]!;
    alpha[n] = rho * dot(s, q);
    for (let i = 0; i < q.length; i++) q[i]! -= alpha[n]! * y[i]!;
  }
  solver.solvePair(q);
  for (let n = 0; n < history.length; n++) {
    const { s, y, rho } = history[n]!;
    const factor = alpha[n]! - rho * dot(y, q);
    for (let i = 0; i < q.length; i++) q[i]! += factor * s[i]!;
  }
  return q;
}

/** Scales a map to its least energy: c^4 = sum(s^-2) / sum(s^2). */
function atBestScale(rest: RestShapes, x: Float64Array): State {
  const e1 = stretchEnergy(rest, x);
  if (!Number.isFinite(e1)) return { uv: x, energy: e1 };
  // With E(c) = (c^2 p + q / c^2) / 4 two evaluations give p and q.
  const e2 = stretchEnergy(
    rest,
    x.map((v) => v * 2),
  );
  const p = (4 * (4 * e2 - e1)) / 15;
  const q = 4 * e1 - p;
  const c = p > 0 && q > 0 ? (q / p) ** 0.25 : 1;
  const uv = x.map((v) => v * c);
  return { uv, energy: stretchEnergy(rest, uv) };
}

/** Factors the metric with a small weight on the diagonal, for the motions that cost nothing; more where it fails. */
function factorSafely(solver: SparseCholesky, pattern: ShellPattern, values: Float64Array): boolean {
  let mean = 0;
  for (let v = 0; v < pattern.n; v++) mean += values[pattern.start[v]!]!;
  mean /= pattern.n;
  let added = 0;
  for (let weight = 1e-9; weight < 1e-2; weight *= 100) {
    for (let v = 0; v < pattern.n; v++) values[pattern.start[v]!]! += weight * mean - added;
    added = weight * mean;
    if (solver.factor(values)) return true;
  }
  return false;
}

/** The longest step, at most 1, that keeps short of the first flip: the least root of each triangle's area. */
export function stepBeforeFlip(triangles: Uint32Array, x: Float64Array, step: Float64Array): number {
  let least = Number.POSITIVE_INFINITY;
  for (let t = 0; t < triangles.length; t += 3) {
    const i = 2 * triangles[t]!;
    const j = 2 * triangles[t + 1]!;
    const k = 2 * triangles[t + 2]!;
    const ax = x[j]! - x[i]!;
    const ay = x[j + 1]! - x[i + 1]!;
    const bx = x[k]! - x[i]!;
    const by = x[k + 1]! - x[i + 1]!;
    const cx = step[j]! - step[i]!;
    const cy = step[j + 1]! - step[i + 1]!;
    const dx = step[k]! - step[i]!;
    const dy = step[k + 1]! - step[i + 1]!;
    const square = cx * dy - cy * dx;
    const linear = ax * dy - ay * dx + cx * by - cy * bx;
    const root = leastPositiveRoot(square, linear, ax * by - ay * bx);
    if (root < least) least = root;
  }
  return Math.min(1, 0.9 * least);
}

function leastPositiveRoot(a: number, b: number, c: number): number {
  const d = b * b - 4 * a * c;
  if (d < 0) return Number.POSITIVE_INFINITY;
  const q = -0.5 * (b + (b < 0 ? -1 : 1) * Math.sqrt(d));
  const r1 = q !== 0 ? c / q : Number.POSITIVE_INFINITY;
  const r2 = a !== 0 ? q / a : Number.POSITIVE_INFINITY;
  const p1 = r1 > 0 ? r1 : Number.POSITIVE_INFINITY;
  const p2 = r2 > 0 ? r2 : Number.POSITIVE_INFINITY;
  return Math.min(p1, p2);
}

function searchLine(
  rest: RestShapes,
  x: Float64Array,
  step: Float64Array,
  energy: number,
  slope: number,
): State | null {
  let t = stepBeforeFlip(rest.triangles, x, step);
  const uv = new Float64Array(x.length);
  for (let tries = 0; tries < 40; tries++, t /= 2) {
    for (let i = 0; i < x.length; i++) uv[i] = x[i]! + t * step[i]!;
    const next = stretchEnergy(rest, uv);
    if (next <= energy + 1e-4 * t * slope) return { uv, energy: next };
  }
  return null;
}
