import { z } from "zod";
import { withParts } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { pickedParts } from "./picked-parts";

const options = z.object({
  color: z
    .enum(["none", "sumac", "saffron", "cardamom", "pool", "indigo", "clove"])
    .default("none")
    .meta({ title: "Colour", description: "Colour of the parts in the list" }),
});
export const LABELS = ["none", "sumac", "saffron", "cardamom", "pool", "indigo", "clove"] as const;

/** Gives the picked parts a colour to find them by. */
export const labelParts: EditOperation<z.infer<typeof options>> = {
  id: "label-parts",
  title: "Colour",
  about: "Gives the picked parts a colour to find them by.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  locked: "may",
  options,
  run(asset, scope, { color }) {
    const picked = new Set(pickedParts(asset, scope).map((p) => p.id));
    const label = LABELS.indexOf(color);
    return {
      asset: withParts(
        asset,
        asset.parts.map((p) => {
          if (!picked.has(p.id)) return p;
          const { label: _, ...rest } = p;
          return label ? { ...rest, label } : rest;
        }),
      ),
      words: `Colour ${count(picked.size, "part")}: ${color}`,
      notes: [],
    };
  },
};
