import { length3 } from "../numeric/length";
import type { ShellMesh } from "./shell-mesh";

/** Triangles flattened one by one, with what linear finite elements need of them. The whole area is scaled to 1. */
export interface RestShapes {
  readonly triangles: Uint32Array;
  readonly points: number;
  /** Share of each triangle in the area; sums to 1. */
  readonly area: Float64Array;
  /** 6 per triangle: gradients (gx, gy) of its three hat functions in its own plane. The map p has F = sum p_k g_k^T. */
  readonly gradient: Float64Array;
  /** World area of the whole. */
  readonly worldArea: number;
}

/** Height over longest edge below which a triangle counts as having no shape of its own. */
const NEEDLE = 1e-5;

/** Rest shapes of a shell. Triangles without area get a thin shape of their own, so that they too can flip and must not. */
export function restShapes(shell: ShellMesh): RestShapes {
  const { triangles, positions } = shell;
  const count = triangles.length / 3;
  const area = new Float64Array(count);
  const gradient = new Float64Array(6 * count);
  const flat = new Float64Array(6);
  let worldArea = 0;
  let longest = 0;
  for (let t = 0; t < count; t++) {
    longest = Math.max(longest, layFlat(positions, triangles, t, flat, 0));
    worldArea += twiceArea(flat) / 2;
  }
  const scale = 1 / Math.sqrt(worldArea || 1);
  let total = 0;
  for (let t = 0; t < count; t++) {
    layFlat(positions, triangles, t, flat, longest * 1e-6);
    for (let k = 0; k < 6; k++) flat[k]! *= scale;
    const twice = twiceArea(flat);
    area[t] = twice / 2;
    total += twice / 2;
    for (let k = 0; k < 3; k++) {
      const a = 2 * ((k + 1) % 3);
      const b = 2 * ((k + 2) % 3);
      gradient[6 * t + 2 * k] = (flat[a + 1]! - flat[b + 1]!) / twice;
      gradient[6 * t + 2 * k + 1] = (flat[b]! - flat[a]!) / twice;
    }
  }
  if (total > 0) for (let t = 0; t < count; t++) area[t]! /= total;
  return { triangles, points: shell.wedges.length, area, gradient, worldArea };
}

const twiceArea = (p: Float64Array): number => (p[2]! - p[0]!) * (p[5]! - p[1]!) - (p[4]! - p[0]!) * (p[3]! - p[1]!);

/** Writes the triangle's three points in its own plane to `flat`, at least a needle high; returns its longest edge. */
function layFlat(
  positions: Float64Array,
  triangles: Uint32Array,
  t: number,
  flat: Float64Array,
  least: number,
): number {
  const a = 3 * triangles[3 * t]!;
  const b = 3 * triangles[3 * t + 1]!;
  const c = 3 * triangles[3 * t + 2]!;
  const [ab, bc, ca] = [distance(positions, a, b), distance(positions, b, c), distance(positions, c, a)];
  // The longest edge goes along the first axis.
  const k = bc > ab ? (ca > bc ? 2 : 1) : ca > ab ? 2 : 0;
  const longest = k === 0 ? ab : k === 1 ? bc : ca;
  const base = Math.max(longest, least);
  const p = k === 0 ? a : k === 1 ? b : c;
  const q = k === 0 ? b : k === 1 ? c : a;
  const r = k === 0 ? c : k === 1 ? a : b;
  let along = base / 2;
  let height = 0;
  if (longest >= least && longest > 0) {
    let dot = 0;
    let square = 0;
    for (let d = 0; d < 3; d++) {
      const x = (positions[q + d]! - positions[p + d]!) / longest;
      const y = positions[r + d]! - positions[p + d]!;
      dot += x * y;
      square += y * y;
    }
    along = Math.min(Math.max(dot, 0), base);
    height = Math.sqrt(Math.max(0, square - dot * dot));
  }
  const [first, second, third] = [2 * k, 2 * ((k + 1) % 3), 2 * ((k + 2) % 3)];
  flat[first] = 0;
  flat[first + 1] = 0;
  flat[second] = base;
  flat[second + 1] = 0;
  flat[third] = along;
  flat[third + 1] = Math.max(height, NEEDLE * base);
  return longest;
}

const distance = (x: Float64Array, p: number, q: number): number =>
  length3(x[q]! - x[p]!, x[q + 1]! - x[p + 1]!, x[q + 2]! - x[p + 2]!);
