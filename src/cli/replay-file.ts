import { UserError } from "../core/layout/user-error";
import { readHistory, replay, stepsWithFiles } from "../core/operations/history-file";
import { contextFor } from "./context";
import { decoder, openFile, openImported, readFile, saveFile, writerFor } from "./files";
import type { Terminal } from "./terminal";

/** Does the steps of a saved history on a file; further files go to the steps that need one, in turn. */
export async function replayFile(
  [historyPath, file, ...others]: readonly string[],
  output: string,
  terminal: Terminal,
): Promise<void> {
  writerFor(output);
  const history = readHistory(new TextDecoder().decode(readFile(historyPath!)), historyPath!);
  const needing = stepsWithFiles(history);
  if (needing.length !== others.length)
    throw new UserError(
      needing.length
        ? `This history needs as many further files as it has steps that bring one, in turn: ${needing.join("; ")}.`
        : "No step of this history needs a further file.",
    );
  const asset = await openFile(file!);
  const imported = [];
  for (const path of others) imported.push(await openImported([path]));
  const { context, pool } = contextFor(asset);
  try {
    const report = (words: string) => terminal.say(`${words}\n`);
    const done = await replay(asset, history, imported, { ...context, wasm: decoder }, report);
    for (const warning of await saveFile(done, output)) report(warning);
  } finally {
    pool?.dispose();
  }
}
