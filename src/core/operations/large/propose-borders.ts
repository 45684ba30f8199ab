import type { Asset } from "../../layout/asset";
import { makeBits, setBit } from "../../layout/bits";
import { UserError } from "../../layout/user-error";
import { topologyOf } from "../../mesh/topology";
import { type BorderOf, borderEdges } from "../../seams/borders";
import type { EditResult, Scope } from "../operation";
import { count } from "../words";
import { withProposedSeams } from "./proposed-seams";

const WORDS: Readonly<Record<BorderOf, { readonly done: string; readonly none: string }>> = {
  materials: { done: "By material", none: "No two materials meet here that no seam parts already." },
  groups: { done: "By group", none: "No two groups of faces meet here that no seam parts already." },
  normals: { done: "By normals", none: "No edge here has normals that differ on its two sides and is no seam yet." },
};

/** Sets seams along all borders of a kind. */
export function run(asset: Asset, scope: Scope, of: BorderOf): EditResult {
  const proposed = withProposedSeams(asset, scope, ({ mesh }) => {
    const bits = makeBits(topologyOf(mesh).edgeCount);
    for (const e of borderEdges(mesh, of)) setBit(bits, e);
    return bits;
  });
  if (!proposed.added) throw new UserError(WORDS[of].none);
  return { asset: proposed.asset, words: `${WORDS[of].done}: ${count(proposed.added, "seam edge")}`, notes: [] };
}
