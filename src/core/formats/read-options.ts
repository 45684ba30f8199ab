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

export const endingOf = (name: string): string => name.slice(name.lastIndexOf(".") + 1).toLowerCase();
export const baseName = (name: string): string =>
  name.slice(Math.max(name.lastIndexOf("/"), name.lastIndexOf("\\")) + 1);
export const stem = (name: string): string => baseName(name).replace(/\.[^.]*$/, "") || baseName(name);

/** The file a reference means: by its whole path, else by its name alone; the letters' case does not matter. */
export function findBeside(beside: readonly FileIn[] | undefined, reference: string): FileIn | undefined {
  const plain = reference
    .replaceAll("\\", "/")
    .replace(/^(\.\/)+/, "")
    .toLowerCase();
  return (
    beside?.find((f) => f.name.toLowerCase().endsWith(plain)) ??
    beside?.find((f) => baseName(f.name).toLowerCase() === baseName(plain))
  );
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
