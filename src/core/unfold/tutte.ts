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
export function tutteMap(
  { rest, pattern, solver }: ShellSystem,
  positions: Float64Array,
  loop: readonly number[],
): Float64Array | null {
  const n = rest.points;
  const fixed = circle(positions, loop, n);
  const onBorder = new Uint8Array(n);
  for (const v of loop) onBorder[v] = 1;
  const values = new Float64Array(pattern.index.length);
  const x = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    const start = pattern.start[i]!; // the diagonal comes first in its row
    if (onBorder[i]) {
      values[start] = 1;
      x[2 * i] = fixed[2 * i]!;
      x[2 * i + 1] = fixed[2 * i + 1]!;
      continue;
    }
    values[start] = pattern.start[i + 1]! - start - 1;
    for (let e = start + 1; e < pattern.start[i + 1]!; e++) {
      const j = pattern.index[e]!;
      if (onBorder[j]) {
        x[2 * i]! += fixed[2 * j]!;
        x[2 * i + 1]! += fixed[2 * j + 1]!;
      } else values[e] = -1;
    }
  }
  if (!solver.factor(values)) return null;
  solver.solvePair(x);
  return scaleToArea(rest.triangles, x);
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
