import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { reordered } from "./set-tools";

const options = z.object({});

/** Deletes the target UV set; undo brings it back. */
export const deleteSet: EditOperation<Record<string, never>> = {
  id: "delete-set",
  title: "Delete the target set",
  about: "Deletes the target UV set; undo brings it back.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  big: true,
  options,
  run(asset, scope) {
    if (asset.sets.length === 1) throw new UserError("An asset needs one UV set at least; clear it instead.");
    const sets = asset.sets.filter((_, i) => i !== scope.set);
    const gone = asset.sets[scope.set]!;
    if (sets.every((s) => s.exportAs === null)) sets[0] = { ...sets[0]!, exportAs: 0 };
    const materials = asset.materials.map((m) =>
      m.texture?.set === gone.id ? { ...m, texture: { ...m.texture, set: sets[0]!.id } } : m,
    );
    return {
      asset: reordered({ ...asset, sets, materials }, (part) =>
        asset.sets.flatMap((_, i) => (i === scope.set ? [] : [part.uvSets[i]])),
      ),
      words: `Delete UV set ${gone.name}`,
      notes: [],
      target: sets[Math.max(0, scope.set - 1)]!.id,
    };
  },
};
