import { type Asset, withLayouts } from "../../layout/asset";
import { shellName, structureOf } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import { spreadReached } from "../../tasks/spread";
import { pointsOf } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { unfold } from "../unfold";
import { count } from "../words";
import { movableShells } from "./movable-shells";
import { newLayouts, shownAsTheyCome } from "./new-layouts";

/** Evens out stretch where it is, point by point. */
export async function run(
  asset: Asset,
  scope: Scope,
  { strength, passes }: { readonly strength: number; readonly passes: number },
  context: EditContext,
): Promise<EditResult> {
  const work = movableShells(asset, scope);
  const show = shownAsTheyCome(context, scope.set);
  const { out, stopped } = await spreadReached(
    "relaxShell",
    work.map(({ form, layout, moves }) => ({ form, uv: pointsOf(form, layout), moves, strength, passes })),
    work.map((w) => w.form.triangles.length),
    context,
    context.progress,
    (i, uv) => show(work[i]!, uv),
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
