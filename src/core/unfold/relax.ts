import { Interrupted, withKernels } from "../kernels/kernels";
import { signedArea } from "./area";
import { BorderBarrier } from "./border-barrier";
import { mapOfLayout } from "./holes";
import { formOf, type ShellMesh } from "./shell-mesh";
import { besideOf } from "./shell-pattern";
import { ShellShapes } from "./shell-system";

export interface RelaxOptions {
  /** 1 for every point that may move. */
  readonly moves: Uint8Array;
  /** Of the way to the least stretch about it, how far each point goes, 0 to 1. */
  readonly strength: number;
  readonly passes: number;
  /** Asked between passes, with the share that is done: true to end with what was reached. */
  readonly isOver?: ((share: number) => boolean) | undefined;
  /** Told after every pass of what was reached: reading gives the layout. */
  readonly onMap?: ((read: () => Float64Array) => void) | undefined;
}

/** Rounds of averaging in which tangles are undone, at the most. */
const UNTANGLING = 400;

/**
 * Evens out the stretch of a layout point by point: every point goes towards the least energy of the triangles about it.
 * Flipped triangles are undone first, by averaging over neighbours where points may move. The border does not come to
 * cross itself, and no hole turns over.
 *
 * @param uv 2 a point @returns the layout; as it was where triangles could not be turned over, with how many
 */
export function relaxed(
  shell: ShellMesh,
  uv: Float64Array,
  options: RelaxOptions,
): { uv: Float64Array; flipped: number } {
  const disk = mapOfLayout(shell, uv);
  const { map, scale } = disk;
  // The middles of holes go along.
  const moves = Uint8Array.from({ length: map.length / 2 }, (_, v) => options.moves[v] ?? 1);
  const flipped = untangle(disk.shell, map, moves, options.isOver);
  if (flipped) return { uv, flipped };
  const read = () => uv.map((x, i) => (moves[i >> 1] ? map[i]! / scale[i % 2]! : x));
  sweep(disk.shell, map, { ...options, moves }, read);
  return { uv: read(), flipped: 0 };
}

function sweep(
  shell: ShellMesh,
  map: Float64Array,
  { moves, strength, passes, isOver, onMap }: RelaxOptions,
  read: () => Float64Array,
): void {
  let share = 0;
  withKernels(
    (kernels) => {
      const shapes = new ShellShapes(kernels, shell);
      shapes.weigh();
      const { points } = shapes;
      const x = kernels.put(map);
      const marks = kernels.take(points);
      new Uint8Array(kernels.code.memory.buffer, marks, points).set(moves);
      const form = formOf(shell);
      const border = form.isDisk ? new BorderBarrier(shapes, form.loops[0]!) : null;
      const apart = border?.meets(x) ? null : border;
      for (let pass = 0; pass < passes && !isOver?.(pass / passes); pass++) {
        share = pass / passes;
        // Ended in the middle of a pass, the one before is what is kept.
        if (!isWhole(() => shapes.smoothMarked(x, 1, marks, apart))) return;
        const now = kernels.f64(x, 2 * points);
        const whole = now.slice();
        for (let i = 0; i < now.length; i++) now[i] = map[i]! + strength * (now[i]! - map[i]!);
        // A part of the way may flip what the whole of it does not.
        if (!Number.isFinite(shapes.energy(x)) || apart?.meets(x)) kernels.f64(x, 2 * points).set(whole);
        map.set(kernels.f64(x, 2 * points));
        onMap?.(read);
      }
    },
    isOver && (() => isOver(share)),
  );
}

/** Does some work. @returns false where it was ended in the middle */
function isWhole(act: () => void): boolean {
  try {
    act();
    return true;
  } catch (error) {
    if (error instanceof Interrupted) return false;
    throw error;
  }
}

/** Moves points of flipped triangles to the middle of their neighbours until none is flipped. @returns how many are left */
function untangle(
  { triangles, positions }: ShellMesh,
  map: Float64Array,
  moves: Uint8Array,
  isOver: RelaxOptions["isOver"],
): number {
  const points = positions.length / 3;
  const flippedAt = (): Set<number> => {
    const out = new Set<number>();
    for (let t = 0; t < triangles.length; t += 3) if (!(signedArea(map, triangles, t) > 0)) out.add(t);
    return out;
  };
  let flipped = flippedAt();
  if (!flipped.size) return 0;
  const { start, neighbours } = besideOf(triangles, points);
  for (let round = 0; round < UNTANGLING && flipped.size && !isOver?.(0); round++) {
    const sick = new Set<number>();
    for (const t of flipped) for (let k = 0; k < 3; k++) sick.add(triangles[t + k]!);
    // What lies about them as well: a knot is not undone from its middle alone.
    for (const v of [...sick]) for (let k = start[v]!; k < start[v + 1]!; k++) sick.add(neighbours[k]!);
    for (const v of sick) {
      if (!moves[v]) continue;
      let [u, w] = [0, 0];
      for (let k = start[v]!; k < start[v + 1]!; k++) {
        u += map[2 * neighbours[k]!]!;
        w += map[2 * neighbours[k]! + 1]!;
      }
      const count = start[v + 1]! - start[v]!;
      map[2 * v] = u / count;
      map[2 * v + 1] = w / count;
    }
    flipped = flippedAt();
  }
  return flipped.size;
}
