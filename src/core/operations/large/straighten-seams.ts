import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditContext, EditResult, Scope } from "../operation";
import { shortenedShapes } from "./shortened-shapes";

const MOVES = new Set(["straighten", "slide"] as const);

/** Leads seams along better edges; none is taken off. */
export async function run(
  asset: Asset,
  scope: Scope,
  { limit }: { readonly limit: number },
  context: EditContext,
): Promise<EditResult> {
  const done = await shortenedShapes(asset, scope, { limit, kinds: MOVES }, () => () => false, context);
  if (done.asset === asset)
    throw new UserError(done.notes[0]?.words ?? "These seams are as straight as the mesh allows.");
  const less = Math.round(100 * (1 - done.after / done.before));
  const words = `Straighten seams: ${less < 0 ? `${-less} % longer` : `${less} % shorter`}${done.stopped ? ", stopped early" : ""}`;
  return { asset: done.asset, words, notes: done.notes, ...(done.stopped ? { stopped: true } : {}) };
}
