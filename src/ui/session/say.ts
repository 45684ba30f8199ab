import { UserError } from "@/core/layout/user-error";
import type { Note } from "@/core/operations/operation";
import type { Bench, Message } from "./store";

/** Says a sentence in the status line. */
export const say = (
  bench: Bench,
  words: string,
  tone: "info" | "refused" | "warning" = "info",
  notes: readonly Note[] = [],
): void => bench.setState({ message: { words, tone, notes } });

/** Says why something was refused, with what of the same operation would work instead. */
export const sayRefused = (
  bench: Bench,
  words: string,
  tone: "info" | "refused",
  error: unknown,
  operation: string | undefined,
): void => {
  const offers = operation && error instanceof UserError ? error.offers.map((o) => ({ ...o, operation })) : [];
  bench.setState({ message: { words, tone, notes: [], ...(offers.length ? { offers } : {}) } });
};

/** A message with its notes behind it, each a sentence of its own. */
export const messageWords = ({ words, notes }: Message): string =>
  notes.length ? [words.endsWith(".") ? words : `${words}.`, ...notes.map((n) => n.words)].join(" ") : words;

/** Says what was done, with notes on what could not be; those on what was stand with the operation. */
export function sayDone(bench: Bench, words: string, notes: readonly Note[]): void {
  const missed = notes.filter((n) => !n.done);
  say(bench, words, missed.length ? "warning" : "info", missed);
}
