import type { Asset } from "../core/layout/asset";
import { changedLines, type SheetLines } from "../core/layout/changed-lines";
import type { Context, Scope } from "../core/operations/operation";
import { runEdit } from "../core/operations/run";
import type { ProjectionWay, Standing } from "../core/project/frame";

/** What an edit would come to. */
export interface TriedOut extends SheetLines {
  readonly words: string;
  readonly stands?: Standing;
  readonly ways?: readonly ProjectionWay[];
}

/** Does an edit, to be told and drawn, and forgets what came of it. @throws Stopped, UserError */
export async function triedOut(
  asset: Asset,
  operation: string,
  options: unknown,
  scope: Scope,
  context: Context,
): Promise<TriedOut> {
  const { asset: edited, result } = await runEdit(asset, operation, options, scope, { ...context, isTrial: true });
  const { words, stands, ways } = result;
  return {
    words,
    ...(stands ? { stands } : {}),
    ...(ways ? { ways } : {}),
    ...changedLines(asset, edited, scope.set),
  };
}
