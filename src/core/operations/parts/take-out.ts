import { z } from "zod";
import { withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const options = z.object({});

/** Removes the picked parts from the asset; undo brings them back. */
export const takeOut: EditOperation<Record<string, never>> = {
  id: "take-out",
  title: "Take out",
  about: "Removes the picked parts from the asset; undo brings them back.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  picks: true,
  big: true,
  options,
  run(asset, scope) {
    if (!scope.picked && !scope.selection) throw new UserError("Pick a part first.");
    const picked = new Set(partsInScope(asset, scope).map((p) => p.id));
    const left = asset.parts.filter((p) => !picked.has(p.id));
    if (!left.length) throw new UserError("An asset needs one part at least.");
    return {
      asset: withParts(asset, left),
      words: `Take out ${count(picked.size, "part")}`,
      notes: [],
    };
  },
};
