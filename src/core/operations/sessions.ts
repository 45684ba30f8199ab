import { type Asset, type LayoutChange, type UvSetId, withLayouts } from "../layout/asset";
import type { AssetDelta } from "../layout/delta";
import { UserError } from "../layout/user-error";
import { type MoveInput, move, moved, movedWords, moveWork } from "./move";
import type { EditResult, Scope } from "./operation";
import { withoutLocked } from "./run";

/**
 * Work under the pointer: it computes previews as often as asked, and changes nothing until it is committed as one
 * step.
 */
export interface Session {
  readonly set: UvSetId;
  preview(input: unknown): AssetDelta;
  commit(input: unknown): EditResult;
}

/** Begins a session of an operation. @throws UserError when there is nothing to work on */
export function beginSession(asset: Asset, operation: string, scope: Scope): Session {
  if (operation !== move.id) throw new UserError("This operation cannot be worked under the pointer.");
  const work = moveWork(asset, withoutLocked(asset, move, scope));
  const changes = (input: unknown): LayoutChange[] => moved(work, input as MoveInput, scope.set);
  return {
    set: scope.set,
    preview: (input) => ({ parts: [], shapes: [], layouts: changes(input) }),
    commit: (input) => ({
      asset: withLayouts(asset, changes(input)),
      words: movedWords(work, input as MoveInput),
      notes: [],
    }),
  };
}
