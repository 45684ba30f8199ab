import type { Asset } from "../../layout/asset";
import { sameBits } from "../../layout/bits";
import { UserError } from "../../layout/user-error";
import { panelLines } from "../../seams/panels";
import type { EditContext, EditResult, Scope } from "../operation";
import { count } from "../words";
import { withProposedShells } from "./proposed-shells";

/** Cuts shells along grooves and rims, and opens panels that could not lie flat. */
export async function run(
  asset: Asset,
  scope: Scope,
  { angle }: { readonly angle: number },
  context: EditContext,
): Promise<EditResult> {
  const { asset: edited, added } = await withProposedShells(
    asset,
    scope,
    (source, faces, cut) => {
      const lines = panelLines(source, faces, cut, (angle * Math.PI) / 180);
      const isNew = !sameBits(lines, cut);
      cut.set(lines);
      return isNew;
    },
    context,
  );
  if (!added) throw new UserError(`These shells have no groove of ${angle}° or more, nor a rim.`);
  return { asset: edited, words: `Panels: ${count(added, "seam edge")}`, notes: [] };
}
