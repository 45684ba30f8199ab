import { readFileSync } from "node:fs";
import { findings } from "../core/check/findings";
import { partsOf } from "../core/check/report";
import { schemaWords } from "../core/formats/schema-words";
import { RULES, Rules } from "../core/layout/rules";
import { UserError } from "../core/layout/user-error";
import { mendOfFinding } from "../core/operations/registry";
import { openFile } from "./files";
import type { Terminal } from "./terminal";

/** Exit code when the layout falls short, so that a pipeline can tell that from a failure. */
export const FALLS_SHORT = 3;

function readRules(path: string): Rules {
  let raw: unknown;
  try {
    raw = JSON.parse(readFileSync(path, "utf8"));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === "ENOENT") throw new UserError(`There is no file ${path}.`);
    throw new UserError(code ? `${path} cannot be read (${code}).` : `${path} is not JSON.`);
  }
  const rules = Rules.safeParse(raw);
  if (!rules.success) throw new UserError(`${path} cannot be used: ${schemaWords(rules.error)}.`);
  return rules.data;
}

/** Checks every written UV set of a file's asset against the rules; returns how the process should end. */
export async function checkFile(
  file: string,
  flags: { rules?: string; json?: boolean },
  terminal: Terminal,
): Promise<number> {
  const rules = flags.rules === undefined ? RULES : readRules(flags.rules);
  const asset = await openFile(file);
  const bySet = asset.sets.map((set) => ({
    set: set.name,
    findings: findings(asset, set.id, rules).map((f) => ({ ...f, repair: mendOfFinding(f.kind)?.id })),
  }));
  if (flags.json) terminal.print(`${JSON.stringify({ file, rules, sets: bySet })}\n`);
  else
    for (const { set, findings: found } of bySet) {
      terminal.print(`${set}: ${found.length ? `${found.length} to look at` : "all well"}\n`);
      for (const f of found) terminal.print(`  ${f.words}${partsOf(asset, f.shells)}.\n`);
    }
  return bySet.some((s) => s.findings.length) ? FALLS_SHORT : 0;
}
