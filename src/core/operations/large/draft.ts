import type { Asset } from "../../layout/asset";
import { type LayoutChange, withLayouts } from "../../layout/asset";
import { type Layout, structureOf } from "../../layout/layout";
import { turned, uprightAngle } from "../../layout/orient";
import { lockedEdges } from "../../layout/seam-locks";
import type { DraftedAs, DraftStyle, SeamsOrSheet } from "../../layout/seam-wishes";
import { withShellPoints } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { worldPositions } from "../../mesh/transform";
import type { Drafted } from "../../seams/draft";
import { seamCosts } from "../../seams/edge-cost";
import { faceAreas } from "../../seams/seam-field";
import { backOf, upAxisOf } from "../../seams/visibility";
import { draftShapes } from "../../tasks/draft-shapes";
import { seenFaces } from "../../tasks/seen-faces";
import type { DraftInput } from "../../tasks/tasks";
import { pointsOf, shellMesh } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Scope } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { count } from "../words";
import { packLayouts } from "./pack";
import type { PackOptions } from "./pack-options";
import { allShells } from "./pack-work";
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
    mean,
    ...packing
  }: {
    readonly angle: number;
    readonly limit: number;
    readonly keepSeams: boolean;
    readonly fill: SeamsOrSheet;
    readonly style: DraftStyle;
    readonly mean?: number | undefined;
  } & PackOptions,
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
  const areas = inputs.map((input) => faceAreas(input).reduce((sum, a) => sum + a, 0));
  const root = Math.sqrt(areas.reduce((sum, a) => sum + a, 0));
  const halving = { longest: LONG * root, from: (fill === "full sheet" ? LONG : EMPTYING) * root };
  const wanted = fill === "few seams" ? inputs : inputs.map((input) => ({ ...input, halving }));
  const counted = areas.map((area, i) => shapes[i]!.parts.length * area);
  const { drafts, reached } = await draftsWithin(wanted, mean, counted, context, (share) =>
    context.progress(0.1 + 0.65 * share),
  );
  const up = upAxisOf(asset);
  const steps = stepsOf(drafts);
  const atStep = (step: number) =>
    shapes.map((shape, i) => allShells(shape, stoodUpright(shape.mesh, inputs[i]!.world, steps[step]![i]!, up)));
  const { work, words: told } = chosenStep(asset, steps.length, atStep, fill, scope.set, packing.turns, (share) =>
    context.progress(0.75 + 0.1 * share),
  );
  const drafted = withLayouts(
    asset,
    work.map(({ shape, layout }): LayoutChange => ({ shape: shape.id, set: scope.set, layout })),
  );
  const packed = await packLayouts(drafted, work, packing, scope.set, {
    ...context,
    progress: (share, reached) => context.progress(0.85 + 0.15 * share, reached),
  });
  const cutAs = waysTold(shapes.map((shape, i) => ({ name: shape.name, as: drafts[i]!.as })));
  const words = `Draft: ${count(packed.shells, "shell")}${told}${cutAs}`;
  const edited = withLayouts(asset, packed.changes);
  const missed = reached > (mean ?? Infinity) + ROUNDING;
  const notes = missed
    ? [{ words: `The mean stretch came to ${reached.toFixed(4)}: no seams led to less.`, shells: [] }]
    : [];
  return packed.stopped
    ? { asset: edited, words: `${words}, packing stopped early`, notes, stopped: true }
    : { asset: edited, words, notes };
}

/** Of the root of the area: the side of a tile that is filled well is 1.15, and shells up to most of that fit into it well. */
const LONG = 0.8;
/** A shell that is longer leaves near half of any tile empty: then only is it worth halving shells where the tile is not all. */
const EMPTYING = 1.35;

/** Layouts of all shapes, step by step: that with long shells halved first, where there is one, then from most seams to fewest. */
function stepsOf(drafts: readonly Drafted[]): Layout[][] {
  const most = Math.max(...drafts.map(({ layouts }) => layouts.length));
  const passed = Array.from({ length: most }, (_, step) =>
    drafts.map(({ layouts }) => layouts[most > 1 ? Math.round((step * (layouts.length - 1)) / (most - 1)) : 0]!),
  );
  const halved = drafts.map((draft) => draft.halved ?? draft.layouts.at(-1)!);
  return drafts.some((draft) => draft.halved) ? [halved, ...passed] : passed;
}

/** What share of the limit is tried next where all shells together are stretched too much, and how often at the most. */
const NARROWER = 0.7;
const MOST_TRIES = 10;
/** Flat shells are stretched by rounding alone. */
const ROUNDING = 1e-6;

/**
 * Drafts whose shells are stretched no more on average than is asked for: the limit is drawn in until that is so.
 *
 * @param areas of the shapes, over all parts that draw them
 * @returns with the mean stretch that was reached, which is above what was asked for where no try led below it
 */
async function draftsWithin(
  inputs: readonly DraftInput[],
  mean: number | undefined,
  areas: readonly number[],
  context: EditContext,
  progress: (share: number) => void,
): Promise<{ drafts: Drafted[]; reached: number }> {
  const area = areas.reduce((sum, own) => sum + own, 0);
  const tries = mean === undefined ? 1 : MOST_TRIES;
  let [share, drafts, reached] = [1, [] as Drafted[], 1];
  for (let turn = 0; turn < tries; turn++) {
    const narrowed = inputs.map((input) => ({ ...input, limit: 1 + share * (input.limit - 1) }));
    drafts = await draftShapes(narrowed, context, (of) => progress((turn + of) / tries));
    reached = area ? drafts.reduce((sum, d, i) => sum + areas[i]! * d.stretch, 0) / area : 1;
    if (reached <= (mean ?? Infinity) + ROUNDING) break;
    share *= NARROWER;
  }
  return { drafts, reached };
}

/** Names of parts that are told of one way; others are counted. */
const NAMED = 3;

/** Which parts were cut in which way, in a few words: so that one sees which to draft again in another. */
function waysTold(parts: ReadonlyArray<{ readonly name: string; readonly as: DraftedAs }>): string {
  const byWay = new Map<DraftedAs, string[]>();
  for (const { name, as } of parts) byWay.set(as, [...(byWay.get(as) ?? []), name]);
  const told = [...byWay].map(([way, names]) => {
    const more = names.length - NAMED;
    const list = more > 1 ? `${names.slice(0, NAMED).join(", ")} and ${more} more` : names.join(", ");
    return `${way} ${list}`;
  });
  return `; ${told.join("; ")}`;
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
