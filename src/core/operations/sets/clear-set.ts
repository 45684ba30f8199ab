import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";
import { reordered } from "./set-tools";

const options = z.object({});

/** Takes seams and coordinates away in the target UV set: of the picked parts, or of all. */
export const clearSet: EditOperation<Record<string, never>> = {
  id: "clear-set",
  title: "Clear in the target set",
  about: "Takes seams and coordinates away in the target UV set: of the picked parts, or of all.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options,
  run(asset, scope) {
    const ids = new Set(
      partsInScope(asset, scope)
        .filter((p) => p.uvSets[scope.set])
        .map((p) => p.id),
    );
    if (!ids.size) throw new UserError("There is nothing to clear in this UV set.");
    const cleared = reordered(asset, (part) =>
      asset.sets.map((_, i) => (i === scope.set && ids.has(part.id) ? undefined : part.uvSets[i])),
    );
    return { asset: cleared, words: `Clear ${count(ids.size, "part")} in ${asset.sets[scope.set]!.name}`, notes: [] };
  },
};
