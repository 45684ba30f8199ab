import type { Unit } from "../layout/asset";

/** A file as it was dropped, chosen or found in an archive: its name may hold folders, with forward slashes. */
export interface FileIn {
  readonly name: string;
  readonly bytes: Uint8Array;
}

export interface ReadOptions {
  readonly id?: string;
  readonly name: string;
  readonly unit?: Unit;
  /** Files that came along: materials, images, buffers. */
  readonly beside?: readonly FileIn[];
  /** Told the share that is read. @throws when reading is to stop */
  readonly progress?: (share: number) => void;
  /** Fetches a decoder that a compressed file needs. */
  readonly wasm?: (name: string) => Promise<Uint8Array>;
}

/** What the caller says of the asset itself. */
export const idAndUnit = ({ id, unit }: ReadOptions): { id?: string; unit?: Unit } => ({
  ...(id !== undefined ? { id } : {}),
  ...(unit !== undefined ? { unit } : {}),
});

export const endingOf = (name: string): string => name.slice(name.lastIndexOf(".") + 1).toLowerCase();
export const baseName = (name: string): string =>
  name.slice(Math.max(name.lastIndexOf("/"), name.lastIndexOf("\\")) + 1);
export const stem = (name: string): string => baseName(name).replace(/\.[^.]*$/, "") || baseName(name);

/** The folders of a path and its name, from the end, in small letters. */
const segmentsFromEnd = (path: string): string[] =>
  path
    .replaceAll("\\", "/")
    .toLowerCase()
    .split("/")
    .filter((s) => s && s !== "." && s !== "..")
    .reverse();

/**
 * The file a reference means: one of the same name, and of those the one that shares most folders with it. The case of
 * letters does not matter. A name never matches by its ending: "wood.png" does not mean "driftwood.png".
 */
export function findBeside(beside: readonly FileIn[] | undefined, reference: string): FileIn | undefined {
  const wanted = segmentsFromEnd(reference);
  let best: FileIn | undefined;
  let most = 0;
  for (const file of beside ?? []) {
    const segments = segmentsFromEnd(file.name);
    let shared = 0;
    while (shared < wanted.length && wanted[shared] === segments[shared]) shared++;
    if (shared > most) [best, most] = [file, shared];
  }
  return best;
}

const IMAGE_TYPES: Record<string, string> = {
  png: "image/png",
  jpg: "image/jpeg",
  jpeg: "image/jpeg",
  webp: "image/webp",
  gif: "image/gif",
  bmp: "image/bmp",
};

/** The type of an image that a browser can show, by the ending of its name. */
export const imageType = (name: string): string | undefined => IMAGE_TYPES[endingOf(name)];

/** The ending that files of a type have, with its dot; nothing for a type that is not known. */
export function imageEnding(type: string): string {
  const found = Object.keys(IMAGE_TYPES).find((ending) => IMAGE_TYPES[ending] === type);
  return found ? `.${found}` : "";
}
