import { layoutArea } from "./area";
import { borderLengths } from "./shell-mesh";
import type { ShellSystem } from "./shell-system";

/**
 * Conformal map of a disk: the border keeps its lengths and takes the turning angles that a conformal map without
 * scaling along the border has; coordinates are spread harmonically over the inside. One factorisation, two solves.
 *
 * @param loop the border, in the direction of the faces
 * @returns 2 per point, signed area 1 in all; or nothing when the factorisation fails or the border cannot be closed
 * Source: Sawhney, Crane, Boundary first flattening (2017), with scale factor 0 on the border.
 */
export function conformalMap(system: ShellSystem, loop: readonly number[]): Float64Array | null {
  const { kernels, points, shell, factorisation } = system;
  const border = Uint32Array.from(loop, (v) => system.numberOf(v));
  const onBorder = new Uint8Array(points);
  for (const p of border) onBorder[p] = 1;
  system.laplacian();
  const values = kernels.f64(factorisation.values, factorisation.size);
  const laplacian = values.slice();
  holdBorder(system, values, onBorder);
  if (!factorisation.factor()) return null;
  const pairs = system.takePairs();
  const solve = (right: Float64Array): Float64Array => {
    kernels.f64(pairs, right.length).set(right);
    factorisation.solve(pairs);
    kernels.pauseAfter(points);
    return kernels.f64(pairs, right.length).slice();
  };

  kernels.pauseAfter(points);
  // The logarithm of the scale takes the curvature of the inside away, and turns the border by what flows out there.
  const defect = system.angleDefects(onBorder);
  const right = new Float64Array(2 * points);
  for (let p = 0; p < points; p++) if (!onBorder[p]) right[2 * p] = -defect[p]!;
  const outflow = timesLaplacian(system, laplacian, solve(right));
  const turning = border.reduce((all, p, i) => {
    all[i] = defect[p]! + outflow[2 * p]!;
    return all;
  }, new Float64Array(border.length));
  const outline = closedBorder(turning, borderLengths(shell, loop));
  if (!outline) return null;

  const x = new Float64Array(2 * points);
  border.forEach((p, i) => {
    x[2 * p] = outline[2 * i]!;
    x[2 * p + 1] = outline[2 * i + 1]!;
  });
  const fromBorder = timesLaplacian(system, laplacian, x);
  kernels.pauseAfter(points);
  for (let p = 0; p < points; p++)
    if (!onBorder[p]) {
      x[2 * p] = -fromBorder[2 * p]!;
      x[2 * p + 1] = -fromBorder[2 * p + 1]!;
    }
  solve(x);
  return scaleToArea(shell.triangles, system.read(pairs));
}

/** Holds the border in a matrix: its rows and columns are those of the identity. */
function holdBorder({ pattern: { n, start, index } }: ShellSystem, values: Float64Array, onBorder: Uint8Array): void {
  for (let p = 0; p < n; p++) {
    const held = onBorder[p];
    for (let e = start[p]!; e < start[p + 1]!; e++) if (held || onBorder[index[e]!]) values[e] = index[e] === p ? 1 : 0;
  }
}

/** The product of the Laplacian with pairs. */
export function timesLaplacian({ pattern }: ShellSystem, laplacian: Float64Array, x: Float64Array): Float64Array {
  const { n, start, index } = pattern;
  const out = new Float64Array(x.length);
  for (let p = 0; p < n; p++)
    for (let e = start[p]!; e < start[p + 1]!; e++) {
      const q = index[e]!;
      const value = laplacian[e]!;
      out[2 * p]! += value * x[2 * q]!;
      out[2 * p + 1]! += value * x[2 * q + 1]!;
      if (q === p) continue;
      out[2 * q]! += value * x[2 * p]!;
      out[2 * q + 1]! += value * x[2 * p + 1]!;
    }
  return out;
}

/**
 * Lays the border out by lengths and turning angles, and closes it by the least change of lengths, weighted by length.
 *
 * @returns 2 per point, or nothing when a length would not stay positive
 */
function closedBorder(turning: Float64Array, lengths: Float64Array): Float64Array | null {
  const n = turning.length;
  const [du, dv] = [new Float64Array(n), new Float64Array(n)];
  let angle = 0;
  let [a, b, c, p, q] = [0, 0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    angle += turning[i]!;
    du[i] = Math.cos(angle);
    dv[i] = Math.sin(angle);
    const l = lengths[i]!;
    a += l * du[i]! * du[i]!;
    b += l * du[i]! * dv[i]!;
    c += l * dv[i]! * dv[i]!;
    p += l * du[i]!;
    q += l * dv[i]!;
  }
  const det = a * c - b * b;
  if (!(det > 0)) return null;
  const [s, t] = [(c * p - b * q) / det, (a * q - b * p) / det];
  const out = new Float64Array(2 * n);
  let [u, v] = [0, 0];
  for (let i = 0; i < n; i++) {
    const l = lengths[i]! * (1 - s * du[i]! - t * dv[i]!);
    if (!(l > 0)) return null;
    out[2 * i] = u;
    out[2 * i + 1] = v;
    u += l * du[i]!;
    v += l * dv[i]!;
  }
  return out;
}

/** Scales a map so that its signed area is 1; nothing when the area is not positive. */
export function scaleToArea(triangles: Uint32Array, x: Float64Array): Float64Array | null {
  const area = layoutArea(triangles, x);
  if (!(area > 0) || !Number.isFinite(area)) return null;
  const scale = 1 / Math.sqrt(area);
  return x.map((value) => value * scale);
}
