import { conformalMap, signedArea } from "./conformal";
import { type MinimiseOptions, minimiseStretch } from "./minimise-stretch";
import type { RestShapes } from "./rest-shapes";
import { formOf, type ShellForm, type ShellMesh } from "./shell-mesh";
import { type ShellSystem, systemOf } from "./shell-system";
import { stretchEnergy } from "./stretch-energy";
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

/**
 * Unfolds one shell. A shell that is not a disk is not guessed at: the answer says what it is. Without passes the
 * conformal map is kept (angles only).
 */
export function unfoldShell(shell: ShellMesh, options: MinimiseOptions): Unfolded {
  const form = formOf(shell);
  const reason = whyNotFlat(form);
  if (reason) return { ok: false, reason };
  const system = systemOf(shell);
  const { rest } = system;
  if (!(rest.worldArea > 0)) return { ok: false, reason: "has no area" };
  const start = startMap(system, shell, form);
  if (!start) return { ok: false, reason: "is too crumpled to lay flat in one piece" };
  return finished(system, start, options);
}

/** Goes on with a map of a shell that flips no triangle. */
export function unfoldFurther(shell: ShellMesh, uv: Float64Array, options: MinimiseOptions): Unfolded {
  const system = systemOf(shell);
  const isWhole = system.rest.worldArea > 0 && Number.isFinite(stretchEnergy(system.rest, uv));
  return isWhole ? finished(system, uv, options) : { ok: false, reason: "has flipped triangles" };
}

function finished(system: ShellSystem, start: Float64Array, options: MinimiseOptions): Unfolded {
  const { rest } = system;
  const map = options.passes > 0 ? minimiseStretch(system, start, options).uv : start;
  return { ok: true, uv: toWorldArea(map, rest), energy: stretchEnergy(rest, map) };
}

/** Above this mean energy a conformal start is so uneven that the round one may be nearer to the end. */
const UNEVEN = 50;

function startMap(system: ShellSystem, shell: ShellMesh, form: ShellForm): Float64Array | null {
  const { rest } = system;
  const loop = form.loops[0]!;
  const conformal = conformalMap(system, loop);
  const first = conformal ? stretchEnergy(rest, conformal) : Number.POSITIVE_INFINITY;
  if (conformal && first < UNEVEN) return conformal;
  const round = tutteMap(system, shell.positions, loop);
  const second = round ? stretchEnergy(rest, round) : Number.POSITIVE_INFINITY;
  if (!Number.isFinite(first) && !Number.isFinite(second)) return null;
  return first <= second ? conformal : round;
}

function toWorldArea(map: Float64Array, rest: RestShapes): Float64Array {
  let area = 0;
  for (let t = 0; t < rest.triangles.length; t += 3) area += signedArea(map, rest.triangles, t);
  const scale = Math.sqrt(rest.worldArea / area);
  return map.map((v) => v * scale);
}
