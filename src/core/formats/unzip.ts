import { Unzip, UnzipInflate, UnzipPassThrough } from "fflate";
import { UserError } from "../layout/user-error";
import type { FileIn } from "./read-options";

/** What an archive may unpack to. */
export const MOST_UNPACKED = 1024 * 1024 * 1024;
export const MOST_ENTRIES = 10_000;

/** Meshes and images shrink to a tenth at best. What shrinks further than this is made to fill the memory. */
const MOST_RATIO = 50;
/** Archives that unpack to less than this may be as tight as they like. */
const ALWAYS_ALLOWED = 64 * 1024 * 1024;

/** Whether a name leads out of the folder it is unpacked in. */
export const leavesFolder = (name: string): boolean =>
  name.includes("\0") || /^([a-z]:)?[\\/]/i.test(name) || name.split(/[\\/]/).includes("..");

const mostFor = (size: number): number => Math.min(MOST_UNPACKED, Math.max(ALWAYS_ALLOWED, MOST_RATIO * size));

/**
 * Unpacks a zip archive piece by piece, so that one that unpacks beyond the limit is refused before it takes the memory.
 *
 * @throws UserError with the reason
 */
export function unzip(bytes: Uint8Array, name: string, most = mostFor(bytes.length)): FileIn[] {
  const bad = (why: string) => new UserError(`${name} cannot be unpacked: ${why}.`);
  const out: FileIn[] = [];
  let total = 0;
  let entries = 0;
  let open = 0;
  let fault: UserError | null = null;
  const unpacker = new Unzip((file) => {
    if (fault) return;
    entries++;
    if (entries > MOST_ENTRIES) fault = bad(`it holds more than ${MOST_ENTRIES} files`);
    else if (leavesFolder(file.name)) fault = bad(`“${file.name.slice(0, 60)}” leads out of its folder`);
    if (fault || file.name.endsWith("/")) return;
    const pieces: Uint8Array[] = [];
    let size = 0;
    open++;
    file.ondata = (error, piece, final) => {
      if (error) fault ??= bad("it is damaged");
      if (fault || error) return;
      size += piece.length;
      total += piece.length;
      if (total > most) {
        fault = bad(`it unpacks to more than ${Math.round(most / 2 ** 20)} MB`);
        file.terminate();
        return;
      }
      pieces.push(piece);
      if (!final) return;
      open--;
      const whole = new Uint8Array(size);
      let at = 0;
      for (const p of pieces) {
        whole.set(p, at);
        at += p.length;
      }
      out.push({ name: file.name.replaceAll("\\", "/"), bytes: whole });
    };
    file.start();
  });
  unpacker.register(UnzipInflate);
  unpacker.register(UnzipPassThrough);
  try {
    const step = 64 * 1024;
    for (let at = 0; at < bytes.length && !fault; at += step)
      unpacker.push(bytes.subarray(at, at + step), at + step >= bytes.length);
  } catch {
    fault ??= bad("it is damaged or of a kind that is not known");
  }
  if (fault) throw fault;
  if (open || !entries) throw bad(entries ? "it ends too early" : "it is empty or no zip archive");
  return out;
}
