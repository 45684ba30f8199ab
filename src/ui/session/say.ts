import type { Note } from "@/core/operations/operation";
import type { Bench, Message } from "./store";

/** Says a sentence in the status line. */
export const say = (
  bench: Bench,
  words: string,
  tone: "info" | "refused" | "warning" = "info",
  notes: readonly Note[] = [],
): void => bench.setState({ message: { words, tone, notes } });

/** A message with its notes behind it, each a sentence of its own. */
export const messageWords = ({ words, notes }: Message): string =>
  notes.length ? [words.endsWith(".") ? words : `${words}.`, ...notes.map((n) => n.words)].join(" ") : words;
