import { type Asset, type LayoutChange, type ShapeId, type UvSetId, withLayouts } from "../layout/asset";
import type { AssetDelta } from "../layout/delta";
import { UserError } from "../layout/user-error";
import type { Falloff, Weights } from "../select/falloff";
import { type MoveInput, move, moved, movedWords, moveWork } from "./move";
import { type MovePointsInput, movedPoints, movePoints, type PointsWork, pointsWords, pointsWork } from "./move-points";
import type { EditResult, Scope } from "./operation";
import { type PullInput, pullPoints } from "./pull-points";
import { relaxStroke, type StrokeInput } from "./relax-stroke";
import { withoutLocked } from "./run";

/** What the document would look like; unsettled where the same input asked for again leads farther. */
export type Preview = AssetDelta & { readonly unsettled?: boolean };

/**
 * Work under the pointer: it computes previews as often as asked, and changes nothing until it is committed as one
 * step.
 */
export interface Session {
  readonly set: UvSetId;
  preview(input: unknown): Preview;
  commit(input: unknown): EditResult;
}

/** What a session does of its own: layouts for an input, and words for the step. */
interface Work<Input> {
  changes(input: Input): LayoutChange[];
  words(input: Input): string;
  isUnsettled?(): boolean;
}

function moving(asset: Asset, scope: Scope): Work<MoveInput> {
  const work = moveWork(asset, withoutLocked(asset, move, scope));
  return { changes: (input) => moved(work, input, scope.set), words: (input) => movedWords(work, input) };
}

function movingPoints(asset: Asset, scope: Scope): Work<MovePointsInput> {
  const own = withoutLocked(asset, movePoints, scope);
  let work: PointsWork | null = null;
  let [radius, curve] = [0, ""];
  // Who follows is looked up again where the falloff changes under the pointer.
  const workFor = (input: MovePointsInput): PointsWork => {
    if (!work || input.radius !== radius || input.curve !== curve) work = pointsWork(asset, own, input);
    [radius, curve] = [input.radius, input.curve];
    return work;
  };
  workFor({ du: 0, dv: 0, turn: 0, scale: 1, radius: 0, curve: "smooth" });
  return {
    changes: (input) => movedPoints(workFor(input), input, scope.set),
    words: (input) => pointsWords(workFor(input), input),
  };
}

/** How much of a motion of the picked points each point takes, by shape. @throws UserError where none can move */
export function weightsAbout(asset: Asset, scope: Scope, falloff: Falloff): Array<{ shape: ShapeId } & Weights> {
  const { shapes } = pointsWork(asset, scope, falloff);
  return shapes.map(({ shape, wedges, weights }) => ({ shape: shape.id, wedges, weights }));
}

/** Points that are pulled: the step itself is an edit like any other, which takes longer than a preview. */
async function pulling(asset: Asset, scope: Scope): Promise<Work<PullInput>> {
  const { livePull } = await import("./large/pull-points");
  const live = livePull(asset, withoutLocked(asset, pullPoints, scope));
  return {
    changes: (input) => live.preview(input),
    isUnsettled: () => live.isUnsettled(),
    words: () => pullPoints.title,
  };
}

/** A stroke that is drawn: every preview goes on to the end of what was drawn by then. */
async function brushing(asset: Asset, scope: Scope): Promise<Work<StrokeInput>> {
  const { LiveStroke } = await import("./large/relax-stroke");
  const live = new LiveStroke(asset, withoutLocked(asset, relaxStroke, scope));
  return {
    changes(input) {
      live.draw(input);
      return live.changes();
    },
    words: () => live.words,
  };
}

/** Begins a session of an operation. @throws UserError when there is nothing to work on */
export async function beginSession(asset: Asset, operation: string, scope: Scope): Promise<Session> {
  if (operation === pullPoints.id) return sessionOf(asset, scope, await pulling(asset, scope));
  if (operation === relaxStroke.id) return sessionOf(asset, scope, await brushing(asset, scope));
  if (operation === move.id) return sessionOf(asset, scope, moving(asset, scope));
  if (operation === movePoints.id) return sessionOf(asset, scope, movingPoints(asset, scope));
  throw new UserError("This operation cannot be worked under the pointer.");
}

function sessionOf<Input>(asset: Asset, scope: Scope, { changes, words, isUnsettled }: Work<Input>): Session {
  return {
    set: scope.set,
    preview(input) {
      const layouts = changes(input as Input);
      return { parts: [], shapes: [], layouts, ...(isUnsettled?.() ? { unsettled: true } : {}) };
    },
    commit: (input) => ({
      asset: withLayouts(asset, changes(input as Input)),
      words: words(input as Input),
      notes: [],
    }),
  };
}
