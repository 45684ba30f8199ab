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

/** Protects the picked parts from changes, with a reason. */
export const lockParts = partOperation({
  id: "lock-parts",
  title: "Lock",
  about: "Protects the picked parts from changes, with a reason.",
  options,
  change: (part, { why }) => ({ ...part, locked: why }),
  words: (picked) => `Lock ${count(picked.length, "part")}`,
});
