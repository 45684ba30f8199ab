import { z } from "zod";
import { plainText, schemaWords } from "../formats/schema-words";
import { type Asset, UNITS } from "../layout/asset";
import { UserError } from "../layout/user-error";
import type { Context } from "./operation";
import { OPERATIONS } from "./registry";
import { runEdit } from "./run";
import { resolveScope, ScopeQuery } from "./scope-query";

// The steps of an asset as a file: what was done since it came in, each with its options and what it acted on, so that
// the same can be done again on the file it came from, or on another.

const Step = z.object({
  operation: plainText(100, 1),
  options: z.unknown(),
  /** Null for a step that was made before this was kept. */
  scope: ScopeQuery.nullable(),
  /** What the step was called in History. */
  words: plainText(500),
});

export const HistoryFile = z.object({
  format: z.literal("tavlin-history"),
  version: z.literal(1),
  /** Name of the asset, and of the file it was brought in as. */
  asset: plainText(300),
  source: plainText(1000),
  /** The unit it was brought in with: many files hold none. */
  unit: z.enum(UNITS),
  steps: z.array(Step),
});
export type HistoryFile = z.infer<typeof HistoryFile>;

/** Reads a history. @throws UserError in a sentence that names it */
export function readHistory(text: string, name: string): HistoryFile {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    throw new UserError(`${name} is not JSON.`);
  }
  const parsed = HistoryFile.safeParse(raw);
  if (!parsed.success) throw new UserError(`${name} is not a history: ${schemaWords(parsed.error)}.`);
  return parsed.data;
}

/** The steps that need a file, in turn. */
export const stepsWithFiles = (history: HistoryFile): readonly string[] =>
  history.steps.filter((s) => operationOf(s.operation)?.needs === "file").map((s) => s.words);

const operationOf = (id: string) => OPERATIONS.find((op) => op.id === id);

/**
 * Does the steps of a history on an asset.
 *
 * @param files assets for the steps that need a file, in turn
 * @param onStep called with the words of every step that is done
 * @throws UserError naming the step that cannot be done
 */
export async function replay(
  asset: Asset,
  history: HistoryFile,
  files: readonly (readonly Asset[])[],
  context: Context,
  onStep: (words: string) => void,
): Promise<Asset> {
  let now: Asset = { ...asset, unit: history.unit };
  let imported = 0;
  for (const [i, { operation, options, scope, words }] of history.steps.entries()) {
    const stopped = (reason: string) => new UserError(`Step ${i + 1} (${words}) cannot be done: ${reason}`);
    const op = operationOf(operation);
    if (!op) throw stopped(`there is no operation ${operation}.`);
    if (!scope) throw stopped("it was made before steps kept what they acted on.");
    const beside = op.needs === "file" ? { imported: files[imported++] ?? [] } : {};
    try {
      const edited = await runEdit(now, operation, options, resolveScope(now, scope), { ...context, ...beside });
      now = edited.asset;
      onStep(edited.result.words);
    } catch (error) {
      if (error instanceof UserError) throw stopped(error.message);
      throw error;
    }
  }
  return now;
}
