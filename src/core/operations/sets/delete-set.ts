import { z } from "zod";
import { withLaid } from "../../layout/asset";
import { withoutSets } from "../../layout/delta";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { targetSet } from "../scope";

const options = z.object({});

/** Deletes the target UV set; undo brings it back. */
export const deleteSet: EditOperation<Record<string, never>> = {
  id: "delete-set",
  title: "Delete the target set",
  about: "Deletes the target UV set; undo brings it back.",
  kind: "edit",
  movesPins: true,
  stage: "brief",
  acts: "asset",
  big: true,
  options,
  run(asset, scope) {
    if (asset.sets.length === 1) throw new UserError("An asset needs one UV set at least; clear it instead.");
    const gone = targetSet(asset, scope);
    const place = asset.sets.indexOf(gone);
    const sets = asset.sets.filter((s) => s !== gone);
    if (sets.every((s) => s.exportAs === null)) sets[0] = { ...sets[0]!, exportAs: 0 };
    const materials = asset.materials.map((m) =>
      withLaid(m, (laid) => (laid.set === gone.id ? { image: laid.image, set: sets[0]!.id } : laid)),
    );
    return {
      asset: withoutSets({ ...asset, sets, materials }, [gone.id]),
      words: `Delete UV set ${gone.name}`,
      notes: [],
      target: sets[Math.max(0, place - 1)]!.id,
    };
  },
};
