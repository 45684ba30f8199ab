import { readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { basename, dirname, extname, join } from "node:path";
import { type FileIn, readAsset, readAssets, readImported } from "../core/formats/read-asset";
import { endingOf } from "../core/formats/read-options";
import type { Asset, UvSetId } from "../core/layout/asset";
import { UserError } from "../core/layout/user-error";
import type { Scope } from "../core/operations/operation";
import { OPERATIONS } from "../core/operations/registry";
import { runExport } from "../core/operations/run";
import { everything } from "../core/operations/scope";

const quiet = { progress: () => {}, wasm: (name: string) => decoder(name) };

/** The bytes of a file. @throws UserError where there is none */
export function readFile(path: string): Uint8Array {
  try {
    // A pipe or a folder would be waited for, or fail without saying why.
    if (!statSync(path).isFile()) throw new UserError(`${path} is not a file.`);
    return new Uint8Array(readFileSync(path));
  } catch (error) {
    if (error instanceof UserError) throw error;
    const { code } = error as NodeJS.ErrnoException;
    throw new UserError(code === "ENOENT" ? `There is no file ${path}.` : `${path} cannot be read (${code}).`);
  }
}

export async function openFile(path: string): Promise<Asset> {
  const bytes = readFile(path);
  const name = basename(path);
  if (endingOf(name) !== "zip") return readAsset(bytes, { name, beside: filesBeside(path), wasm: decoder });
  const found = await readAssets([{ name, bytes }], { wasm: decoder });
  if (found.length > 1) throw new UserError(`${path} holds ${found.length} meshes; unpack it and give one of them.`);
  return found[0]!;
}

/** The files given to an operation, read together. */
export const openImported = (paths: readonly string[]): Promise<Asset[]> =>
  readImported(
    paths.map((path) => ({ name: basename(path), bytes: readFile(path) })),
    { wasm: decoder },
  );

/** What reads compressed files and images, out of its packages. */
const DECODERS = new Map([
  ["draco", "draco3dgltf/draco_decoder_gltf.wasm"],
  ["png", "@jsquash/png/codec/pkg/squoosh_png_bg.wasm"],
  ["jpeg", "@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm"],
]);

export async function decoder(name: string): Promise<Uint8Array> {
  const path = DECODERS.get(name);
  if (!path) throw new Error(`There is no decoder ${name}.`);
  return readFileSync(createRequire(import.meta.url).resolve(path));
}

/** Files beside one, and in the folders beside it: materials, images, buffers. Each is read when it is asked for. */
function filesBeside(path: string): FileIn[] {
  const folder = dirname(path);
  const within = (at: string, prefix: string, deep: boolean): FileIn[] =>
    readdirSync(at, { withFileTypes: true }).flatMap((entry) => {
      const place = join(at, entry.name);
      // What a link leads to counts; one that leads nowhere, and what is neither file nor folder, is not there.
      const target = statSync(place, { throwIfNoEntry: false });
      if (target?.isDirectory()) return deep ? within(place, `${prefix}${entry.name}/`, false) : [];
      if (!target?.isFile()) return [];
      return {
        name: prefix + entry.name,
        get bytes() {
          return new Uint8Array(readFileSync(place));
        },
      };
    });
  return within(folder, "", true);
}

/** The export that writes files of this ending. @throws UserError */
export function writerFor(path: string): string {
  const ending = extname(path).toLowerCase();
  const writer = OPERATIONS.find((op) => op.ending === ending);
  if (writer) return writer.id;
  throw new UserError(`${path}: files end in ${OPERATIONS.flatMap((op) => op.ending ?? []).join(", ")}.`);
}

/** How a file is to be written: by which export, and of what; by its ending and all of the first set when not said. */
interface Writing {
  readonly writer?: string;
  readonly options?: unknown;
  readonly scope?: Scope;
  readonly set?: UvSetId;
}

/** Writes an asset whole or not at all: to files beside their places, then renamed. */
export async function saveFile(asset: Asset, path: string, how: Writing = {}): Promise<readonly string[]> {
  const named = { ...asset, name: basename(path, extname(path)) };
  const { writer = writerFor(path), options = {}, scope = everything(named, how.set) } = how;
  const { files, warnings } = await runExport(named, writer, options, scope, quiet);
  const ending = endingOf(files[0]!.name);
  if (endingOf(path) !== ending) throw new UserError(`This is written as .${ending}: give a name that ends so.`);
  const places = files.map((f, i) => ({ ...f, at: i === 0 ? path : join(dirname(path), f.name) }));
  const made: string[] = [];
  try {
    for (const { at, bytes } of places) {
      made.push(`${at}.part`);
      writeFileSync(`${at}.part`, bytes);
    }
    for (const { at } of places) renameSync(`${at}.part`, at);
    return warnings;
  } catch (error) {
    for (const file of made) rmSync(file, { force: true });
    throw new UserError(`${path} cannot be written (${(error as NodeJS.ErrnoException).code}).`);
  }
}
