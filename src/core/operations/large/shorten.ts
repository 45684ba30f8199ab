import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditContext, EditResult, Scope } from "../operation";
import { shortenedShapes } from "./shortened-shapes";

/** Takes seams off, straightens and slides them, within a limit of stretch. */
export async function run(
  asset: Asset,
  scope: Scope,
  { limit, sameStretch }: { readonly limit: number; readonly sameStretch: boolean },
  context: EditContext,
): Promise<EditResult> {
  const done = await shortenedShapes(asset, scope, { limit, sameStretch }, () => () => false, context);
  if (done.asset === asset)
    throw new UserError(done.notes[0]?.words ?? "These seams cannot be made shorter within that limit of stretch.");
  const less = Math.round(100 * (1 - done.after / done.before));
  const words = `Shorten seams by ${less} %: ${done.shells[0]} to ${done.shells[1]} shells${done.stopped ? ", stopped early" : ""}`;
  return { asset: done.asset, words, notes: done.notes, ...(done.stopped ? { stopped: true } : {}) };
}
