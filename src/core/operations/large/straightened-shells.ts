import { type Asset, withLayouts } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { facesOfShell, shellName, structureOf } from "../../layout/layout";
import { isMapped } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import { worldPositions } from "../../mesh/transform";
import { flippedIn, meanStretch } from "../../straighten/mean-stretch";
import { spreadReached } from "../../tasks/spread";
import { layoutArea } from "../../unfold/area";
import { pointsOf, shellArea, shellMesh } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { shellsInScope } from "../scope";
import type { Rest } from "../straighten/rest";
import { unfold } from "../unfold";
import { count } from "../words";
import { newLayouts, type ShapeShell, shownAsTheyCome } from "./new-layouts";

/** A shell with coordinates, and how it lies. */
export interface LaidShell extends ShapeShell {
  /** 2 per point of its form. */
  readonly uv: Float64Array;
  /** Length on the sheet of a unit of length in space. */
  readonly density: number;
  /** Its points by wedge. */
  readonly pointOf: ReadonlyMap<number, number>;
}

/** Points of the faces of a shell, each in its direction. */
export function facePoints({ shape, layout, shell, pointOf }: LaidShell): number[][] {
  const { faceStart } = shape.mesh;
  const s = structureOf(shape.mesh, layout);
  return Array.from(facesOfShell(s, shell), (f) => {
    const out: number[] = [];
    for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) out.push(pointOf.get(s.cornerWedge[c]!)!);
    return out;
  });
}

/** A shell some of whose points have new places. */
export interface Straightened extends LaidShell {
  readonly to: Float64Array;
  /** 1 for every point that has its place. */
  readonly held: Uint8Array;
}

/** Shells with coordinates that the scope means. @throws UserError where there are none */
export function laidShells(asset: Asset, scope: Scope): LaidShell[] {
  const out = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }) => {
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const scratch = new Int32Array(structureOf(mesh, layout).wedgeCount).fill(-1);
    return [...shells].flatMap((shell): LaidShell[] => {
      if (!isMapped(mesh, layout, shell)) return [];
      const form = shellMesh(mesh, world, layout, shell, scratch);
      const uv = pointsOf(form, layout);
      const area = shellArea(form);
      const density = area > 0 ? Math.sqrt(Math.abs(layoutArea(form.triangles, uv)) / area) : 1;
      const pointOf = new Map<number, number>();
      for (let i = 0; i < form.wedges.length; i++) pointOf.set(form.wedges[i]!, i);
      return [{ shape, layout, shell, form, uv, density, pointOf }];
    });
  });
  if (!out.length) throw new UserError("These shells have no coordinates yet: unfold or project them first.");
  return out;
}

/** Passes of the solve in which the rest of a shell follows: where that is only drawn under the pointer, and where it is done. */
const PASSES_TRIED = 1;
const PASSES = 30;

/**
 * Lays shells with their new places: the rest of each follows by a solve in which these are held and nothing flips, or stays.
 *
 * @param doing what is done, in a word @param refused notes on shells that were left alone
 */
export async function laidStraight(
  asset: Asset,
  scope: Scope,
  work: readonly Straightened[],
  rest: Rest,
  context: EditContext,
  told: { readonly doing: string; readonly notes?: readonly Note[] },
): Promise<EditResult> {
  const { doing, notes: refused = [] } = told;
  const items = work.map((own) => {
    const pinned = Uint8Array.from(own.form.wedges, (w) => (getBit(own.layout.pinned, w) ? 1 : 0));
    return { ...own, held: own.held.map((on, i) => on | pinned[i]!) };
  });
  const solved = rest === "follows" ? items.filter((own) => !own.held.every(Boolean)) : [];
  const passes = context.isTrial ? PASSES_TRIED : PASSES;
  const show = shownAsTheyCome(context, scope.set);
  const { out, stopped } = await spreadReached(
    "unfoldGuided",
    solved.map(({ form, to, held }) => ({ form, passes, uv: to, keeping: { held } })),
    solved.map(({ form }) => form.triangles.length),
    context,
    context.progress,
    (i, uv) => show(solved[i]!, uv),
  );
  if (stopped) throw stopped;
  const results = new Map(solved.map((own, i) => [own, out[i]]));
  const notes: Note[] = [...refused];
  const placed = items.flatMap((own) => {
    const result = results.get(own);
    const shells = [{ shape: own.shape.id, face: shellName(structureOf(own.shape.mesh, own.layout), own.shell) }];
    const name = `Shell ${own.shell + 1} of ${own.shape.name}`;
    if (result && !result.ok) {
      notes.push({ words: `${name} stays as it is: with these points in place it ${result.reason}.`, shells });
      return [];
    }
    const uv = result?.uv ?? own.to;
    const flipped = flippedIn(own.form, uv);
    if (flipped && !flippedIn(own.form, own.uv)) {
      if (rest === "follows") {
        notes.push({ words: `${name} stays as it is: ${count(flipped, "triangle")} would flip.`, shells });
        return [];
      }
      notes.push({
        words: `${name} has ${count(flipped, "triangle")} flipped now.`,
        shells,
        offer: unfold.id,
      });
    }
    return [{ ...own, to: uv }];
  });
  if (!placed.length) throw new UserError(notes[0]?.words ?? "Nothing here could be straightened.");
  const [before, after] = stretchOfAll(placed);
  const words = `${doing} ${count(placed.length, "shell")}: stretch ${before.toFixed(3)} to ${after.toFixed(3)}`;
  const changes = newLayouts(
    placed.map(({ to, ...own }) => ({ ...own, uv: to })),
    scope.set,
  );
  return { asset: withLayouts(asset, changes), words, notes };
}

/** Mean stretch of shells before and after, by area. */
export function stretchOfAll(work: ReadonlyArray<LaidShell & { readonly to: Float64Array }>): [number, number] {
  let [all, before, after] = [0, 0, 0];
  for (const { form, uv, to } of work) {
    const area = shellArea(form) || 1e-12;
    all += area;
    before += area * meanStretch(form, uv);
    after += area * meanStretch(form, to);
  }
  return [before / all, after / all];
}
