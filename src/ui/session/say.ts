import type { Note } from "@/core/operations/operation";
import { useBench } from "./store";

/** Says a sentence in the status line. */
export const say = (words: string, tone: "info" | "refused" | "warning" = "info", notes: readonly Note[] = []): void =>
  useBench.setState({ message: { words, tone, notes } });
