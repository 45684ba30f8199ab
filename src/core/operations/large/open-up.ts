import type { Asset } from "../../layout/asset";
import { type PlacedShape, withLayouts } from "../../layout/asset";
import { facesOfShell, type Layout, structureOf, withBits } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import type { Indices, Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { seamCosts } from "../../seams/edge-cost";
import { openFaces } from "../../seams/opened";
import { sourceOf } from "../../seams/piece";
import { seenFaces } from "../../tasks/seen-faces";
import type { EditContext, EditResult, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { count } from "../words";

/** Cuts shells that are closed, or tubes, or have handles, so that they can lie flat. */
export async function run(
  asset: Asset,
  scope: Scope,
  { tips }: { readonly tips: boolean },
  context: EditContext,
): Promise<EditResult> {
  const work = shellsInScope(asset, scope);
  const seen = await seenFaces(asset, context, (share) => context.progress(share * 0.5));
  let opened = 0;
  const changes = work.flatMap(({ shape, layout, shells }, i) => {
    context.progress(0.5 + (0.5 * i) / work.length);
    const result = openShells(shape, layout, shells, seen.get(shape.id)!, tips);
    opened += result.opened;
    return result.opened ? [{ shape: shape.id, set: scope.set, layout: result.layout }] : [];
  });
  if (!opened) throw new UserError("Every one of these shells is open already.");
  return { asset: withLayouts(asset, changes), words: `Open up ${count(opened, "shell")}`, notes: [] };
}

function openShells(shape: PlacedShape, layout: Layout, shells: Indices<Shell>, seen: Float32Array, tips: boolean) {
  const { mesh } = shape;
  const world = worldPositions(mesh, shape.metric);
  const source = sourceOf(mesh, world, seamCosts(mesh, world, seen));
  const s = structureOf(mesh, layout);
  const cut = layout.cut.slice();
  let opened = 0;
  for (const shell of shells) if (openFaces(source, facesOfShell(s, shell), cut, tips)) opened++;
  return { opened, layout: opened ? withBits(mesh, layout, cut) : layout };
}
