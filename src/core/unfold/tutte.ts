import { scaleToArea } from "./conformal";
import type { ShellSystem } from "./shell-system";

/**
 * A map of a disk that cannot flip: the border on a circle by its lengths, every inner point at the mean of its
 * neighbours. Only a start for minimising stretch.
 *
 * @param loop the border, in the direction of the faces
 * @returns 2 per point, signed area 1 in all; or nothing when it fails
 * Source: W. Tutte, How to draw a graph (1963).
 */
export function tutteMap(system: ShellSystem, loop: readonly number[]): Float64Array | null {
  const { pattern, tree, factorisation, kernels, shell, points } = system;
  const fixed = circle(shell.positions, loop, points);
  const onBorder = new Uint8Array(points);
  for (const v of loop) onBorder[v] = 1;
  const values = kernels.f64(factorisation.values, factorisation.size).fill(0);
  const x = fixed.slice();
  for (let p = 0; p < pattern.n; p++) {
    const i = tree.order[p]!;
    const diagonal = pattern.start[p]!; // it comes first in its row
    if (onBorder[i]) values[diagonal] = 1;
    for (let e = diagonal + 1; e < pattern.start[p + 1]!; e++) {
      const j = tree.order[pattern.index[e]!]!;
      if (!onBorder[i]) values[diagonal]! += 1;
      if (!onBorder[j]) values[pattern.start[pattern.index[e]!]!]! += 1;
      if (!onBorder[i] && !onBorder[j]) values[e] = -1;
      else if (!onBorder[i]) addPair(x, i, fixed, j);
      else if (!onBorder[j]) addPair(x, j, fixed, i);
    }
  }
  if (!factorisation.factor()) return null;
  const pairs = system.takePairs();
  system.write(x, pairs);
  factorisation.solve(pairs);
  return scaleToArea(shell.triangles, system.read(pairs));
}

function addPair(to: Float64Array, i: number, from: Float64Array, j: number): void {
  to[2 * i]! += from[2 * j]!;
  to[2 * i + 1]! += from[2 * j + 1]!;
}

function circle(positions: Float64Array, loop: readonly number[], n: number): Float64Array {
  const x = new Float64Array(2 * n);
  const length = (a: number, b: number) =>
    Math.hypot(
      positions[3 * a]! - positions[3 * b]!,
      positions[3 * a + 1]! - positions[3 * b + 1]!,
      positions[3 * a + 2]! - positions[3 * b + 2]!,
    );
  let total = 0;
  for (let i = 0; i < loop.length; i++) total += length(loop[i]!, loop[(i + 1) % loop.length]!);
  const least = total / loop.length / 100; // points of the border at one place must not meet on the circle
  total = 0;
  const at = loop.map((p, i) => {
    const here = total;
    total += Math.max(least, length(p, loop[(i + 1) % loop.length]!));
    return here;
  });
  for (let i = 0; i < loop.length; i++) {
    const angle = (2 * Math.PI * at[i]!) / total;
    x[2 * loop[i]!] = Math.cos(angle);
    x[2 * loop[i]! + 1] = Math.sin(angle);
  }
  return x;
}
