import type { RestShapes } from "./rest-shapes";
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
  const { rest } = system;
  const onBorder = new Uint8Array(rest.points);
  for (const v of loop) onBorder[v] = 1;
  const laplacian = laplacianOf(system);
  holdBorder(system, laplacian, onBorder);
  if (!system.factorisation.factor()) return null;
  const pairs = system.takePairs();
  const solve = (right: Float64Array): Float64Array => {
    system.write(right, pairs);
    system.factorisation.solve(pairs);
    return system.read(pairs);
  };

  // The logarithm of the scale takes the curvature of the inside away, and turns the border by what flows out there.
  const defect = angleDefects(rest, onBorder);
  const right = new Float64Array(2 * rest.points);
  for (let v = 0; v < rest.points; v++) if (!onBorder[v]) right[2 * v] = -defect[v]!;
  const outflow = timesLaplacian(system, laplacian, solve(right));
  const turning = loop.map((v) => defect[v]! + outflow[2 * v]!);
  const border = closedBorder(turning, borderLengths(rest, rest.points, loop));
  if (!border) return null;

  const x = new Float64Array(2 * rest.points);
  loop.forEach((v, i) => {
    x[2 * v] = border[2 * i]!;
    x[2 * v + 1] = border[2 * i + 1]!;
  });
  const fromBorder = timesLaplacian(system, laplacian, x);
  for (let v = 0; v < rest.points; v++)
    if (!onBorder[v]) {
      x[2 * v] = -fromBorder[2 * v]!;
      x[2 * v + 1] = -fromBorder[2 * v + 1]!;
    }
  return scaleToArea(rest.triangles, solve(x));
}

/** The cotangent Laplacian, positive semidefinite: one number per entry of the system's pattern. */
function laplacianOf({ rest: { area, gradient }, pattern }: ShellSystem): Float64Array {
  const values = new Float64Array(pattern.index.length);
  for (let t = 0; t < area.length; t++)
    for (let a = 0, slot = 6 * t; a < 3; a++)
      for (let b = a; b < 3; b++, slot++) {
        const [i, j] = [6 * t + 2 * a, 6 * t + 2 * b];
        const dot = gradient[i]! * gradient[j]! + gradient[i + 1]! * gradient[j + 1]!;
        values[pattern.slots[slot]!]! += area[t]! * dot;
      }
  return values;
}

/** Writes the matrix with the border held: its rows and columns are those of the identity. */
function holdBorder(
  { pattern, tree, factorisation, kernels }: ShellSystem,
  laplacian: Float64Array,
  onBorder: Uint8Array,
) {
  const values = kernels.f64(factorisation.values, factorisation.size);
  values.set(laplacian);
  for (let p = 0; p < pattern.n; p++) {
    const held = onBorder[tree.order[p]!];
    for (let e = pattern.start[p]!; e < pattern.start[p + 1]!; e++)
      if (held || onBorder[tree.order[pattern.index[e]!]!]) values[e] = pattern.index[e] === p ? 1 : 0;
  }
}

/** The product of the Laplacian with pairs. */
function timesLaplacian({ pattern, tree }: ShellSystem, laplacian: Float64Array, x: Float64Array): Float64Array {
  const out = new Float64Array(x.length);
  for (let p = 0; p < pattern.n; p++) {
    const v = 2 * tree.order[p]!;
    for (let e = pattern.start[p]!; e < pattern.start[p + 1]!; e++) {
      const w = 2 * tree.order[pattern.index[e]!]!;
      const value = laplacian[e]!;
      out[v]! += value * x[w]!;
      out[v + 1]! += value * x[w + 1]!;
      if (w === v) continue;
      out[w]! += value * x[v]!;
      out[w + 1]! += value * x[v + 1]!;
    }
  }
  return out;
}

/** Curvature of every point: a whole turn, on the border half a turn, less its angles. */
function angleDefects({ triangles, area, gradient }: RestShapes, onBorder: Uint8Array): Float64Array {
  const out = Float64Array.from(onBorder, (b) => (b ? Math.PI : 2 * Math.PI));
  for (let t = 0; t < area.length; t++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [6 * t + 2 * ((k + 1) % 3), 6 * t + 2 * ((k + 2) % 3)];
      const dot = gradient[a]! * gradient[b]! + gradient[a + 1]! * gradient[b + 1]!;
      const cross = Math.abs(gradient[a]! * gradient[b + 1]! - gradient[a + 1]! * gradient[b]!);
      out[triangles[3 * t + k]!]! -= Math.atan2(cross, -dot);
    }
  return out;
}

/** Lengths of the border's edges, from each point of the loop to the next. */
function borderLengths({ triangles, gradient }: RestShapes, points: number, loop: readonly number[]): Float64Array {
  const place = new Int32Array(points).fill(-1);
  loop.forEach((v, i) => {
    place[v] = i;
  });
  const out = new Float64Array(loop.length);
  for (let c = 0; c < triangles.length; c++) {
    const first = c - (c % 3);
    const at = place[triangles[c]!]!;
    if (at < 0 || loop[(at + 1) % loop.length] !== triangles[first + ((c + 1) % 3)]) continue;
    // The gradient of the third point's hat function is the edge's length by twice the area.
    const [i, j, k] = [2 * first + 2 * (c % 3), 2 * first + 2 * ((c + 1) % 3), 2 * first + 2 * ((c + 2) % 3)];
    const cross = Math.abs(gradient[i]! * gradient[j + 1]! - gradient[i + 1]! * gradient[j]!);
    out[at] = Math.sqrt(gradient[k]! * gradient[k]! + gradient[k + 1]! * gradient[k + 1]!) / cross;
  }
  return out;
}

/**
 * Lays the border out by lengths and turning angles, and closes it by the least change of lengths, weighted by length.
 *
 * @returns 2 per point, or nothing when a length would not stay positive
 */
function closedBorder(turning: readonly number[], lengths: Float64Array): Float64Array | null {
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
