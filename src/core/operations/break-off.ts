import { z } from "zod";
import { withLayouts } from "../layout/asset";
import { getBit, setBit } from "../layout/bits";
import { withBits } from "../layout/layout";
import { UserError } from "../layout/user-error";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import type { EditOperation } from "./operation";
import { facesInScope, layoutOf } from "./scope";
import { count } from "./words";

/** Cuts picked faces out of their shells. Nothing moves. */
export const breakOff: EditOperation<Record<string, never>> = {
  id: "break-off",
  title: "Break off",
  about: "Makes the picked faces shells of their own: seams are set all round them. Nothing moves.",
  kind: "edit",
  stage: "seams",
  fits: ["faces"],
  heading: "By hand",
  key: "shift+C",
  acts: "faces",
  foretells: true,
  picks: true,
  options: z.object({}),
  run(asset, scope) {
    let total = 0;
    const changes = facesInScope(asset, scope).flatMap(({ shape, faces }) => {
      const { mesh } = shape;
      const layout = layoutOf(shape, scope.set);
      const t = topologyOf(mesh);
      const inside = new Set(faces);
      const bits = layout.cut.slice();
      let added = 0;
      for (const f of faces)
        for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
          const e: Edge = t.cornerEdge[c]!;
          if (edgeFaceCount(t, e) !== 2 || getBit(bits, e)) continue;
          const k = t.edgeCornerStart[e]!;
          if (inside.has(t.cornerFace[t.edgeCorners[k]!]!) && inside.has(t.cornerFace[t.edgeCorners[k + 1]!]!))
            continue;
          setBit(bits, e);
          added++;
        }
      total += added;
      return added ? [{ shape: shape.id, set: scope.set, layout: withBits(mesh, layout, bits) }] : [];
    });
    if (!total) throw new UserError("These faces are whole shells already.");
    return { asset: withLayouts(asset, changes), words: `Break off along ${count(total, "edge")}`, notes: [] };
  },
};
