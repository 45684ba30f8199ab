import type { Asset } from "../layout/asset";
import { UserError } from "../layout/user-error";
import { type ReadOptions, readObj } from "./obj-read";

/** Endings of the files that can be opened. */
export const READABLE = [".obj", ".glb", ".gltf"] as const;

/** Reads a file by its ending. @throws UserError with the reason, naming the line or element at fault */
export async function readAsset(bytes: Uint8Array, options: ReadOptions): Promise<Asset> {
  const ending = options.name.slice(options.name.lastIndexOf(".")).toLowerCase();
  if (ending === ".obj") return readObj(bytes, options);
  if (ending === ".glb" || ending === ".gltf") return (await import("./glb")).readGltf(bytes, options);
  throw new UserError(`${options.name} is of a kind that cannot be opened; bring ${READABLE.join(", ")}.`);
}
