import { z } from "zod";
import { mapParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { closeGaps as closePart } from "../../prepare/repairs";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const options = z.object({
  edges: z
    .number()
    .int()
    .min(3)
    .max(1000)
    .default(12)
    .meta({ title: "Up to", description: "Gaps with at most so many edges are closed", unit: "edges" }),
});

/** Closes small open borders with a face each. */
export const closeGaps: EditOperation<z.infer<typeof options>> = {
  id: "close-gaps",
  title: "Close gaps",
  about: "Fills open borders of few edges with one face each. The new faces have no coordinates.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options,
  run(asset, scope, { edges }) {
    const ids = new Set(partsInScope(asset, scope).map((p) => p.id));
    let total = 0;
    const next = mapParts(asset, (p) => {
      if (!ids.has(p.id)) return p;
      const { part, closed } = closePart(p, edges);
      total += closed;
      return part;
    });
    if (!total) throw new UserError(`No open border has ${edges} edges or fewer.`);
    return { asset: next, words: `Close ${count(total, "gap")}`, notes: [] };
  },
};
