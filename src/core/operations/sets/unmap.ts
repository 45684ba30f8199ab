import { z } from "zod";
import { withLayouts } from "../../layout/asset";
import { clearBit, getBit } from "../../layout/bits";
import { UserError } from "../../layout/user-error";
import { withBits } from "../../layout/uv-set";
import type { EditOperation } from "../operation";
import { facesInScope, layoutOf } from "../scope";
import { count } from "../words";

const options = z.object({});

/** Takes the picked faces out of the target UV set: they have no coordinates in it any more. */
export const unmap: EditOperation<Record<string, never>> = {
  id: "unmap",
  title: "Take coordinates away",
  about: "Takes the picked faces out of the target UV set: they have no coordinates in it any more.",
  kind: "edit",
  stage: "brief",
  acts: "faces",
  picks: true,
  options,
  run(asset, scope) {
    if (!scope.selection) throw new UserError("Pick faces or shells first.");
    let total = 0;
    const changes = facesInScope(asset, scope).flatMap(({ part, faces }) => {
      const layout = layoutOf(part, scope.set);
      const mapped = layout.mapped.slice();
      let gone = 0;
      for (const f of faces) {
        if (!getBit(mapped, f)) continue;
        clearBit(mapped, f);
        gone++;
      }
      total += gone;
      return gone ? [{ part: part.id, set: scope.set, layout: withBits(part.mesh, layout, layout.cut, mapped) }] : [];
    });
    if (!total) throw new UserError("These faces have no coordinates in this UV set.");
    return {
      asset: withLayouts(asset, changes),
      words: `Take ${count(total, "face")} out of ${asset.sets[scope.set]!.name}`,
      notes: [],
    };
  },
};
