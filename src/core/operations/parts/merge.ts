import { z } from "zod";
import { mergeParts, remembered } from "../../layout/assembly";
import { placedShape, withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const options = z.object({
  name: z.string().trim().max(200).default("").meta({ title: "Name", description: "Name of the merged part" }),
});

/** Merges parts for the work; they are separated again, with their names, by hand or at export. */
export const merge: EditOperation<z.infer<typeof options>> = {
  id: "merge-parts",
  title: "Merge parts",
  about: "Merges the picked parts into one to work on. They are separated again automatically on export.",
  kind: "edit",
  stage: "brief",
  heading: "Parts",
  acts: "parts",
  picks: true,
  big: true,
  options,
  run(asset, scope, { name }, { freshId }) {
    const picked = scope.picked || scope.selection ? partsInScope(asset, scope) : [];
    if (picked.length < 2) throw new UserError("Pick two parts or more to merge.");
    for (const p of picked) {
      const shape = placedShape(asset, p.shape);
      if (shape.parts.length > 1)
        throw new UserError(`${p.name} shares its mesh with another part: make it unique first.`);
      if (shape.merged) throw new UserError(`${p.name} is merged already: separate it first.`);
    }
    const ids = new Set(picked.map((p) => p.id));
    const inOrder = asset.parts.filter((p) => ids.has(p.id));
    const merged = mergeParts(
      inOrder.map((p) => remembered(asset, p)),
      name || `${inOrder[0]!.name} and ${inOrder.length - 1} more`,
      freshId,
    );
    return {
      asset: withParts(
        asset,
        asset.parts.flatMap((p) => (p === inOrder[0] ? [merged.part] : ids.has(p.id) ? [] : [p])),
        [merged.shape],
      ),
      words: `Merge ${count(picked.length, "part")} into ${merged.part.name}`,
      notes: [],
    };
  },
};
