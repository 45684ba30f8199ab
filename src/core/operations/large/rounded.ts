import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { worldPositions } from "../../mesh/transform";
import { seamCosts } from "../../seams/edge-cost";
import { upAxisOf } from "../../seams/visibility";
import { draftShapes } from "../../tasks/draft-shapes";
import { seenFaces } from "../../tasks/seen-faces";
import type { EditContext, EditResult, Scope } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { count } from "../words";
import { withProposedSeams } from "./proposed-seams";

/** Cuts parts as Draft does, as if none of them had creases or were turned, and moves nothing. */
export async function run(
  asset: Asset,
  scope: Scope,
  { limit }: { readonly limit: number },
  context: EditContext,
): Promise<EditResult> {
  const shapes = shapesInScope(asset, scope);
  const seen = await seenFaces(asset, context, (share) => context.progress(0.1 * share));
  const up = upAxisOf(asset);
  const inputs = shapes.map((shape) => {
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const cost = seamCosts(mesh, world, seen.get(shape.id));
    return { mesh, world, cost, style: "rounded" as const, up, angle: 0, limit, seams: layoutOf(shape, scope.set).cut };
  });
  const drafts = await draftShapes(inputs, context, (share) => context.progress(0.1 + 0.9 * share));
  const last = new Map(shapes.map((shape, i) => [shape.id, drafts[i]!.layouts.at(-1)!.cut]));
  const proposed = withProposedSeams(asset, scope, ({ id }) => last.get(id)!);
  if (!proposed.added) throw new UserError("These shells lie flat within that limit of stretch as they are.");
  return { asset: proposed.asset, words: `Rounded: ${count(proposed.added, "seam edge")}`, notes: [] };
}
