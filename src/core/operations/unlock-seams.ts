import { z } from "zod";
import type { ShapeId } from "../layout/asset";
import { edgesByShape, lockOf } from "../layout/seam-locks";
import { UserError } from "../layout/user-error";
import type { EditOperation } from "./operation";
import { edgesInScope } from "./scope";
import { count } from "./words";

/** Unlocks the picked seams. They stay seams. */
export const unlockSeams: EditOperation<Record<string, never>> = {
  id: "unlock-seams",
  title: "Unlock seams",
  about: "Lets the picked seams be joined again; they stay seams until they are.",
  kind: "edit",
  stage: "seams",
  heading: "Locks",
  acts: "edges",
  picks: true,
  options: z.object({}),
  run(asset, scope) {
    const picked = new Map<ShapeId, ReadonlySet<number>>(
      edgesInScope(asset, scope).map(({ shape, edges }) => [shape.id, new Set(edges)]),
    );
    let freed = 0;
    const seamLocks = asset.seamLocks.flatMap((lock) => {
      if (lock.set !== scope.set) return [lock];
      const left = new Map<ShapeId, Uint32Array>();
      let own = 0;
      for (const [id, edges] of edgesByShape(asset, lock)) {
        const kept = edges.filter((e) => !picked.get(id)?.has(e));
        own += edges.length - kept.length;
        left.set(id, kept);
      }
      freed += own;
      return own ? (lockOf(lock, left) ?? []) : [lock];
    });
    if (!freed) throw new UserError("None of these edges is a locked seam.");
    return { asset: { ...asset, seamLocks }, words: `Unlock ${count(freed, "seam edge")}`, notes: [] };
  },
};
