import type { RestShapes, ShellPattern } from "./rest-shapes";

/** Mean symmetric Dirichlet energy of a map, by area; infinite when a triangle is flipped or has no area. */
export function stretchEnergy(rest: RestShapes, x: Float64Array): number {
  const { triangles, area, gradient } = rest;
  let sum = 0;
  for (let t = 0; t < area.length; t++) {
    const i = 2 * triangles[3 * t]!;
    const j = 2 * triangles[3 * t + 1]!;
    const k = 2 * triangles[3 * t + 2]!;
    const g = 6 * t;
    const a = x[i]! * gradient[g]! + x[j]! * gradient[g + 2]! + x[k]! * gradient[g + 4]!;
    const b = x[i]! * gradient[g + 1]! + x[j]! * gradient[g + 3]! + x[k]! * gradient[g + 5]!;
    const c = x[i + 1]! * gradient[g]! + x[j + 1]! * gradient[g + 2]! + x[k + 1]! * gradient[g + 4]!;
    const d = x[i + 1]! * gradient[g + 1]! + x[j + 1]! * gradient[g + 3]! + x[k + 1]! * gradient[g + 5]!;
    const det = a * d - b * c;
    if (!(det > 0)) return Number.POSITIVE_INFINITY;
    const square = a * a + b * b + c * c + d * d;
    sum += area[t]! * square * (1 + 1 / (det * det)); // s1^-2 + s2^-2 = (s1^2 + s2^2) / det^2
  }
  return sum / 4;
}

const MODE = new Float64Array(16); // four 2 x 2 matrices, row-major
const LAMBDA = new Float64Array(4);
const Q = new Float64Array(6);
const H = new Float64Array(36);

/** Writes the gradient of the energy by the points' coordinates. */
export function stretchGradient(rest: RestShapes, x: Float64Array, out: Float64Array): void {
  const { triangles, area, gradient: shape } = rest;
  out.fill(0);
  for (let t = 0; t < area.length; t++) {
    const i = 2 * triangles[3 * t]!;
    const j = 2 * triangles[3 * t + 1]!;
    const k = 2 * triangles[3 * t + 2]!;
    const g = 6 * t;
    const a = x[i]! * shape[g]! + x[j]! * shape[g + 2]! + x[k]! * shape[g + 4]!;
    const b = x[i]! * shape[g + 1]! + x[j]! * shape[g + 3]! + x[k]! * shape[g + 5]!;
    const c = x[i + 1]! * shape[g]! + x[j + 1]! * shape[g + 2]! + x[k + 1]! * shape[g + 4]!;
    const d = x[i + 1]! * shape[g + 1]! + x[j + 1]! * shape[g + 3]! + x[k + 1]! * shape[g + 5]!;
    const inverse = 1 / (a * d - b * c);
    const own = 0.5 * area[t]! * (1 + inverse * inverse);
    const other = 0.5 * area[t]! * (a * a + b * b + c * c + d * d) * inverse ** 3;
    // dE/dF = 2 F (1 + det^-2) - 2 |F|^2 det^-3 cof F, by a quarter
    const p00 = own * a - other * d;
    const p01 = own * b + other * c;
    const p10 = own * c + other * b;
    const p11 = own * d - other * a;
    for (let n = 0; n < 3; n++) {
      const gx = shape[g + 2 * n]!;
      const gy = shape[g + 2 * n + 1]!;
      const at = 2 * triangles[3 * t + n]!;
      out[at]! += p00 * gx + p01 * gy;
      out[at + 1]! += p10 * gx + p11 * gy;
    }
  }
}

/** Writes the energy's Hessian, every triangle's part made positive, as 2 x 2 blocks per entry of the pattern. */
export function stretchHessian(rest: RestShapes, pattern: ShellPattern, x: Float64Array, values: Float64Array): void {
  const { triangles, area, gradient: shape } = rest;
  values.fill(0);
  for (let t = 0; t < area.length; t++) {
    const i = 2 * triangles[3 * t]!;
    const j = 2 * triangles[3 * t + 1]!;
    const k = 2 * triangles[3 * t + 2]!;
    const g = 6 * t;
    const a = x[i]! * shape[g]! + x[j]! * shape[g + 2]! + x[k]! * shape[g + 4]!;
    const b = x[i]! * shape[g + 1]! + x[j]! * shape[g + 3]! + x[k]! * shape[g + 5]!;
    const c = x[i + 1]! * shape[g]! + x[j + 1]! * shape[g + 2]! + x[k + 1]! * shape[g + 4]!;
    const d = x[i + 1]! * shape[g + 1]! + x[j + 1]! * shape[g + 3]! + x[k + 1]! * shape[g + 5]!;
    eigensystem(a, b, c, d);
    triangleHessian(shape, g, area[t]! / 4);
    for (let n = 0; n < 3; n++) {
      for (let m = 0; m < 3; m++) {
        const at = 4 * pattern.slot[9 * t + 3 * n + m]!;
        const from = 12 * n + 2 * m;
        values[at]! += H[from]!;
        values[at + 1]! += H[from + 1]!;
        values[at + 2]! += H[from + 6]!;
        values[at + 3]! += H[from + 7]!;
      }
    }
  }
}

/** Eigenvalues (kept from below at 0) and eigenmatrices of the energy's Hessian in F = [a b; c d], det F > 0. */
function eigensystem(a: number, b: number, c: number, d: number): void {
  const e = (a + d) / 2;
  const f = (a - d) / 2;
  const g = (c + b) / 2;
  const h = (c - b) / 2;
  const q = Math.hypot(e, h);
  const r = Math.hypot(f, g);
  const s1 = q + r;
  const s2 = Math.max((a * d - b * c) / s1, 1e-300); // q - r, without the cancellation
  const a1 = r > 0 ? Math.atan2(g, f) : 0;
  const a2 = Math.atan2(h, e);
  const cu = Math.cos((a2 + a1) / 2);
  const su = Math.sin((a2 + a1) / 2);
  const cv = Math.cos((a2 - a1) / 2);
  const sv = Math.sin((a2 - a1) / 2);
  // U = [cu -su; su cu], V^T = [cv -sv; sv cv]
  MODE[0] = cu * cv;
  MODE[1] = -cu * sv;
  MODE[2] = su * cv;
  MODE[3] = -su * sv;
  MODE[4] = -su * sv;
  MODE[5] = -su * cv;
  MODE[6] = cu * sv;
  MODE[7] = cu * cv;
  const half = Math.SQRT1_2;
  // twist U [0 -1; 1 0] V^T and flip U [0 1; 1 0] V^T
  const x00 = -cu * sv;
  const x01 = -cu * cv;
  const x10 = -su * sv;
  const x11 = -su * cv;
  const y00 = -su * cv;
  const y01 = su * sv;
  const y10 = cu * cv;
  const y11 = -cu * sv;
  MODE[8] = half * (x00 + y00);
  MODE[9] = half * (x01 + y01);
  MODE[10] = half * (x10 + y10);
  MODE[11] = half * (x11 + y11);
  MODE[12] = half * (y00 - x00);
  MODE[13] = half * (y01 - x01);
  MODE[14] = half * (y10 - x10);
  MODE[15] = half * (y11 - x11);
  const i1 = 1 / (s1 * s1);
  const i2 = 1 / (s2 * s2);
  const pull = 2 * (s1 + s2) - (2 * i1) / s1 - (2 * i2) / s2;
  const flip = 2 + (2 * (s1 * s1 + s1 * s2 + s2 * s2)) / (s1 * s2) ** 3;
  const twist = Math.max(0, pull / (s1 + s2));
  LAMBDA[0] = 2 + 6 * i1 * i1;
  LAMBDA[1] = 2 + 6 * i2 * i2;
  LAMBDA[2] = twist;
  LAMBDA[3] = flip;
}

/** Pulls the eigenmatrices back to the triangle's six coordinates: H = weight * sum of lambda q q^T. */
function triangleHessian(shape: Float64Array, g: number, weight: number): void {
  H.fill(0);
  for (let m = 0; m < 4; m++) {
    const lambda = weight * LAMBDA[m]!;
    if (lambda === 0) continue;
    for (let n = 0; n < 3; n++) {
      const gx = shape[g + 2 * n]!;
      const gy = shape[g + 2 * n + 1]!;
      Q[2 * n] = MODE[4 * m]! * gx + MODE[4 * m + 1]! * gy;
      Q[2 * n + 1] = MODE[4 * m + 2]! * gx + MODE[4 * m + 3]! * gy;
    }
    for (let r = 0; r < 6; r++) {
      const factor = lambda * Q[r]!;
      for (let c = 0; c < 6; c++) H[6 * r + c]! += factor * Q[c]!;
    }
  }
}
