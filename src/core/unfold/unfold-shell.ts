import { conformalMap, signedArea } from "./conformal";
import { lessenStretch } from "./lessen-stretch";
import { type RestShapes, restShapes } from "./rest-shapes";
import { formOf, type ShellForm, type ShellMesh } from "./shell-mesh";
import { stretchEnergy } from "./stretch-energy";
import { tutteMap } from "./tutte";

export interface UnfoldOptions {
  /** Newton steps of lessening stretch; 0 keeps the conformal map (angles only). */
  readonly passes: number;
  /** Relative gain of a pass below which lessening ends. */
  readonly enough?: number;
  readonly onPass?: (pass: number) => void;
}

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

/** Unfolds one shell. A shell that is not a disk is not guessed at: the answer says what it is. */
export function unfoldShell(shell: ShellMesh, options: UnfoldOptions): Unfolded {
  const form = formOf(shell);
  const reason = whyNotFlat(form);
  if (reason) return { ok: false, reason };
  const rest = restShapes(shell);
  if (!(rest.worldArea > 0)) return { ok: false, reason: "has no area" };
  const start = startMap(rest, shell, form);
  if (!start) return { ok: false, reason: "is too crumpled to lay flat in one piece" };
  const map =
    options.passes > 0
      ? lessenStretch(rest, shell.positions, start, options.passes, options.enough, options.onPass).uv
      : start;
  const energy = stretchEnergy(rest, map);
  return { ok: true, uv: toWorldArea(map, rest), energy };
}

/** Above this mean energy a conformal start is so uneven that the round one may be nearer to the end. */
const UNEVEN = 50;

function startMap(rest: RestShapes, shell: ShellMesh, form: ShellForm): Float64Array | null {
  const loop = form.loops[0]!;
  const conformal = conformalMap(rest, shell.positions, loop);
  const first = conformal ? stretchEnergy(rest, conformal) : Number.POSITIVE_INFINITY;
  if (conformal && first < UNEVEN) return conformal;
  const round = tutteMap(rest, shell.positions, loop);
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
