import { readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { basename, dirname, extname, join } from "node:path";
import { readAsset } from "../core/formats/read-asset";
import type { Asset } from "../core/layout/asset";
import { UserError } from "../core/layout/user-error";
import { runExport } from "../core/operations/run";
import { everything } from "../core/operations/scope";

const quiet = { progress: () => {} };

export async function openFile(path: string): Promise<Asset> {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(path);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new UserError(code === "ENOENT" ? `There is no file ${path}.` : `${path} cannot be read (${code}).`);
  }
  return readAsset(bytes, { name: basename(path) });
}

/** Which export writes a file of this ending. */
const WRITERS: Record<string, string> = { ".obj": "export-obj", ".glb": "export-glb", ".svg": "sheet" };

export function writerFor(path: string): string {
  const writer = WRITERS[extname(path).toLowerCase()];
  if (!writer) throw new UserError(`${path}: files end in ${Object.keys(WRITERS).join(", ")}.`);
  return writer;
}

/** Writes an asset whole or not at all: to files beside their places, then renamed. */
export async function saveFile(asset: Asset, path: string, options: unknown = {}): Promise<void> {
  const named = { ...asset, name: basename(path, extname(path)) };
  const { files, warnings } = await runExport(named, writerFor(path), options, everything(named), quiet);
  const places = files.map((f, i) => ({ ...f, at: i === 0 ? path : join(dirname(path), f.name) }));
  const made: string[] = [];
  try {
    for (const { at, bytes } of places) {
      made.push(`${at}.part`);
      writeFileSync(`${at}.part`, bytes);
    }
    for (const { at } of places) renameSync(`${at}.part`, at);
    for (const words of warnings) process.stderr.write(`${words}\n`);
  } catch (error) {
    for (const file of made) rmSync(file, { force: true });
    throw new UserError(`${path} cannot be written (${(error as NodeJS.ErrnoException).code}).`);
  }
}
