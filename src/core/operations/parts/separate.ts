import { z } from "zod";
import { remembered, separatePart, withRemembered } from "../../layout/assembly";
import { shapeOf } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

/** Takes merged parts apart, under the names they had. */
export const separate: EditOperation<Record<string, never>> = {
  id: "separate-parts",
  title: "Separate",
  about: "Separates merged parts again, each under its own name, with the layout they have now.",
  kind: "edit",
  stage: "brief",
  heading: "Parts",
  acts: "parts",
  big: true,
  options: z.object({}),
  run(asset, scope) {
    const merged = partsInScope(asset, scope).filter((p) => shapeOf(asset, p).merged);
    if (!merged.length) throw new UserError("None of these parts is merged from others.");
    const ids = new Set(merged.map((p) => p.id));
    const parts = asset.parts.flatMap((p) => {
      const part = remembered(asset, p);
      return ids.has(p.id) ? separatePart(part) : [part];
    });
    return {
      asset: withRemembered(asset, parts),
      words: `Separate ${count(parts.length - asset.parts.length + merged.length, "part")}`,
      notes: [],
    };
  },
};
