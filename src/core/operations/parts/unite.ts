import { z } from "zod";
import { remembered, unitePieces, withRemembered } from "../../layout/assembly";
import { type Remembered, shapeOf } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

/** Makes parts whole again from the pieces split off them, by the record of what they were. */
export const unite: EditOperation<Record<string, never>> = {
  id: "unite",
  title: "Unite pieces",
  about: "Makes parts whole again from their pieces, in their original vertex order. Nothing is joined by distance.",
  kind: "edit",
  stage: "brief",
  heading: "Parts",
  acts: "parts",
  big: true,
  options: z.object({}),
  run(asset, scope) {
    const wholes = new Set(partsInScope(asset, scope).flatMap((p) => shapeOf(asset, p).split?.whole.part.id ?? []));
    if (!wholes.size) throw new UserError("None of these parts is a piece of another.");
    const all = asset.parts.map((p) => remembered(asset, p));
    const first = new Map<string, Remembered>();
    const gone = new Set<string>();
    for (const id of wholes) {
      const pieces = all.filter((p) => p.shape.split?.whole.part.id === id);
      const united = unitePieces(pieces);
      if (!united) throw new UserError(`Not all pieces of ${pieces[0]!.shape.split!.whole.part.name} are there.`);
      first.set(pieces[0]!.part.id, united);
      for (const p of pieces) gone.add(p.part.id);
    }
    return {
      asset: withRemembered(
        asset,
        all.flatMap((p) => first.get(p.part.id) ?? (gone.has(p.part.id) ? [] : [p])),
      ),
      words: `Unite ${count(wholes.size, "part")}`,
      notes: [],
    };
  },
};
