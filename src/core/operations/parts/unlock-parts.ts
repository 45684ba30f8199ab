import { z } from "zod";
import { count } from "../words";
import { partOperation } from "./part-operation";

/** Lets the picked parts be changed again. */
export const unlockParts = partOperation({
  id: "unlock-parts",
  title: "Unlock",
  about: "Lets the picked parts be changed again.",
  options: z.object({}),
  change(part) {
    const { locked: _, ...rest } = part;
    return rest;
  },
  words: (picked) => `Unlock ${count(picked.length, "part")}`,
});
