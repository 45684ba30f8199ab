import { type Asset, withLayouts } from "../../layout/asset";
import { type Bits, countBits, sameBits } from "../../layout/bits";
import { facesOfShell, structureOf, withBits } from "../../layout/layout";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { seamCosts } from "../../seams/edge-cost";
import { openFaces } from "../../seams/opened";
import { type Source, sourceOf } from "../../seams/piece";
import { seenFaces } from "../../tasks/seen-faces";
import type { EditContext, Scope } from "../operation";
import { shellsInScope } from "../scope";
import type { ProposedSeams } from "./proposed-seams";

/**
 * Sets seams on shells, and then such as are needed for each piece to lie flat, where they are seen least.
 *
 * @param propose sets seams on the faces of a shell; false when it has none to propose
 */
export async function withProposedShells(
  asset: Asset,
  scope: Scope,
  propose: (source: Source, faces: Uint32Array, cut: Bits) => boolean,
  context: EditContext,
): Promise<ProposedSeams> {
  const work = shellsInScope(asset, scope);
  const seen = await seenFaces(asset, context, (share) => context.progress(0.5 * share));
  let added = 0;
  const changes = work.flatMap(({ shape, layout, shells }, i) => {
    context.progress(0.5 + (0.5 * i) / work.length);
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const source = sourceOf(mesh, world, seamCosts(mesh, world, seen.get(shape.id)));
    const s = structureOf(mesh, layout);
    const cut = layout.cut.slice();
    for (const shell of shells) {
      const faces = facesOfShell(s, shell as Shell);
      if (propose(source, faces, cut)) openFaces(source, faces, cut, false);
    }
    if (sameBits(cut, layout.cut)) return [];
    added += countBits(cut) - countBits(layout.cut);
    return [{ shape: shape.id, set: scope.set, layout: withBits(mesh, layout, cut) }];
  });
  return { asset: withLayouts(asset, changes), added };
}
