import type { RestShapes, ShellPattern } from "./rest-shapes";

/** Deformation gradient of the triangle looked at: a b / c d, rows u and v. Scratch of the loops below. */
const F = new Float64Array(4);

/** Writes the deformation gradient of triangle `t` to the scratch. */
function deformation({ triangles, gradient }: RestShapes, x: Float64Array, t: number): void {
  const i = 2 * triangles[3 * t]!;
  const j = 2 * triangles[3 * t + 1]!;
  const k = 2 * triangles[3 * t + 2]!;
  const g = 6 * t;
  for (let row = 0; row < 2; row++) {
    const xi = x[i + row]!;
    const xj = x[j + row]!;
    const xk = x[k + row]!;
    F[2 * row] = xi * gradient[g]! + xj * gradient[g + 2]! + xk * gradient[g + 4]!;
    F[2 * row + 1] = xi * gradient[g + 1]! + xj * gradient[g + 3]! + xk * gradient[g + 5]!;
  }
}

/** Mean symmetric Dirichlet energy of a map, by area; infinite when a triangle is flipped or has no area. */
export function stretchEnergy(rest: RestShapes, x: Float64Array): number {
  const { area } = rest;
  let sum = 0;
  for (let t = 0; t < area.length; t++) {
    deformation(rest, x, t);
    const a = F[0]!;
    const b = F[1]!;
    const c = F[2]!;
    const d = F[3]!;
    const det = a * d - b * c;
    if (!(det > 0)) return Number.POSITIVE_INFINITY;
    const square = a * a + b * b + c * c + d * d;
    sum += area[t]! * square * (1 + 1 / (det * det)); // s1^-2 + s2^-2 = (s1^2 + s2^2) / det^2
  }
  return sum / 4;
}

/** Writes the gradient of the energy by the points' coordinates. */
export function stretchGradient(rest: RestShapes, x: Float64Array, out: Float64Array): void {
  const { triangles, area, gradient: shape } = rest;
  out.fill(0);
  for (let t = 0; t < area.length; t++) {
    deformation(rest, x, t);
    const a = F[0]!;
    const b = F[1]!;
    const c = F[2]!;
    const d = F[3]!;
    const inverse = 1 / (a * d - b * c);
    const own = 0.5 * area[t]! * (1 + inverse * inverse);
    const other = 0.5 * area[t]! * (a * a + b * b + c * c + d * d) * inverse ** 3;
    // dE/dF = 2 F (1 + det^-2) - 2 |F|^2 det^-3 cof F, by a quarter
    const p00 = own * a - other * d;
    const p01 = own * b + other * c;
    const p10 = own * c + other * b;
    const p11 = own * d - other * a;
    for (let n = 0; n < 3; n++) {
      const gx = shape[6 * t + 2 * n]!;
      const gy = shape[6 * t + 2 * n + 1]!;
      const at = 2 * triangles[3 * t + n]!;
      out[at]! += p00 * gx + p01 * gy;
      out[at + 1]! += p10 * gx + p11 * gy;
    }
  }
}

/**
 * Writes a scalar metric for steps that reduce the energy, one number per entry of the pattern, the same for u and v:
 * the mean of the two diagonal blocks of the Hessian, every triangle's part made positive by its closed-form eigenvalues.
 *
 * Source of the eigenvalues: Smith, de Goes, Kim, Analytic eigensystems for isotropic distortion energies (2019).
 */
export function stretchMetric(rest: RestShapes, pattern: ShellPattern, x: Float64Array, values: Float64Array): void {
  const { area, gradient: shape } = rest;
  values.fill(0);
  for (let t = 0; t < area.length; t++) {
    deformation(rest, x, t);
    const a = F[0]!;
    const b = F[1]!;
    const c = F[2]!;
    const d = F[3]!;
    // C = F^T F has the squares of the singular values, and the directions in the triangle that they stretch.
    const c00 = a * a + c * c;
    const c01 = a * b + c * d;
    const c11 = b * b + d * d;
    const half = (c00 + c11) / 2;
    const lean = (c00 - c11) / 2;
    const r = Math.sqrt(lean * lean + c01 * c01);
    const det = a * d - b * c;
    const s1 = Math.sqrt(half + r);
    const s2 = Math.max(det / s1, 1e-150);
    const i1 = 1 / (s1 * s1);
    const i2 = 1 / (s2 * s2);
    const product = s1 * s2;
    const twist = Math.max(0, (2 * (s1 + s2) - (2 * i1) / s1 - (2 * i2) / s2) / (s1 + s2));
    const flip = 2 + (2 * (s1 * s1 + product + s2 * s2)) / (product * product * product);
    const both = (twist + flip) / 4;
    const k1 = 1 + 3 * i1 * i1 + both;
    const k2 = 1 + 3 * i2 * i2 + both;
    const mean = (k1 + k2) / 2;
    const part = r > 1e-12 * half ? (k1 - k2) / (2 * r) : 0;
    const weight = area[t]! / 4;
    const m00 = weight * (mean + part * lean);
    const m01 = weight * part * c01;
    const m11 = weight * (mean - part * lean);
    for (let n = 0; n < 3; n++) {
      const gx = shape[6 * t + 2 * n]!;
      const gy = shape[6 * t + 2 * n + 1]!;
      const px = m00 * gx + m01 * gy;
      const py = m01 * gx + m11 * gy;
      for (let m = 0; m < 3; m++)
        values[pattern.slot[9 * t + 3 * n + m]!]! += px * shape[6 * t + 2 * m]! + py * shape[6 * t + 2 * m + 1]!;
    }
  }
}
