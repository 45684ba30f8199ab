import { z } from "zod";
import { withLayouts } from "../layout/asset";
import { getBit, setBit } from "../layout/bits";
import { structureOf, withBits } from "../layout/layout";
import { UserError } from "../layout/user-error";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import type { EditOperation } from "./operation";
import { pickedPoints } from "./picked-points";
import { count } from "./words";

/** Gives every face at the picked points a point of its own. */
export const splitPoints: EditOperation<Record<string, never>> = {
  id: "split-points",
  title: "Split points",
  about: "Cuts all edges at the picked UV points, so that every face there has a point of its own; nothing moves.",
  kind: "edit",
  stage: "unfold",
  heading: "Points",
  acts: "faces",
  picks: true,
  options: z.object({}),
  run(asset, scope) {
    let total = 0;
    const changes = pickedPoints(asset, scope).flatMap(({ shape, layout, picked }) => {
      const { mesh } = shape;
      const t = topologyOf(mesh);
      const { cornerWedge } = structureOf(mesh, layout);
      const bits = layout.cut.slice();
      let added = 0;
      const cut = (e: Edge) => {
        if (edgeFaceCount(t, e) !== 2 || getBit(bits, e)) return;
        setBit(bits, e);
        added++;
      };
      for (let c = 0; c < cornerWedge.length; c++) {
        const next = t.cornerNext[c]!;
        // An edge that ends at a picked point on either side of it.
        if (picked[cornerWedge[c]!] || picked[cornerWedge[next]!]) cut(t.cornerEdge[c]!);
      }
      total += picked.reduce((sum, on) => sum + on, 0);
      return added ? [{ shape: shape.id, set: scope.set, layout: withBits(mesh, layout, bits) }] : [];
    });
    if (!changes.length) throw new UserError("Every face at these points has a point of its own already.");
    return { asset: withLayouts(asset, changes), words: `Split ${count(total, "UV point")}`, notes: [] };
  },
};
