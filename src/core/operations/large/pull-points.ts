import { type Asset, type LayoutChange, withLayouts } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { shellName, structureOf } from "../../layout/layout";
import { pointNames } from "../../layout/point-names";
import { isFrozen, isMapped } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import { worldPositions } from "../../mesh/transform";
import { spread } from "../../tasks/spread";
import { type GuidedUnfold, type Keeping, liveUnfold } from "../../unfold/guided-unfold";
import { pointsOf, shellMesh } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { layoutOf, shellsInScope } from "../scope";
import { count } from "../words";
import { newLayouts, type ShapeShell } from "./new-layouts";

interface PullInput {
  readonly du: number;
  readonly dv: number;
}

/** Factorisations at the most. */
const PASSES = 20;
/** Milliseconds of a preview that shells follow in together: the panes show 60 a second. */
const PREVIEW = 12;

/** A shell with points that are drawn along. */
interface Pulled extends ShapeShell {
  readonly uv: Float64Array;
  readonly held: Uint8Array;
  readonly points: Uint32Array;
}

/** @throws UserError when no points are picked, or none of them has coordinates */
function pulledShells(asset: Asset, scope: Scope): Pulled[] {
  const { selection } = scope;
  if (selection?.kind !== "points") throw new UserError("Pick UV points first.");
  const out = shellsInScope(asset, scope).flatMap(({ shape, shells }) => {
    const layout = layoutOf(shape, scope.set);
    const names = pointNames(structureOf(shape.mesh, layout));
    const picked = new Set(selection.items.get(shape.id));
    const world = worldPositions(shape.mesh, shape.metric);
    return [...shells].flatMap((shell): Pulled[] => {
      if (!isMapped(shape.mesh, layout, shell) || isFrozen(shape.mesh, layout, shell)) return [];
      const form = shellMesh(shape.mesh, world, layout, shell);
      const points = Uint32Array.from(form.wedges.keys()).filter((i) => picked.has(names[form.wedges[i]!]!));
      const held = Uint8Array.from(form.wedges, (w) => (getBit(layout.pinned, w) ? 1 : 0));
      // A pin that is pulled itself goes along, and is pinned where it comes to.
      for (const i of points) held[i] = 0;
      const uv = pointsOf(form, layout);
      return points.length ? [{ shape, layout, shell, form, uv, held, points }] : [];
    });
  });
  if (!out.length)
    throw new UserError(
      "These points have no coordinates yet, or their shells are pinned whole: unfold or unpin them first.",
    );
  return out;
}

const placesOf = ({ uv, points }: Pulled, { du, dv }: PullInput): Float64Array =>
  Float64Array.from({ length: 2 * points.length }, (_, i) => uv[2 * points[i >> 1]! + (i & 1)]! + (i & 1 ? dv : du));

const keepingOf = (work: Pulled, input: PullInput): Keeping => ({
  held: work.held,
  pulled: { points: work.points, places: placesOf(work, input) },
  near: true,
});

/** How near a point has to come to count as there, tiles. */
const THERE = 1e-6;

/** Draws the picked points somewhere; their shells open up after them. */
export async function run(asset: Asset, scope: Scope, input: PullInput, context: EditContext): Promise<EditResult> {
  const work = pulledShells(asset, scope);
  const inputs = work.map((w) => ({ form: w.form, uv: w.uv, keeping: keepingOf(w, input), passes: PASSES }));
  const weights = work.map((w) => w.form.triangles.length);
  const results = await spread("unfoldGuided", inputs, weights, context, context.progress);
  const notes: Note[] = [];
  const moved = work.flatMap((w, i) => {
    const result = results[i]!;
    const face = shellName(structureOf(w.shape.mesh, w.layout), w.shell);
    const note = (words: string) => notes.push({ words, shells: [{ shape: w.shape.id, face }] });
    if (!result.ok) {
      note(`Shell ${w.shell + 1} of ${w.shape.name} ${result.reason}.`);
      return [];
    }
    const places = placesOf(w, input);
    const isThere = w.points.every((p, k) =>
      [0, 1].every((d) => Math.abs(result.uv[2 * p + d]! - places[2 * k + d]!) < THERE),
    );
    if (!w.held.some(Boolean))
      note(`Shell ${w.shell + 1} of ${w.shape.name} has no pins and came along whole: pin points that are to stay.`);
    if (!isThere) note(`Points of ${w.shape.name} stand as near as they come: farther on a face would flip.`);
    return [{ ...w, uv: result.uv }];
  });
  if (!moved.length) throw new UserError(notes[0]!.words);
  const total = work.reduce((sum, w) => sum + w.points.length, 0);
  return { asset: withLayouts(asset, newLayouts(moved, scope.set)), words: `Pull ${count(total, "UV point")}`, notes };
}

/** Shells that follow points under the pointer. @throws UserError when there is nothing to pull */
export function livePull(
  asset: Asset,
  scope: Scope,
): {
  preview(input: PullInput): LayoutChange[];
  /** Whether shells are still on their way after the last preview. */
  isUnsettled(): boolean;
} {
  const work = pulledShells(asset, scope).map((w) => {
    const live: GuidedUnfold = liveUnfold(w.form, w.uv, keepingOf(w, { du: 0, dv: 0 }));
    if (!live.isWhole)
      throw new UserError(`Shell ${w.shell + 1} of ${w.shape.name} has flipped faces: unfold it first, then pull.`);
    return { ...w, live };
  });
  let isUnsettled = false;
  return {
    isUnsettled: () => isUnsettled,
    preview(input) {
      isUnsettled = false;
      const moved = work.map((w) => {
        if (w.live.follow(placesOf(w, input), PREVIEW / work.length)) isUnsettled = true;
        return { ...w, uv: w.live.uv(w.uv, w.held) };
      });
      return newLayouts(moved, scope.set);
    },
  };
}
