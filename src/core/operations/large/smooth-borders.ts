import { type Asset, withLayouts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { spreadReached } from "../../tasks/spread";
import { pointsOf } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Scope } from "../operation";
import { count } from "../words";
import { movableShells } from "./movable-shells";
import { newLayouts } from "./new-layouts";

/** Takes spikes and kinks off the borders of shells. */
export async function run(
  asset: Asset,
  scope: Scope,
  { size, passes }: { readonly size: number; readonly passes: number },
  context: EditContext,
): Promise<EditResult> {
  const work = movableShells(asset, scope);
  const { out, stopped } = await spreadReached(
    "smoothBorders",
    work.map(({ form, layout, moves }) => ({ form, uv: pointsOf(form, layout), moves, size, passes })),
    work.map((w) => w.form.triangles.length),
    context,
    context.progress,
  );
  const done = work.flatMap((item, i) => (out[i] ? [{ ...item, uv: out[i] }] : []));
  if (!done.length && stopped) throw stopped;
  if (!done.length)
    throw new UserError(
      "No border here has spikes or kinks of that size, or their points are pinned; try a larger size.",
    );
  const edited = withLayouts(asset, newLayouts(done, scope.set));
  const words = `Smooth borders of ${count(done.length, "shell")}`;
  return stopped
    ? { asset: edited, words: `${words}, stopped early`, notes: [], stopped: true }
    : { asset: edited, words, notes: [] };
}
