import { type Asset, type PlacedShape, withLayouts } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { type ShellRef, shellName, structureOf } from "../../layout/layout";
import { lockedEdges } from "../../layout/seam-locks";
import { hasPins, isMapped } from "../../layout/shell-points";
import { Stopped } from "../../layout/stopped";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { unwoundEdges } from "../../seams/creased";
import type { PieceAnswer, PieceAsk } from "../../seams/draft-piece";
import { seamCosts } from "../../seams/edge-cost";
import { type Source, sourceOf } from "../../seams/piece";
import { type ShortenLayoutOptions, shortenedLayout } from "../../seams/shortened-layout";
import { piecesOn } from "../../tasks/draft-shapes";
import { seenFaces } from "../../tasks/seen-faces";
import { openUp } from "../open-up";
import type { EditContext, Note, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { count } from "../words";

/** What came of shorter seams, over all shapes. */
export interface ShortenedShapes {
  readonly asset: Asset;
  readonly before: number;
  readonly after: number;
  readonly shells: readonly [number, number];
  readonly notes: readonly Note[];
  readonly stopped: boolean;
}

type Wanted = Pick<ShortenLayoutOptions, "limit" | "kinds" | "wish" | "byLength" | "sameStretch">;

/**
 * Shortens the seams of shells; pinned ones and those without coordinates stay as they are.
 *
 * @param stays whether a seam stays where it is @throws Stopped when it is stopped before anything was reached
 */
export async function shortenedShapes(
  asset: Asset,
  scope: Scope,
  wanted: Wanted,
  stays: (shape: PlacedShape, source: Source) => (edge: number) => boolean,
  context: EditContext,
): Promise<ShortenedShapes> {
  const work = shellsInScope(asset, scope);
  // Where lengths alone count, it does not matter what is seen.
  const seen = wanted.byLength ? null : await seenFaces(asset, context, (share) => context.progress(0.1 * share));
  const faces = work.map(({ shape }) => shape.mesh.faceStart.length);
  const all = faces.reduce((a, b) => a + b, 0);
  let [done, stopped] = [0, false];
  const out = { before: 0, after: 0, shells: [0, 0] as [number, number] };
  const changes = [];
  const left: ShellRef[] = [];
  /** Workers that are told to stop answer nothing: what was reached before stays. */
  const untilStopped = (piece: (ask: PieceAsk) => Promise<PieceAnswer>) => async (ask: PieceAsk) => {
    try {
      return await piece(ask);
    } catch (error) {
      if (!(error instanceof Stopped)) throw error;
      stopped = true;
      return {};
    }
  };
  for (const [i, { shape, layout, shells }] of work.entries()) {
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const source = sourceOf(mesh, world, seamCosts(mesh, world, seen?.get(shape.id)));
    const unwound = new Set(unwoundEdges(mesh));
    const lasts = stays(shape, source);
    const locked = lockedEdges(asset, scope.set, shape);
    const free = Array.from(shells, (k) => k as Shell).filter(
      (shell) => isMapped(mesh, layout, shell) && !hasPins(mesh, layout, shell),
    );
    const result = await shortenedLayout(source, layout, free, {
      ...wanted,
      mayMove: (e) => !unwound.has(e) && !lasts(e) && !(locked && getBit(locked, e)),
      // Told to stop, what was reached is kept.
      isOver: () => stopped,
      onStep: (share) => {
        try {
          context.progress(0.1 + (0.9 * (done + share * faces[i]!)) / all);
        } catch (error) {
          if (!(error instanceof Stopped)) throw error;
          stopped = true;
        }
      },
      ...(context.pool ? { piece: untilStopped(piecesOn(context.pool)(source)) } : {}),
    });
    done += faces[i]!;
    out.before += result.before;
    out.after += result.after;
    out.shells[0] += result.shells[0];
    out.shells[1] += result.shells[1];
    const s = structureOf(mesh, layout);
    for (const shell of result.left) left.push({ shape: shape.id, face: shellName(s, shell) });
    if (result.layout !== layout) changes.push({ shape: shape.id, set: scope.set, layout: result.layout });
    if (stopped) break;
  }
  if (stopped && !changes.length) throw new Stopped();
  const words = `${count(left.length, "shell")} cannot lie flat in one piece and ${left.length > 1 ? "were" : "was"} left alone.`;
  const notes = left.length && !stopped ? [{ words, shells: left, offer: openUp.id }] : [];
  return { asset: changes.length ? withLayouts(asset, changes) : asset, ...out, notes, stopped };
}
