import type { Note } from "@/core/operations/operation";
import type { Bench } from "./store";

/** Says a sentence in the status line. */
export const say = (
  bench: Bench,
  words: string,
  tone: "info" | "refused" | "warning" = "info",
  notes: readonly Note[] = [],
): void => bench.setState({ message: { words, tone, notes } });
