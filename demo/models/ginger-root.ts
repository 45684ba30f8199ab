import type { Asset } from "../../src/core/layout/asset";
import { assemble, facingOut, type Shape, shape, type Vec } from "../kit";

/** Knobs of the root as stretched balls: middle, radius, stretch along x. */
const KNOBS: ReadonlyArray<readonly [Vec, number]> = [
  [[0, 0, 0], 2.1],
  [[2.2, 0.3, 0.4], 1.7],
  [[4.1, 0.2, -0.3], 1.5],
  [[-2.1, 0.2, 0.5], 1.6],
  [[-3.9, -0.1, 1.2], 1.25],
  [[0.6, 2.2, 0.3], 1.2],
  [[0.9, 3.6, 0.9], 0.95],
  [[3.0, 0.8, 2.0], 1.1],
  [[3.2, 1.1, 3.4], 0.85],
  [[-1.3, -0.3, -1.9], 1.15],
  [[-1.6, -0.2, -3.2], 0.9],
  [[5.5, 0.8, -1.2], 1.0],
];

/** Distance to the knobs melted into one another, with rings of skin across. */
function field(x: number, y: number, z: number): number {
  let sum = 0;
  for (const [[cx, cy, cz], r] of KNOBS) sum += Math.exp(-3.2 * (Math.hypot(x - cx, y - cy, z - cz) - r));
  const d = -Math.log(sum) / 3.2;
  return d + 0.035 * Math.sin(5.5 * x + 1.3 * Math.sin(2 * z)) + 0.02 * Math.sin(7 * y + 3 * z);
}

/** Grid points a side of a block. */
const BLOCK = 8;
/** The field changes by less than this over a length of one. */
const STEEPEST = 1.6;

/** The field at the points of a grid. Where a whole block lies to one side of the surface, only the side is right. */
function fieldValues(low: Vec, step: number, [nx, ny, nz]: readonly [number, number, number]): Float64Array {
  const value = new Float64Array((nx + 1) * (ny + 1) * (nz + 1));
  const reach = (STEEPEST * Math.sqrt(3) * BLOCK * step) / 2;
  const at = (i: number, j: number, k: number) => field(low[0] + i * step, low[1] + j * step, low[2] + k * step);
  for (let k0 = 0; k0 <= nz; k0 += BLOCK)
    for (let j0 = 0; j0 <= ny; j0 += BLOCK)
      for (let i0 = 0; i0 <= nx; i0 += BLOCK) {
        const middle = at(i0 + BLOCK / 2, j0 + BLOCK / 2, k0 + BLOCK / 2);
        const far = Math.abs(middle) > reach;
        for (let k = k0; k <= Math.min(nz, k0 + BLOCK - 1); k++)
          for (let j = j0; j <= Math.min(ny, j0 + BLOCK - 1); j++)
            for (let i = i0; i <= Math.min(nx, i0 + BLOCK - 1); i++)
              value[(k * (ny + 1) + j) * (nx + 1) + i] = far ? middle : at(i, j, k);
      }
  return value;
}

/**
 * Quads of the level set by naive surface nets on a grid of the given step.
 * Source: S. Gibson, Constrained elastic surface nets (1998).
 */
function surfaceNet(step: number): Shape {
  const low: Vec = [-6, -3, -5];
  const n = [13.5, 8.5, 10.5].map((extent) => Math.ceil(extent / step));
  const [nx, ny, nz] = [n[0]!, n[1]!, n[2]!];
  const at = (i: number, j: number, k: number) => (k * (ny + 1) + j) * (nx + 1) + i;
  const value = fieldValues(low, step, [nx, ny, nz]);
  const s = shape();
  const cell = new Int32Array(value.length).fill(-1);
  const edges: Array<[number, number]> = [];
  for (let a = 0; a < 8; a++) for (const bit of [1, 2, 4]) if (!(a & bit)) edges.push([a, a | bit]);
  for (let k = 0; k < nz; k++)
    for (let j = 0; j < ny; j++)
      for (let i = 0; i < nx; i++) {
        const sum = [0, 0, 0];
        let crossings = 0;
        for (const [a, b] of edges) {
          const va = value[at(i + (a & 1), j + ((a >> 1) & 1), k + (a >> 2))]!;
          const vb = value[at(i + (b & 1), j + ((b >> 1) & 1), k + (b >> 2))]!;
          if (va < 0 === vb < 0) continue;
          const t = va / (va - vb);
          crossings++;
          for (let d = 0; d < 3; d++) sum[d]! += ((a >> d) & 1) + t * (((b >> d) & 1) - ((a >> d) & 1));
        }
        if (!crossings) continue;
        cell[at(i, j, k)] =
          s.points.push([
            low[0] + step * (i + sum[0]! / crossings),
            low[1] + step * (j + sum[1]! / crossings),
            low[2] + step * (k + sum[2]! / crossings),
          ]) - 1;
      }
  const strides = [1, nx + 1, (nx + 1) * (ny + 1)];
  for (let k = 1; k < nz; k++)
    for (let j = 1; j < ny; j++)
      for (let i = 1; i < nx; i++) {
        const here = at(i, j, k);
        for (let d = 0; d < 3; d++) {
          const inside = value[here]! < 0;
          if (inside === value[here + strides[d]!]! < 0) continue;
          const [u, v] = [strides[(d + 1) % 3]!, strides[(d + 2) % 3]!];
          const quad = [cell[here]!, cell[here - u]!, cell[here - u - v]!, cell[here - v]!];
          s.faces.push(inside ? quad : quad.reverse());
          s.material.push(0);
        }
      }
  return facingOut(s);
}

/** An organic root without any layout. @param step edge length of its quads, centimetres; 0.068 makes some 60,000 */
export function gingerRoot(step = 0.068): Asset {
  return assemble(
    "Ginger root",
    "cm",
    [{ name: "Ginger skin", color: [0.56, 0.36, 0.16] }],
    [{ name: "Root", shape: surfaceNet(step) }],
  );
}
