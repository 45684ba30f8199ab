import { z } from "zod";
import { mapShapes } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { shapesInScope } from "../scope";
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
  mends: { faults: { borders: {} } },
  acts: "parts",
  big: true,
  options,
  async run(asset, scope, { edges }) {
    const repairs = await import("../../prepare/repairs");
    const ids = new Set(shapesInScope(asset, scope).map((s) => s.id));
    let total = 0;
    const next = mapShapes(asset, (s) => {
      if (!ids.has(s.id)) return s;
      const { shape, closed } = repairs.closeGaps(s, edges);
      total += closed;
      return shape;
    });
    if (!total) throw new UserError(`No open border has ${edges} edges or fewer.`);
    return { asset: next, words: `Close ${count(total, "gap")}`, notes: [] };
  },
};
