import type { Asset } from "../../layout/asset";
import { setBit } from "../../layout/bits";
import { UserError } from "../../layout/user-error";
import { poleFaces, rimOf, ringsAbout } from "../../seams/domes";
import type { EditContext, EditResult, Scope } from "../operation";
import { count } from "../words";
import { withProposedShells } from "./proposed-shells";

/** Cuts caps of so many rings about the poles of shells, and opens what is left. */
export async function run(
  asset: Asset,
  scope: Scope,
  { rings }: { readonly rings: number },
  context: EditContext,
): Promise<EditResult> {
  let [caps, poles] = [0, 0];
  const { asset: edited } = await withProposedShells(
    asset,
    scope,
    (source, faces, cut) => {
      const before = caps;
      for (const seed of poleFaces(source, faces, cut)) {
        poles++;
        const cap = ringsAbout(source, faces, seed, rings);
        // A cap that takes the shell in is no cap, and one of another pole's faces would cut it apart.
        if (2 * cap.length >= faces.length) continue;
        for (const e of rimOf(source, cap, faces)) setBit(cut, e);
        caps++;
      }
      return caps > before;
    },
    context,
  );
  if (!poles) throw new UserError("None of these shells has a pole: a point where six triangles or more meet.");
  if (!caps) throw new UserError("A cap of so many rings would take in half of its shell or more; take fewer.");
  return { asset: edited, words: `Dome: ${count(caps, "cap")}`, notes: [] };
}
