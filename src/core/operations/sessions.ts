import { type Asset, type LayoutChange, type ShapeId, type UvSetId, withLayouts } from "../layout/asset";
import type { AssetDelta } from "../layout/delta";
import { UserError } from "../layout/user-error";
import type { Falloff, Weights } from "../select/falloff";
import type { FreeBox } from "./large/into-free";
import { type MoveInput, move, moved, movedWords, moveWork, movingOf } from "./move";
import { type MovePointsInput, movedPoints, movePoints, type PointsWork, pointsWords, pointsWork } from "./move-points";
import type { EditResult, Scope } from "./operation";
import { type PullInput, pullPoints } from "./pull-points";
import { Pushing } from "./pushing";
import { relaxStroke, type StrokeInput } from "./relax-stroke";
import { withoutLocked } from "./run";
import { type Snap, Snapping } from "./snapping";

/** What the document would look like; unsettled where the same input asked for again leads farther. */
export type Preview = AssetDelta & {
  readonly unsettled?: boolean;
  /** The motion as it is, where it keeps to something. */
  readonly motion?: { readonly du: number; readonly dv: number };
};

/**
 * Work under the pointer: it computes previews as often as asked, and changes nothing until it is committed as one
 * step.
 */
export interface Session {
  readonly set: UvSetId;
  preview(input: unknown): Preview;
  /** The step, and the options that it comes of, where they are not those that were asked for. */
  commit(input: unknown): EditResult & { readonly options?: object };
}

/** What a session does of its own: layouts for an input, and words for the step. */
interface Work<Input> {
  changes(input: Input): LayoutChange[];
  words(input: Input): string;
  isUnsettled?(): boolean;
  /** What what is moved keeps to. */
  readonly snapping?: Snapping;
}

function moving(asset: Asset, scope: Scope): Work<MoveInput> {
  const own = withoutLocked(asset, move, scope);
  const work = moveWork(asset, own);
  const points = movingOf(work);
  let pushing: Pushing | null = null;
  const push = () => {
    pushing ??= new Pushing(asset, own, points);
    return pushing;
  };
  return {
    changes: (input) => (input.push ? push().changes(input, scope.set) : moved(work, input, scope.set)),
    words: (input) => movedWords(work, input, input.push ? push().pushed(input) : 0),
    snapping: new Snapping(asset, own, points, push),
  };
}

const STILL = { du: 0, dv: 0, turn: 0, scale: 1, radius: 0, curve: "smooth" } as const;

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
  const points = workFor(STILL).shapes.map(({ shape, layout, wedges }) => ({ shape: shape.id, uv: layout.uv, wedges }));
  return {
    changes: (input) => movedPoints(workFor(input), input, scope.set),
    words: (input) => pointsWords(workFor(input), input),
    snapping: new Snapping(asset, own, points),
  };
}

/** How much of a motion of the picked points each point takes, by shape. @throws UserError where none can move */
export function weightsAbout(asset: Asset, scope: Scope, falloff: Falloff): Array<{ shape: ShapeId } & Weights> {
  const { shapes } = pointsWork(asset, scope, falloff);
  return shapes.map(({ shape, wedges, weights }) => ({ shape: shape.id, wedges, weights }));
}

/** The largest empty boxes of the tiles in use, with the shells that could go into each. @param padding texels */
export const freeSpace = async (asset: Asset, set: UvSetId, padding: number): Promise<FreeBox[]> =>
  (await import("./large/into-free")).freeBoxes(asset, set, padding);
export type { FreeBox };

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

const isSameSize = ({ scale, scaleU = 1, scaleV = 1 }: Partial<MoveInput>): boolean =>
  scale === 1 && scaleU === 1 && scaleV === 1;

type Snapped<Input> = Input & { readonly snap?: Snap };

function sessionOf<Input extends object>(asset: Asset, scope: Scope, work: Work<Input>): Session {
  const { changes, words, isUnsettled, snapping } = work;
  /** The input as it is meant: where it keeps to something, with the way to go there. */
  const meant = (asked: unknown): { input: Input; isSnapped: boolean } => {
    const { snap, ...input } = asked as Snapped<Input & MoveInput>;
    const isSnapped = snap !== undefined && snapping !== undefined && !input.turn && isSameSize(input);
    return { input: (isSnapped ? snapping.apply(input, snap) : input) as unknown as Input, isSnapped };
  };
  return {
    set: scope.set,
    preview(asked) {
      const { input, isSnapped } = meant(asked);
      const layouts = changes(input);
      const motion = isSnapped ? { motion: input as unknown as MoveInput } : {};
      return { parts: [], shapes: [], layouts, ...motion, ...(isUnsettled?.() ? { unsettled: true } : {}) };
    },
    commit(asked) {
      const { input } = meant(asked);
      return { asset: withLayouts(asset, changes(input)), words: words(input), notes: [], options: input };
    },
  };
}
