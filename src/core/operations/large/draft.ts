import type { Asset } from "../../layout/asset";
import { type LayoutChange, withLayouts } from "../../layout/asset";
import { type Layout, structureOf } from "../../layout/layout";
import { turned, uprightAngle } from "../../layout/orient";
import { lockedEdges } from "../../layout/seam-locks";
import type { DraftStyle, SeamsOrSheet } from "../../layout/seam-wishes";
import { withShellPoints } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { worldPositions } from "../../mesh/transform";
import { seamCosts } from "../../seams/edge-cost";
import { backOf, upAxisOf } from "../../seams/visibility";
import { draftShapes } from "../../tasks/draft-shapes";
import { seenFaces } from "../../tasks/seen-faces";
import { pointsOf, shellMesh } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Scope } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { count } from "../words";
import { allShells, type PackOptions, packLayouts } from "./pack";
import { chosenStep } from "./seams-or-sheet";

/** A whole layout in one press: seams, unfolding, checking and splitting, levelling, packing. */
export async function run(
  asset: Asset,
  scope: Scope,
  {
    angle,
    limit,
    keepSeams,
    fill,
    style,
    ...packing
  }: {
    readonly angle: number;
    readonly limit: number;
    readonly keepSeams: boolean;
    readonly fill: SeamsOrSheet;
    readonly style: DraftStyle;
  } & Omit<PackOptions, "keepScale">,
  context: EditContext,
): Promise<EditResult> {
  const shapes = shapesInScope(asset, scope);
  if (!shapes.length) throw new UserError("Nothing is visible to draft.");
  const seen = await seenFaces(asset, context, (share) => context.progress(0.1 * share));
  const inputs = shapes.map((shape) => {
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const cost = seamCosts(mesh, world, seen.get(shape.id));
    const kept = keepSeams ? layoutOf(shape, scope.set).cut : lockedEdges(asset, scope.set, shape);
    const seams = kept ? { seams: kept } : {};
    const back = backOf(asset);
    return { mesh, world, cost, style, up: upAxisOf(asset), angle: (angle * Math.PI) / 180, limit, back, ...seams };
  });
  const stages = await draftShapes(inputs, context, (share) => context.progress(0.1 + 0.65 * share));
  const up = upAxisOf(asset);
  const steps = Math.max(...stages.map((list) => list.length));
  const atStep = (step: number) =>
    shapes.map((shape, i) => {
      const list = stages[i]!;
      const layout = list[steps > 1 ? Math.round((step * (list.length - 1)) / (steps - 1)) : 0]!;
      return allShells(shape, stoodUpright(shape.mesh, inputs[i]!.world, layout, up));
    });
  const { work, words: told } = chosenStep(asset, steps, atStep, fill, scope.set, packing.turns, (share) =>
    context.progress(0.75 + 0.1 * share),
  );
  const drafted = withLayouts(
    asset,
    work.map(({ shape, layout }): LayoutChange => ({ shape: shape.id, set: scope.set, layout })),
  );
  const packed = packLayouts(drafted, work, { ...packing, keepScale: false }, scope.set, (share) =>
    context.progress(0.85 + 0.15 * share),
  );
  const words = `Draft: ${count(packed.shells, "shell")}${told}`;
  const edited = withLayouts(asset, packed.changes);
  return packed.stopped
    ? { asset: edited, words: `${words}, packing stopped early`, notes: [], stopped: true }
    : { asset: edited, words, notes: [] };
}

function stoodUpright(mesh: PolyMesh, world: Float64Array, layout: Layout, up: number): Layout {
  const { shellCount, wedgeCount } = structureOf(mesh, layout);
  const scratch = new Int32Array(wedgeCount).fill(-1);
  const points = Array.from({ length: shellCount }, (_, k) => {
    const shell = k as Shell;
    const form = shellMesh(mesh, world, layout, shell, scratch);
    const uv = pointsOf(form, layout);
    const angle = uprightAngle(uv, form.triangles, (p) => form.positions[3 * p + up]!);
    return { shell, wedges: form.wedges, uv: turned(uv, angle) };
  });
  return withShellPoints(mesh, layout, points);
}
