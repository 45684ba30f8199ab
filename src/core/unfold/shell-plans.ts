import { type Elimination, eliminationOrder, type FactorPlan, factorPlan } from "../kernels/factorisation";
import type { Kernels } from "../kernels/kernels";
import type { ShellMesh } from "./shell-mesh";
import { besideOf, patternOf, type ShellPattern } from "./shell-pattern";

/** What is known of a shell's linear systems before there are numbers. */
export interface ShellPlan {
  readonly tree: Elimination;
  /** Triangles by the order of elimination. */
  readonly list: Uint32Array;
  readonly pattern: ShellPattern;
  readonly factor: FactorPlan;
}

interface Known {
  readonly shell: Pick<ShellMesh, "triangles" | "positions">;
  readonly pairs: Uint32Array;
  readonly plan: ShellPlan;
}

/** Points of all shells whose plans are kept, at the most: some hundred bytes each. */
const KEPT_POINTS = 120_000;
/** Points below which a plan is quicker made than looked for. */
const FEW = 1000;

/** Plans of the shells that were worked on last, the latest first. */
const known: Known[] = [];

/**
 * The plan of a shell's linear systems. It is kept for as long as few other shells are worked on: a shell that is unfolded
 * again, about other pins or with other passes, has the same.
 *
 * @param pairs points that entries are kept for as well, two by two
 */
export function keptPlan(kernels: Kernels, shell: ShellMesh, pairs: ArrayLike<number>): ShellPlan {
  const points = shell.positions.length / 3;
  if (points < FEW || points > KEPT_POINTS) return newPlan(kernels, shell, pairs);
  const at = known.findIndex(
    (k) =>
      isSame(k.shell.triangles, shell.triangles) &&
      isSame(k.pairs, pairs) &&
      isSame(k.shell.positions, shell.positions),
  );
  const [entry] =
    at >= 0
      ? known.splice(at, 1)
      : [
          {
            shell: { triangles: shell.triangles, positions: shell.positions },
            pairs: Uint32Array.from(pairs),
            plan: newPlan(kernels, shell, pairs),
          },
        ];
  known.unshift(entry!);
  for (let k = 0, sum = 0; k < known.length; k++) {
    sum += known[k]!.shell.positions.length / 3;
    if (sum > KEPT_POINTS) known.length = k;
  }
  return entry!.plan;
}

function isSame(a: ArrayLike<number>, b: ArrayLike<number>): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** Plans a shell's linear systems. */
export function newPlan(kernels: Kernels, shell: ShellMesh, pairs: ArrayLike<number>): ShellPlan {
  const points = shell.positions.length / 3;
  const { start, neighbours } = besideOf(shell.triangles, points, pairs);
  kernels.pauseAfter(points);
  const tree = eliminationOrder(kernels, start, neighbours, shell.positions);
  kernels.pauseAfter(points);
  const list = shell.triangles.map((v) => tree.position[v]!);
  const pattern = patternOf(
    list,
    points,
    Array.from(pairs, (v) => tree.position[v]!),
  );
  kernels.pauseAfter(points);
  const factor = factorPlan(pattern, tree);
  kernels.pauseAfter(points);
  return { tree, list, pattern, factor };
}
