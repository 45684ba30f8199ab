import { z } from "zod";
import type { ShapeId } from "../../layout/asset";
import { edgesByShape } from "../../layout/seam-locks";
import { UserError } from "../../layout/user-error";
import type { SelectOperation } from "../operation";
import { elementWords } from "../words";

const options = z.object({
  reason: z.string().default("").meta({ title: "Reason", description: "Only those locked for it", from: "seamLocks" }),
});

/** Picks locked seams. */
export const pickLocked: SelectOperation<z.infer<typeof options>> = {
  id: "pick-locked",
  title: "Pick: Locked seams",
  about: "Picks the seams that are locked, all of them or those of one reason.",
  kind: "select",
  stage: "seams",
  heading: "Locks",
  acts: "asset",
  options,
  run(asset, scope, { reason }) {
    const visible = new Set(asset.parts.filter((p) => scope.parts.includes(p.id)).map((p) => p.shape));
    const found = new Map<ShapeId, Set<number>>();
    for (const lock of asset.seamLocks) {
      if (lock.set !== scope.set || (reason && lock.reason !== reason)) continue;
      for (const [id, edges] of edgesByShape(asset, lock)) {
        if (!visible.has(id)) continue;
        const own = found.get(id) ?? new Set();
        for (const e of edges) own.add(e);
        found.set(id, own);
      }
    }
    if (!found.size)
      throw new UserError(reason ? `No seam in view is locked for “${reason}”.` : "No seam in view is locked.");
    const items = new Map([...found].map(([id, edges]) => [id, Uint32Array.from(edges).sort()]));
    const total = [...items.values()].reduce((sum, edges) => sum + edges.length, 0);
    return { selection: { kind: "edges", items }, words: `${elementWords(total, "edges")} of locked seams picked.` };
  },
};
