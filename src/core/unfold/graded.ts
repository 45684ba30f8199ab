import { withKernels } from "../kernels/kernels";
import { signedArea } from "./area";
import { timesLaplacian } from "./conformal";
import type { ShellMesh } from "./shell-mesh";
import { ShellShapes, ShellSystem } from "./shell-system";

/** By how much triangles are to be larger than they lie, across and upwards; one number each. */
export interface Grades {
  readonly across: Float64Array;
  readonly upwards: Float64Array;
}

/**
 * The layout of a shell whose triangles are larger or smaller than they lie by given factors, as nearly as that can be
 * with the shell in one piece: the coordinates whose gradients differ least from those asked for, by area. Two Poisson
 * systems with one factorisation.
 *
 * @param uv 2 a point: the layout it has
 * @param held 1 for every point that stays; its middle stays where none does
 * @returns 2 a point; null where it has no area, or a triangle would turn over
 * Source: Yu et al., Mesh editing with Poisson-based gradient field manipulation (2004), in the plane.
 */
export function gradedLayout(
  { triangles, wedges }: ShellMesh,
  uv: Float64Array,
  grades: Grades,
  held: Uint8Array,
): Float64Array | null {
  const points = uv.length / 2;
  const positions = new Float64Array(3 * points);
  for (let p = 0; p < points; p++) positions.set([uv[2 * p]!, uv[2 * p + 1]!, 0], 3 * p);
  const flat: ShellMesh = { wedges, triangles, positions };
  const stays = held.some(Boolean) ? held : Uint8Array.from(held, (_, p) => (p === 0 ? 1 : 0));
  const solved = withKernels((kernels) => {
    const system = new ShellSystem(new ShellShapes(kernels, flat));
    const { factorisation, pattern } = system;
    system.laplacian();
    const values = kernels.f64(factorisation.values, factorisation.size);
    const laplacian = values.slice();
    const isHeld = new Uint8Array(points);
    const fixed = new Float64Array(2 * points);
    for (let p = 0; p < points; p++)
      if (stays[p]) {
        const at = system.numberOf(p);
        isHeld[at] = 1;
        fixed[2 * at] = uv[2 * p]!;
        fixed[2 * at + 1] = uv[2 * p + 1]!;
      }
    const right = timesLaplacian(system, laplacian, fixed).map((x) => -x);
    addDivergence(triangles, uv, grades, right, (p) => system.numberOf(p));
    for (let p = 0; p < points; p++) if (isHeld[p]) right.set([fixed[2 * p]!, fixed[2 * p + 1]!], 2 * p);
    for (let p = 0; p < pattern.n; p++)
      for (let e = pattern.start[p]!; e < pattern.start[p + 1]!; e++)
        if (isHeld[p] || isHeld[pattern.index[e]!]) values[e] = pattern.index[e] === p ? 1 : 0;
    if (!factorisation.factor()) return null;
    const pairs = system.takePairs();
    kernels.f64(pairs, right.length).set(right);
    factorisation.solve(pairs);
    return system.read(pairs);
  });
  if (!solved?.every(Number.isFinite)) return null;
  if (!held.some(Boolean)) keepMiddle(uv, solved);
  for (let t = 0; t < triangles.length; t += 3)
    if (signedArea(uv, triangles, t) * signedArea(solved, triangles, t) < 0) return null;
  return solved;
}

/** Adds, for every point, what flows towards it of the gradients that are asked for. */
function addDivergence(
  triangles: Uint32Array,
  uv: Float64Array,
  { across, upwards }: Grades,
  to: Float64Array,
  numberOf: (p: number) => number,
): void {
  for (let t = 0; 3 * t < triangles.length; t++) {
    const side = Math.sign(signedArea(uv, triangles, 3 * t)) / 2;
    for (let k = 0; k < 3; k++) {
      const p = numberOf(triangles[3 * t + k]!);
      const a = 2 * triangles[3 * t + ((k + 1) % 3)]!;
      const b = 2 * triangles[3 * t + ((k + 2) % 3)]!;
      // Area times the gradient of the point's hat function: its opposite edge, turned by a quarter.
      to[2 * p]! += side * (uv[a + 1]! - uv[b + 1]!) * across[t]!;
      to[2 * p + 1]! += side * (uv[b]! - uv[a]!) * upwards[t]!;
    }
  }
}

function keepMiddle(from: Float64Array, to: Float64Array): void {
  const n = from.length / 2;
  for (const d of [0, 1]) {
    let shift = 0;
    for (let i = d; i < from.length; i += 2) shift += (from[i]! - to[i]!) / n;
    for (let i = d; i < to.length; i += 2) to[i]! += shift;
  }
}
