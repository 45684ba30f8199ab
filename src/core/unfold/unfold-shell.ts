import { withKernels } from "../kernels/kernels";
import { coarseToFine, SWEEPS } from "./coarse-to-fine";
import { conformalMap, signedArea } from "./conformal";
import { StretchMinimiser } from "./minimise-stretch";
import { type RestShapes, restShapes } from "./rest-shapes";
import { formOf, type ShellForm, type ShellMesh } from "./shell-mesh";
import { ShellSystem } from "./shell-system";
import { tutteMap } from "./tutte";

export type Unfolded =
  | {
      readonly ok: true;
      /** 2 per point; world lengths (areas of the map and of the shell in world space are alike). */
      readonly uv: Float64Array;
      readonly energy: number;
    }
  | { readonly ok: false; readonly reason: string };

/** In words, why a shell of this form cannot be laid flat; nothing for a disk. */
export function whyNotFlat(form: ShellForm): string | null {
  if (form.isDisk) return null;
  if (form.faults) return "has faces that are wound against each other or share more than two to an edge";
  if (!form.loops.length) return "is closed";
  if (form.genus) return form.genus === 1 ? "has a handle" : `has ${form.genus} handles`;
  return form.loops.length === 2 ? "is a tube or ring: it has two borders" : `has ${form.loops.length} borders`;
}

export interface UnfoldOptions {
  /** Factorisations at full size, at the most; 0 keeps angles only. */
  readonly passes: number;
  /** Energy at which the work is done. */
  readonly until?: number | undefined;
  /** Called between steps; throws to stop the work. */
  readonly onStep?: (() => void) | undefined;
  /** Asked between steps, with the share of the work that is done: true to end with what was reached. */
  readonly isOver?: ((share: number) => boolean) | undefined;
}

/** Of the energy, what a pass has to promise to be taken: the gap to the least stretch is about as large. */
const PROMISED = 2e-3;
/** Mean energy below which the conformal map is a start that passes go on from; above, the way is by coarser shells. */
const EVEN = 1.5;
/** Points below which passes from a round map are quicker than coarser shells. */
const SMALL = 900;
/** The share of the work that is done when minimising at full size begins. */
const STARTED = 0.6;

/**
 * Unfolds one shell. A shell that is not a disk is not guessed at: the answer says what it is. Without passes the
 * conformal map is kept (angles only).
 */
export function unfoldShell(shell: ShellMesh, options: UnfoldOptions): Unfolded {
  const form = formOf(shell);
  const reason = whyNotFlat(form);
  if (reason) return { ok: false, reason };
  const rest = restShapes(shell);
  if (!(rest.worldArea > 0)) return { ok: false, reason: "has no area" };
  return withKernels((kernels) => {
    const system = new ShellSystem(kernels, rest, shell.positions);
    const start = startMap(system, shell, form, options);
    if (!start) return { ok: false, reason: "is too crumpled to lay flat in one piece" };
    return finished(system, start, options);
  });
}

/** Goes on with a map of a shell that flips no triangle. */
export function unfoldFurther(shell: ShellMesh, uv: Float64Array, options: UnfoldOptions): Unfolded {
  const rest = restShapes(shell);
  if (!(rest.worldArea > 0)) return { ok: false, reason: "has no area" };
  return withKernels((kernels) => {
    const system = new ShellSystem(kernels, rest, shell.positions);
    const map = system.takePairs();
    system.write(uv, map);
    if (!Number.isFinite(system.energy(map))) return { ok: false, reason: "has flipped triangles" };
    return finished(system, { map: uv, isRough: false }, options);
  });
}

interface Start {
  readonly map: Float64Array;
  /** It comes from coarser shells: points just put back are smoothed before anything is minimised. */
  readonly isRough: boolean;
}

function finished(system: ShellSystem, { map, isRough }: Start, options: UnfoldOptions): Unfolded {
  const { rest } = system;
  const { passes, until, onStep, isOver } = options;
  const minimiser = new StretchMinimiser(system);
  const energy = minimiser.begin(map);
  if (passes <= 0) return { ok: true, uv: toWorldArea(map, rest), energy };
  if (isRough) minimiser.smooth(SWEEPS.all, SWEEPS.sick, SWEEPS.above);
  const done = minimiser.minimise({
    passes,
    promised: PROMISED,
    until,
    onPass: onStep,
    isOver: isOver && ((pass) => isOver(1 - (1 - STARTED) / (1 + pass))),
  });
  return { ok: true, uv: toWorldArea(minimiser.map(), rest), energy: done.energy };
}

function startMap(system: ShellSystem, shell: ShellMesh, form: ShellForm, options: UnfoldOptions): Start | null {
  const { kernels } = system;
  const loop = form.loops[0]!;
  const energyOf = (map: Float64Array | null): number => {
    if (!map) return Infinity;
    return kernels.during(() => {
      const at = system.takePairs();
      system.write(map, at);
      return system.energy(at);
    });
  };
  const conformal = kernels.during(() => conformalMap(system, loop));
  const first = energyOf(conformal);
  if (conformal && first < (options.passes ? EVEN : Infinity)) return { map: conformal, isRough: false };
  const { onStep, isOver } = options;
  const ask = (share: number): boolean => {
    onStep?.();
    return isOver?.(STARTED * share) ?? false;
  };
  if (system.points > SMALL && options.passes) {
    const map = coarseToFine(kernels, shell, { isOver: ask });
    if (Number.isFinite(energyOf(map))) return { map: map!, isRough: true };
  }
  const round = kernels.during(() => tutteMap(system, shell.positions, loop));
  const second = energyOf(round);
  if (!Number.isFinite(first) && !Number.isFinite(second)) return null;
  return { map: (first <= second ? conformal : round)!, isRough: false };
}

function toWorldArea(map: Float64Array, rest: RestShapes): Float64Array {
  let area = 0;
  for (let t = 0; t < rest.triangles.length; t += 3) area += signedArea(map, rest.triangles, t);
  const scale = Math.sqrt(rest.worldArea / area);
  return map.map((v) => v * scale);
}
