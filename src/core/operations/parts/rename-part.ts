import { z } from "zod";
import { UserError } from "../../layout/user-error";
import { count } from "../words";
import { partOperation } from "./part-operation";

const options = z.object({
  name: z.string().trim().max(990).default("").meta({ title: "Name", description: "The new name" }),
});

/** Gives the picked parts a name; several get it with numbers. */
export const renamePart = partOperation({
  id: "rename-part",
  title: "Rename",
  about: "Gives the picked parts a name; several get it with numbers.",
  options,
  change: (part, { name }, place, picked) => ({ ...part, name: picked.length > 1 ? `${name} ${place + 1}` : name }),
  words(picked, { name }) {
    if (!name) throw new UserError("Say what the part is to be called.");
    return picked.length > 1 ? `Rename ${count(picked.length, "part")}` : `Rename ${picked[0]!.name} to ${name}`;
  },
});
