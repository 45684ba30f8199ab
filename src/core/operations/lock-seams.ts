import { z } from "zod";
import type { ShapeId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { MOST_LOCKS } from "../layout/seam-lock";
import { edgesByShape, lockOf } from "../layout/seam-locks";
import { UserError } from "../layout/user-error";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import type { EditOperation } from "./operation";
import { edgesInScope } from "./scope";
import { count } from "./words";

const options = z.object({
  reason: z
    .string()
    .trim()
    .max(200)
    .default("locked by hand")
    .meta({ title: "Reason", description: "Why these seams stay; seams locked for one reason are picked together" }),
});

/** Locks the picked seams: nothing takes them off until they are unlocked. */
export const lockSeams: EditOperation<z.infer<typeof options>> = {
  id: "lock-seams",
  title: "Lock seams",
  about: "Keeps the picked seams through joins, proposals, drafts, repairs and merges, until they are unlocked.",
  kind: "edit",
  stage: "seams",
  heading: "Locks",
  key: "shift+Q",
  acts: "edges",
  picks: true,
  options,
  run(asset, scope, { reason }) {
    if (!reason) throw new UserError("Give a reason: it is told to whoever wants to join these seams.");
    const before = asset.seamLocks.find((lock) => lock.set === scope.set && lock.reason === reason);
    const edges = new Map<ShapeId, Uint32Array>(before ? edgesByShape(asset, before) : []);
    let added = 0;
    for (const { shape, layout, edges: picked } of edgesInScope(asset, scope)) {
      const t = topologyOf(shape.mesh);
      const own = new Set(edges.get(shape.id));
      const size = own.size;
      for (const e of picked) if (edgeFaceCount(t, e) === 2 && getBit(layout.cut, e)) own.add(e);
      added += own.size - size;
      edges.set(shape.id, Uint32Array.from(own).sort());
    }
    if (!added) throw new UserError("None of these edges is a seam that is not locked for this reason already.");
    const others = asset.seamLocks.filter((lock) => lock !== before);
    if (others.length >= MOST_LOCKS) throw new UserError(`Seams can be locked for at most ${MOST_LOCKS} reasons.`);
    const lock = lockOf({ reason, set: scope.set }, edges)!;
    return {
      asset: { ...asset, seamLocks: [...others, lock].sort((a, b) => (a.reason < b.reason ? -1 : 1)) },
      words: `Lock ${count(added, "seam edge")}: ${reason}`,
      notes: [],
    };
  },
};
