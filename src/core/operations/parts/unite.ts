import { z } from "zod";
import { unitePieces } from "../../layout/assembly";
import { type Part, withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

/** Makes parts whole again from the pieces split off them, by the record of what they were. */
export const unite: EditOperation<Record<string, never>> = {
  id: "unite",
  title: "Unite pieces",
  about: "Makes parts whole again from their pieces, vertex order as it came. Nothing is joined by distance.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options: z.object({}),
  run(asset, scope) {
    const wholes = new Set(partsInScope(asset, scope).flatMap((p) => (p.split ? [p.split.whole.id] : [])));
    if (!wholes.size) throw new UserError("None of these parts is a piece of another.");
    const first = new Map<string, Part>();
    const gone = new Set<string>();
    for (const id of wholes) {
      const pieces = asset.parts.filter((p) => p.split?.whole.id === id);
      const united = unitePieces(pieces);
      if (!united) throw new UserError(`Not all pieces of ${pieces[0]!.split!.whole.name} are there.`);
      first.set(pieces[0]!.id, united);
      for (const p of pieces) gone.add(p.id);
    }
    return {
      asset: withParts(
        asset,
        asset.parts.flatMap((p) => first.get(p.id) ?? (gone.has(p.id) ? [] : [p])),
      ),
      words: `Unite ${count(wholes.size, "part")}`,
      notes: [],
    };
  },
};
