import { z } from "zod";
import { withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { pickedParts } from "./picked-parts";

const options = z.object({
  name: z.string().trim().max(200).default("").meta({ title: "Name", description: "The new name" }),
});

/** Gives the picked parts a name; several get it with numbers. */
export const renamePart: EditOperation<z.infer<typeof options>> = {
  id: "rename-part",
  title: "Rename",
  about: "Gives the picked parts a name; several get it with numbers.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  locked: "may",
  options,
  run(asset, scope, { name }) {
    if (!name) throw new UserError("Say what the part is to be called.");
    const picked = pickedParts(asset, scope);
    const names = new Map(picked.map((p, i) => [p.id, picked.length > 1 ? `${name} ${i + 1}` : name]));
    return {
      asset: withParts(
        asset,
        asset.parts.map((p) => (names.has(p.id) ? { ...p, name: names.get(p.id)! } : p)),
      ),
      words: picked.length > 1 ? `Rename ${count(picked.length, "part")}` : `Rename ${picked[0]!.name} to ${name}`,
      notes: [],
    };
  },
};
