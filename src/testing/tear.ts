import fs from "node:fs";

/** What the database calls to change its files. */
const CHANGES = ["writeSync", "openSync", "ftruncateSync", "renameSync", "unlinkSync"] as const;
/** Opening a file changes something when it may make one: the flag is POSIX's O_CREAT, as a number or a letter. */
const changes = (name: string, [, flags]: readonly unknown[]): boolean =>
  name !== "openSync" ||
  (typeof flags === "number" ? (flags & fs.constants.O_CREAT) !== 0 : /[aw]/.test(String(flags)));
type Call = (...args: unknown[]) => unknown;

/**
 * Calls `torn` once, in the midst of the nth change that this process makes to files from now on. Of a write half the
 * bytes are there by then; nothing of any other change. What the files hold at that moment is what they hold when the
 * process is killed there: the system keeps what it was given. Whatever is left of the change is done afterwards.
 *
 * @returns lets go of the files' functions; to be called when done, torn or not
 */
export function tearAt(nth: number, torn: () => void): () => void {
  const functions = fs as unknown as Record<string, Call>;
  const real = CHANGES.map((name) => [name, functions[name]!] as const);
  let left = nth;
  for (const [name, call] of real)
    functions[name] = (...args) => {
      if (!changes(name, args) || --left !== 0) return call(...args);
      if (name !== "writeSync") {
        torn();
        return call(...args);
      }
      const [file, bytes, offset, length, position] = args as [number, Uint8Array, number, number, number | undefined];
      const half = length >> 1;
      if (half) call(file, bytes, offset, half, position);
      torn();
      call(file, bytes, offset + half, length - half, position === undefined ? position : position + half);
      return length;
    };
  return () => {
    for (const [name, call] of real) functions[name] = call;
  };
}
