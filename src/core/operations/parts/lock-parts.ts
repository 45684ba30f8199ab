import { z } from "zod";
import { count } from "../words";
import { partOperation } from "./part-operation";

const options = z.object({
  why: z
    .string()
    .trim()
    .max(200)
    .default("")
    .meta({ title: "Why", description: "Told to whoever tries to change them" }),
});

/** Keeps the picked parts from being changed, and says why. */
export const lockParts = partOperation({
  id: "lock-parts",
  title: "Lock",
  about: "Keeps the picked parts from being changed, and says why.",
  options,
  change: (part, { why }) => ({ ...part, locked: why }),
  words: (picked) => `Lock ${count(picked.length, "part")}`,
});
