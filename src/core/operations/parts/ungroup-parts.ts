import { z } from "zod";
import { UserError } from "../../layout/user-error";
import { count } from "../words";
import { partOperation } from "./part-operation";

/** Takes the picked parts out of their groups. */
export const ungroupParts = partOperation({
  id: "ungroup-parts",
  title: "Ungroup",
  about: "Takes the picked parts out of their groups.",
  options: z.object({}),
  change: (part) => ({ ...part, path: [] }),
  words(picked) {
    if (picked.every((p) => !p.path.length)) throw new UserError("None of these parts is in a group.");
    return `Ungroup ${count(picked.length, "part")}`;
  },
});
