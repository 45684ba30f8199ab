import { length3 } from "../numeric/length";
import { weightedPercentile } from "../numeric/percentile";
import { type ShellMesh, triangleAreas } from "./shell-mesh";

/** The share of the area that makes a tail. */
const TAIL = 0.01;

/**
 * Symmetric Dirichlet energy of one triangle's map, (s1^2 + s2^2 + 1/s1^2 + 1/s2^2) / 4: 1 where nothing is stretched; 1
 * for a triangle without area in space.
 *
 * @param p 3 per point in space @param v its points there @param uv 2 per point @param w its points there
 */
export function triangleEnergy(p: Float64Array, v: ArrayLike<number>, uv: Float64Array, w: ArrayLike<number>): number {
  const [a, b, c] = [3 * v[0]!, 3 * v[1]!, 3 * v[2]!];
  const [i, j, k] = [2 * w[0]!, 2 * w[1]!, 2 * w[2]!];
  const [x1, y1, z1] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
  const [x2, y2, z2] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
  const base = length3(x1, y1, z1);
  const along = (x1 * x2 + y1 * y2 + z1 * z2) / base;
  const height = Math.sqrt(Math.max(0, x2 * x2 + y2 * y2 + z2 * z2 - along * along));
  if (!(base > 0) || !(height > 0)) return 1;
  const [ux, uy] = [(uv[j]! - uv[i]!) / base, (uv[j + 1]! - uv[i + 1]!) / base];
  const [vx, vy] = [(uv[k]! - uv[i]! - ux * along) / height, (uv[k + 1]! - uv[i + 1]! - uy * along) / height];
  const determinant = ux * vy - uy * vx;
  const squares = ux * ux + uy * uy + vx * vx + vy * vy;
  return (squares + squares / (determinant * determinant)) / 4;
}

/** The energy beyond which a hundredth of a shell's area is stretched, at the least. */
export function stretchTail(shell: ShellMesh, uv: Float64Array): number {
  const { triangles, positions } = shell;
  const values = new Float32Array(triangles.length / 3);
  for (let t = 0; t < values.length; t++) {
    const points = triangles.subarray(3 * t, 3 * t + 3);
    values[t] = triangleEnergy(positions, points, uv, points);
  }
  return weightedPercentile([{ values, weights: Float32Array.from(triangleAreas(shell)) }], 1 - TAIL);
}
