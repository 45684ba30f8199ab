import { z } from "zod";
import { withParts } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { pickedParts } from "./picked-parts";

const options = z.object({
  why: z
    .string()
    .trim()
    .max(200)
    .default("")
    .meta({ title: "Why", description: "Told to whoever tries to change them" }),
});

/** Keeps the picked parts from being changed, and says why. */
export const lockParts: EditOperation<z.infer<typeof options>> = {
  id: "lock-parts",
  title: "Lock",
  about: "Keeps the picked parts from being changed, and says why.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  locked: "may",
  options,
  run(asset, scope, { why }) {
    const picked = new Set(pickedParts(asset, scope).map((p) => p.id));
    return {
      asset: withParts(
        asset,
        asset.parts.map((p) => (picked.has(p.id) ? { ...p, locked: why } : p)),
      ),
      words: `Lock ${count(picked.size, "part")}`,
      notes: [],
    };
  },
};
