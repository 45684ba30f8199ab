import { z } from "zod";
import { withLayouts } from "../layout/asset";
import { getBit, setBit } from "../layout/bits";
import { withBits } from "../layout/layout";
import { UserError } from "../layout/user-error";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import type { EditOperation } from "./operation";
import { edgesInScope } from "./scope";
import { count } from "./words";

/** Sets seams on the picked edges. Nothing moves. */
export const cut: EditOperation<Record<string, never>> = {
  id: "cut",
  title: "Cut",
  about: "Makes the picked edges seams. Nothing moves until the shells are unfolded.",
  kind: "edit",
  stage: "seams",
  fits: ["edges"],
  heading: "By hand",
  key: "C",
  acts: "edges",
  foretells: true,
  options: z.object({}),
  run(asset, scope) {
    let total = 0;
    const changes = edgesInScope(asset, scope).flatMap(({ shape, layout, edges }) => {
      const t = topologyOf(shape.mesh);
      const bits = layout.cut.slice();
      let added = 0;
      for (const e of edges) {
        if (edgeFaceCount(t, e) !== 2 || getBit(bits, e)) continue;
        setBit(bits, e);
        added++;
      }
      total += added;
      return added ? [{ shape: shape.id, set: scope.set, layout: withBits(shape.mesh, layout, bits) }] : [];
    });
    if (!total) throw new UserError("These edges are seams or borders already.");
    return { asset: withLayouts(asset, changes), words: `Cut ${count(total, "edge")}`, notes: [] };
  },
};
