import type { Asset } from "../layout/asset";
import { UserError } from "../layout/user-error";
import { readLayoutFile } from "./layout-file";
import { readObj } from "./obj-read";
import { readPly } from "./ply-read";
import { endingOf, type FileIn, type ReadOptions } from "./read-options";
import { checkReach, withCleanNames } from "./sanitize";
import { readStl } from "./stl-read";
import { leavesFolder, unzip } from "./unzip";

export type { FileIn } from "./read-options";

/** Endings of the files that hold a mesh, and of archives of them. */
export const MESH_ENDINGS = [".obj", ".glb", ".gltf", ".ply", ".stl"] as const;
export const READABLE = [...MESH_ENDINGS, ".zip"] as const;

/** Files that a desktop system puts into archives and folders for itself. */
const isSystemFile = (f: FileIn): boolean =>
  /(^|\/)(__MACOSX\/|\._|\.DS_Store$|Thumbs\.db$|desktop\.ini$)/i.test(f.name);

const isMesh = (f: FileIn): boolean => MESH_ENDINGS.some((e) => f.name.toLowerCase().endsWith(e));

/** Reads one file by its ending. @throws UserError with the reason, naming the line or element at fault */
export async function readAsset(bytes: Uint8Array, options: ReadOptions): Promise<Asset> {
  return withCleanNames(checkReach(await readByEnding(bytes, options), options.name));
}

async function readByEnding(bytes: Uint8Array, options: ReadOptions): Promise<Asset> {
  switch (endingOf(options.name)) {
    case "obj":
      return readObj(bytes, options);
    case "ply":
      return readPly(bytes, options);
    case "stl":
      return readStl(bytes, options);
    case "glb":
    case "gltf":
      return (await import("./gltf/read")).readGltf(bytes, options);
  }
  throw new UserError(`${options.name} is of a kind that cannot be opened; bring ${READABLE.join(", ")}.`);
}

/**
 * Reads files that were dropped together: archives are unpacked, every mesh becomes an asset, the other files are at
 * hand for them.
 *
 * @throws UserError with the reason; nothing is half read
 */
export async function readAssets(
  files: readonly FileIn[],
  options: Pick<ReadOptions, "progress" | "wasm"> = {},
): Promise<Asset[]> {
  for (const f of files) {
    if (leavesFolder(f.name)) throw new UserError(`“${f.name.slice(0, 60)}” is not a plain file name.`);
    if (!f.bytes.length) throw new UserError(`${f.name} is empty.`);
  }
  const all = files
    .flatMap((f) => (endingOf(f.name) === "zip" ? unzip(f.bytes, f.name) : [f]))
    .filter((f) => !isSystemFile(f));
  const meshes = all.filter(isMesh);
  if (!meshes.length) {
    const what = files.length === 1 ? `${files[0]!.name} is of a kind that` : "None of these files";
    throw new UserError(
      files.length === 1 && endingOf(files[0]!.name) === "zip"
        ? `${files[0]!.name} holds no mesh: it needs one of ${MESH_ENDINGS.join(", ")}.`
        : `${what} ${files.length === 1 ? "cannot" : "can"} be opened; bring ${READABLE.join(", ")}.`,
    );
  }
  const out: Asset[] = [];
  for (const [i, mesh] of meshes.entries())
    out.push(
      await readAsset(mesh.bytes, {
        name: mesh.name,
        beside: all,
        ...(options.wasm ? { wasm: options.wasm } : {}),
        progress: (share) => options.progress?.((i + share) / meshes.length),
      }),
    );
  return out;
}

/** Reads the files given to an operation: a mesh, or a layout written alone. */
export async function readImported(
  files: readonly FileIn[],
  options: Pick<ReadOptions, "progress" | "wasm"> = {},
): Promise<Asset[]> {
  const layout = files.find((f) => endingOf(f.name) === "json");
  return layout ? [readLayoutFile(layout.bytes, { name: layout.name })] : readAssets(files, options);
}
