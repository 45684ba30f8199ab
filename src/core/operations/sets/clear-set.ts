import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { shapesInScope, targetSet } from "../scope";
import { count } from "../words";
import { withLayoutsIn } from "./set-tools";

const options = z.object({});

/** Removes seams and coordinates in the target UV set: of the picked parts, or of all. */
export const clearSet: EditOperation<Record<string, never>> = {
  id: "clear-set",
  title: "Clear in the target set",
  about: "Removes seams and coordinates in the target UV set: of the picked parts, or of all.",
  kind: "edit",
  movesPins: true,
  stage: "brief",
  acts: "parts",
  big: true,
  options,
  run(asset, scope) {
    const ids = new Set(
      shapesInScope(asset, scope)
        .filter((p) => p.layouts.has(scope.set))
        .map((p) => p.id),
    );
    if (!ids.size) throw new UserError("There is nothing to clear in this UV set.");
    const cleared = withLayoutsIn(asset, scope.set, (s) => (ids.has(s.id) ? undefined : s.layouts.get(scope.set)));
    return { asset: cleared, words: `Clear ${count(ids.size, "part")} in ${targetSet(asset, scope).name}`, notes: [] };
  },
};
