import { type Asset, type PlacedShape, withLayouts } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { type Layout, shellName, structureOf } from "../../layout/layout";
import { pointNames } from "../../layout/point-names";
import { isMapped } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import { worldPositions } from "../../mesh/transform";
import { converted } from "../../select/convert";
import { elementCount, flagsAt } from "../../select/grow";
import { spreadReached } from "../../tasks/spread";
import { pointsOf, shellMesh } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { layoutOf, shellsInScope } from "../scope";
import { unfold } from "../unfold";
import { count } from "../words";
import { newLayouts, type ShapeShell } from "./new-layouts";

interface Work extends ShapeShell {
  readonly moves: Uint8Array;
}

/** By wedge, whether the scope means it: picked points, corners of what is picked, or all. */
function meantPoints(shape: PlacedShape, layout: Layout, { selection }: Scope): Uint8Array | null {
  const items = selection?.items.get(shape.id);
  if (!selection || !items || selection.kind === "shells") return null;
  const flags = flagsAt(items, elementCount(shape.mesh, selection.kind));
  const points = converted(shape.mesh, layout, selection.kind, flags, "points", "touching");
  return Uint8Array.from(pointNames(structureOf(shape.mesh, layout)), (c) => points[c]!);
}

function workOf(asset: Asset, scope: Scope): Work[] {
  return shellsInScope(asset, scope).flatMap(({ shape, shells }) => {
    const layout = layoutOf(shape, scope.set);
    const world = worldPositions(shape.mesh, shape.metric);
    const meant = meantPoints(shape, layout, scope);
    return [...shells].flatMap((shell): Work[] => {
      if (!isMapped(shape.mesh, layout, shell)) return [];
      const form = shellMesh(shape.mesh, world, layout, shell);
      const moves = Uint8Array.from(form.wedges, (w) => (!getBit(layout.pinned, w) && (meant?.[w] ?? 1) ? 1 : 0));
      return moves.some(Boolean) ? [{ shape, layout, shell, form, moves }] : [];
    });
  });
}

/** Evens out stretch where it is, point by point. */
export async function run(
  asset: Asset,
  scope: Scope,
  { strength, passes }: { readonly strength: number; readonly passes: number },
  context: EditContext,
): Promise<EditResult> {
  const work = workOf(asset, scope);
  if (!work.length) throw new UserError("Nothing here has coordinates that may move: unfold it, or unpin some points.");
  const { out, stopped } = await spreadReached(
    "relaxShell",
    work.map(({ form, layout, moves }) => ({ form, uv: pointsOf(form, layout), moves, strength, passes })),
    work.map((w) => w.form.triangles.length),
    context,
    context.progress,
  );
  const notes: Note[] = [];
  const done = work.flatMap((item, i) => {
    const result = out[i];
    if (!result) return [];
    if (!result.flipped) return [{ ...item, uv: result.uv }];
    const { shape, layout, shell } = item;
    notes.push({
      words: `${count(result.flipped, "triangle")} of shell ${shell + 1} of ${shape.name} could not be turned over, so that it stays as it is: unfold it.`,
      shells: [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }],
      offer: unfold.id,
    });
    return [];
  });
  if (!done.length && stopped) throw stopped;
  if (!done.length)
    throw new UserError(
      notes.length === 1
        ? notes[0]!.words
        : `None of these ${count(notes.length, "shell")} could have its flipped faces turned over here: unfold them.`,
    );
  const words = stopped
    ? `Relax ${done.length} of ${count(work.length, "shell")}, stopped early`
    : `Relax ${count(done.length, "shell")}`;
  return {
    asset: withLayouts(asset, newLayouts(done, scope.set)),
    words,
    notes,
    ...(stopped ? { stopped: true } : {}),
  };
}
