import { z } from "zod";
import { withLayouts } from "../../layout/asset";
import { clearBit, getBit } from "../../layout/bits";
import { withBits } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { facesInScope, layoutOf, targetSet } from "../scope";
import { count } from "../words";

const options = z.object({});

/** Removes the coordinates of the picked faces in the target UV set. */
export const unmap: EditOperation<Record<string, never>> = {
  id: "unmap",
  title: "Take coordinates away",
  about: "Removes the coordinates of the picked faces in the target UV set.",
  kind: "edit",
  movesPins: true,
  stage: "brief",
  acts: "faces",
  picks: true,
  options,
  run(asset, scope) {
    if (!scope.selection) throw new UserError("Pick faces or shells first.");
    let total = 0;
    const changes = facesInScope(asset, scope).flatMap(({ shape, faces }) => {
      const layout = layoutOf(shape, scope.set);
      const mapped = layout.mapped.slice();
      let gone = 0;
      for (const f of faces) {
        if (!getBit(mapped, f)) continue;
        clearBit(mapped, f);
        gone++;
      }
      total += gone;
      return gone
        ? [{ shape: shape.id, set: scope.set, layout: withBits(shape.mesh, layout, layout.cut, mapped) }]
        : [];
    });
    if (!total) throw new UserError("These faces have no coordinates in this UV set.");
    return {
      asset: withLayouts(asset, changes),
      words: `Take ${count(total, "face")} out of ${targetSet(asset, scope).name}`,
      notes: [],
    };
  },
};
