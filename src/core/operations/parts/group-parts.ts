import { z } from "zod";
import { withParts } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { pickedParts } from "./picked-parts";

const options = z.object({
  name: z
    .string()
    .trim()
    .max(200)
    .default("")
    .meta({ title: "Group", description: "Name of the group; empty for none" }),
});

/** Puts the picked parts into a group; without a name they leave their groups. */
export const groupParts: EditOperation<z.infer<typeof options>> = {
  id: "group-parts",
  title: "Group",
  about: "Puts the picked parts into a group; without a name they leave their groups.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  locked: "may",
  options,
  run(asset, scope, { name }) {
    const picked = new Set(pickedParts(asset, scope).map((p) => p.id));
    const path = name
      ? name
          .split("/")
          .map((n) => n.trim())
          .filter(Boolean)
      : [];
    return {
      asset: withParts(
        asset,
        asset.parts.map((p) => (picked.has(p.id) ? { ...p, path } : p)),
      ),
      words: path.length
        ? `Group ${count(picked.size, "part")} as ${path.join(" / ")}`
        : `Ungroup ${count(picked.size, "part")}`,
      notes: [],
    };
  },
};
