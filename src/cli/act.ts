import type { Asset } from "../core/layout/asset";
import { UserError } from "../core/layout/user-error";
import type { AnyOperation, Scope } from "../core/operations/operation";
import { addFile, parseOptions } from "../core/operations/registry";
import { runEdit, runSelect } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { resolveScope, type ScopeQuery } from "../core/operations/scope-query";
import { contextFor } from "./context";
import { decoder, openFile, openImported, saveFile, writerFor } from "./files";
import { printFigures } from "./print-figures";
import type { Terminal } from "./terminal";

/** What is asked of an operation beside its own options. */
export interface Asked {
  readonly output?: string;
  /** Files whose parts are added before. */
  readonly with?: readonly string[];
  readonly json?: boolean;
  /** What it acts on, as SCOPES tells; everything when not given. */
  readonly scope?: string;
  /** Name of the UV set worked on; the first when not given. */
  readonly set?: string;
}

/** Ways to say a scope. */
export const SCOPES = "name:Lid,Rim · pattern:Ring* · group:Bed/Left · material:Wood";

/** The scope that words on the command line mean. @throws UserError for words that say none */
export function scopeOf(asset: Asset, words: string | undefined, set: string | undefined): Scope {
  const place = set === undefined ? 0 : asset.sets.findIndex((s) => s.name === set);
  if (place < 0)
    throw new UserError(`There is no UV set ${set}; there is ${asset.sets.map((s) => s.name).join(", ")}.`);
  return resolveScope(asset, { set: { name: asset.sets[place]!.name, place }, of: meant(words) });
}

function meant(words: string | undefined): ScopeQuery["of"] {
  if (words === undefined) return { by: "visible", hidden: [] };
  const [, by, rest] = /^(name|pattern|group|material):(.+)$/.exec(words) ?? [];
  const list = (separator: string) => rest!.split(separator).map((x) => x.trim());
  if (by === "name") return { by, names: list(",") };
  if (by === "pattern") return { by, pattern: rest! };
  if (by === "group") return { by, path: list("/") };
  if (by === "material") return { by, name: rest! };
  throw new UserError(`“${words}” says no scope; say it like ${SCOPES}.`);
}

/** An asset with the parts of other files beside its own. */
async function withParts(asset: Asset, paths: readonly string[]): Promise<Asset> {
  let all = asset;
  for (const path of paths) {
    const context = { progress: () => {}, wasm: decoder, imported: await openImported([path]) };
    all = (await runEdit(all, addFile.id, {}, everything(all), context)).asset;
  }
  return all;
}

/** Runs an operation on a file; further files are given to it. */
export async function act(
  op: AnyOperation,
  [file, ...others]: readonly string[],
  raw: Readonly<Record<string, unknown>>,
  { output, json, scope: words, set, with: added = [] }: Asked,
  terminal: Terminal,
): Promise<void> {
  const options = parseOptions(op, raw);
  if ((op.kind === "edit" || op.kind === "export") && output === undefined)
    throw new UserError(`${op.title} needs a file to write: -o OUT.`);
  if (op.kind === "edit") writerFor(output!);
  const needs = op.needs === "file";
  if (needs !== others.length > 0)
    throw new UserError(needs ? `${op.title} needs another file behind the first.` : `${op.title} takes one file.`);
  const asset = await withParts(await openFile(file!), added);
  const scope = scopeOf(asset, words, set);
  const imported = needs ? await openImported(others) : undefined;
  // Threads begin last: whatever is refused before would leave them running.
  const { context: plain, pool } = contextFor(asset, op.searches);
  const tell = (lines: readonly string[]) => {
    for (const line of lines) terminal.say(`${line}\n`);
  };
  const context = { ...plain, wasm: decoder, ...(imported ? { imported } : {}) };
  try {
    if (op.kind === "measure") {
      const figures = (await op.run(asset, scope, options, context)) as Record<string, unknown>;
      terminal.print(json ? `${JSON.stringify(figures)}\n` : printFigures(figures));
    } else if (op.kind === "select") {
      const { selection, parts, words: said } = await runSelect(asset, op.id, options, scope, context);
      const items = Object.fromEntries([...selection.items].map(([id, list]) => [id, [...list]]));
      terminal.print(json ? `${JSON.stringify({ kind: selection.kind, items, parts })}\n` : `${said}\n`);
    } else if (op.kind === "export") {
      tell(await saveFile(asset, output!, { writer: op.id, options, scope }));
    } else {
      const { asset: edited, result } = await runEdit(asset, op.id, options, scope, context);
      const whole = { ...edited, files: { ...edited.files, ...result.files } };
      tell(await saveFile(whole, output!, { set: result.target ?? scope.set }));
      tell([...result.notes.map((note) => note.words), result.words]);
    }
  } finally {
    pool?.dispose();
  }
}
