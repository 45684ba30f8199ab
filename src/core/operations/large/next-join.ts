import type { Asset, PlacedShape } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import type { Layout } from "../../layout/layout";
import { lockedEdges } from "../../layout/seam-locks";
import type { Apart } from "../../layout/seam-wishes";
import { hasPins, isMapped } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { unwoundEdges } from "../../seams/creased";
import { draftPiece, LOOSE_TAIL, weighedBy } from "../../seams/draft-piece";
import { seamCosts } from "../../seams/edge-cost";
import { type Border, bestJoin, type Join, sharedBorders } from "../../seams/next-join";
import { sourceOf } from "../../seams/piece";
import { type SeamField, seamField } from "../../seams/seam-field";
import { piecesOn } from "../../tasks/draft-shapes";
import type { Context, Found, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { keptApart } from "./assemble";

interface Wanted {
  readonly limit: number;
  readonly apart: Apart;
  readonly skip: string;
}

interface Work {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly field: SeamField;
  readonly borders: readonly Border[];
}

/** Picks the border between two shells that is best joined next, over all parts. */
export async function run(
  asset: Asset,
  scope: Scope,
  { limit, apart, skip }: Wanted,
  context: Context,
): Promise<Found> {
  const skipped = new Set(skip.split(" "));
  const work = shellsInScope(asset, scope).map(({ shape, layout, shells }): Work => {
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const field = seamField(sourceOf(mesh, world, seamCosts(mesh, world)));
    const locked = lockedEdges(asset, scope.set, shape);
    const unwound = new Set(unwoundEdges(mesh));
    const stays = keptApart(apart, shape, field);
    const free = Array.from(shells, (k) => k as Shell).filter(
      (shell) => isMapped(mesh, layout, shell) && !hasPins(mesh, layout, shell),
    );
    const mayJoin = (e: number) => !unwound.has(e) && !stays(e) && !(locked && getBit(locked, e));
    const borders = sharedBorders(field, layout, free, mayJoin);
    const isSkipped = ({ edges }: Border) => edges.some((e) => skipped.has(`${shape.id}:${e}`));
    return { shape, layout, field, borders: borders.filter((b) => !isSkipped(b)) };
  });
  let best: { join: Join; shape: PlacedShape } | null = null;
  for (const [i, { shape, layout, field, borders }] of work.entries()) {
    context.progress(i / work.length);
    const piece = context.pool
      ? piecesOn(context.pool)(field)
      : async (ask: Parameters<typeof draftPiece>[1]) => draftPiece(field, ask, () => context.check?.());
    // A border that is shorter than the best one so far is not worth a trial.
    const worthwhile = borders.filter((b) => !best || b.length > best.join.length);
    const join = await bestJoin(field, layout, worthwhile, { limit, tail: LOOSE_TAIL }, async (faces, cut, bounds) => {
      context.check?.();
      return weighedBy(await piece({ what: "weigh", faces, cut, ...bounds }));
    });
    if (join && (!best || join.length > best.join.length)) best = { join, shape };
  }
  if (!best)
    throw new UserError(
      skip
        ? "No other border can be joined within that limit."
        : "No border can be joined within that limit of stretch.",
    );
  const { join, shape } = best;
  const [a, b] = join.shells;
  return {
    selection: { kind: "edges", items: new Map([[shape.id, join.edges]]) },
    words: `Shells ${a + 1} and ${b + 1} of ${shape.name}: stretch ${join.energy.toFixed(3)} once they are joined.`,
  };
}
