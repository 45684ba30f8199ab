import { randomUUID } from "node:crypto";
import {
  linkSync,
  mkdirSync,
  readFileSync,
  readlinkSync,
  rmdirSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from "node:fs";
import { join, resolve } from "node:path";
import { z } from "zod";
import { UserError } from "../core/layout/user-error";

/** The folder with all data: TAVLIN_DATA, or .tavlin in the folder the program was started in. */
export const dataFolder = (): string => resolve(/* turbopackIgnore: true */ process.env.TAVLIN_DATA ?? ".tavlin");

/** Who has a folder: a process by its number and start, in the space that gives out the numbers (a container has its own). */
const Owner = z.object({ id: z.string(), pid: z.number(), started: z.string(), space: z.string() });
type Owner = z.infer<typeof Owner>;

/** A lock of another machine or container is believed for so long after it was last touched. */
const BELIEVED = 30_000;
const TOUCH_EVERY = 5_000;

const readOr = (read: () => string, other: string): string => {
  try {
    return read();
  } catch {
    return other;
  }
};

/** When a process started, in ticks since boot; numbers are given out again, this tells whose it is. Linux only. */
const startOf = (pid: number): string =>
  readOr(
    () =>
      readFileSync(`/proc/${pid}/stat`, "utf8")
        .replace(/^.*\) /s, "")
        .split(" ")[19]!,
    "",
  );

/** The space of process numbers that this process lives in. */
export const processSpace = (): string =>
  readOr(() => readFileSync("/proc/sys/kernel/random/boot_id", "utf8").trim(), "") +
  readOr(() => readlinkSync("/proc/self/ns/pid"), "");

function lives(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "EPERM";
  }
}

function isAlive(owner: Owner, file: string): boolean {
  if (owner.space === processSpace())
    return lives(owner.pid) && (!owner.started || owner.started === startOf(owner.pid));
  // Its processes cannot be seen from here: it touches its lock as long as it lives.
  return Date.now() - statSync(file).mtimeMs < BELIEVED;
}

/** The owner of a lock; of a lock that an older version wrote, only the process. Null when there is none any more. */
function ownerOf(file: string): Owner | null {
  let text: string;
  try {
    text = readFileSync(file, "utf8");
  } catch {
    return null;
  }
  const parsed = Owner.safeParse(readJson(text));
  if (parsed.success) return parsed.data;
  const pid = Number(text);
  return {
    id: `process-${text.trim().slice(0, 20) || "none"}`,
    pid: pid > 0 ? pid : 0,
    started: "",
    space: processSpace(),
  };
}

function readJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/**
 * Folders this process has taken, each with the name it put in the lock; kept outside the bundle's modules, which a
 * server may load more than once.
 */
const shared = globalThis as typeof globalThis & { tavlinFolders?: Map<string, string> };
shared.tavlinFolders ??= new Map();
const taken = shared.tavlinFolders;
const lockOf = (folder: string) => join(folder, "lock");

/** Locks that are still this process's own. */
function* heldLocks(): Generator<string> {
  for (const [folder, id] of taken) if (ownerOf(lockOf(folder))?.id === id) yield lockOf(folder);
}

function keepTouching(): void {
  const touch = setInterval(() => {
    const now = new Date();
    for (const file of heldLocks()) utimesSync(file, now, now);
  }, TOUCH_EVERY);
  touch.unref();
  process.once("exit", () => {
    for (const file of heldLocks()) rmSync(file, { force: true });
  });
}

/**
 * Takes the folder for this process: the database in it does not guard itself against a second one. The lock of a
 * process that no longer lives is taken over, by one only of those that try.
 *
 * @throws UserError naming the process that has it, or why the folder cannot be written
 */
export function lockFolder(folder: string): void {
  if (taken.has(folder)) return;
  const me: Owner = { id: randomUUID(), pid: process.pid, started: startOf(process.pid), space: processSpace() };
  const mine = join(folder, `lock-${me.id}`);
  try {
    mkdirSync(folder, { recursive: true });
    writeFileSync(mine, JSON.stringify(me));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new UserError(
      code === "ENOSPC"
        ? `The disk with the data folder ${folder} is full; make room and start again.`
        : `The data folder ${folder} cannot be written (${code}).`,
    );
  }
  try {
    take(folder, mine);
  } finally {
    rmSync(mine, { force: true });
  }
  if (!taken.size) keepTouching();
  taken.set(folder, me.id);
}

/** Puts the own lock in place. Linking is whole or not at all: nobody reads a lock that is half written. */
function take(folder: string, mine: string): void {
  const file = lockOf(folder);
  for (let tries = 0; tries < 100; tries++) {
    try {
      linkSync(mine, file);
      return;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
    }
    const owner = ownerOf(file);
    if (!owner) continue;
    if (owner.pid && isAlive(owner, file))
      throw new UserError(
        `The data folder ${folder} is in use by process ${owner.pid}; stop it, or set TAVLIN_DATA to another folder.`,
      );
    removeStale(folder, file, owner);
  }
  throw new UserError(`The data folder ${folder} cannot be taken; try again.`);
}

/** Removes the lock of one dead owner. A folder by that owner's name lets one of those that try do so, and only once. */
function removeStale(folder: string, file: string, owner: Owner): void {
  const right = join(folder, `lock-of-${owner.id}`);
  try {
    mkdirSync(right);
  } catch {
    // Somebody else is at it. Whoever died at it leaves the folder behind: after a while it is anybody's again.
    const left = readOr(() => String(Date.now() - statSync(right).mtimeMs), "0");
    if (Number(left) > 2000) rmSync(right, { recursive: true, force: true });
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
    return;
  }
  if (ownerOf(file)?.id === owner.id) rmSync(file, { force: true });
  rmdirSync(right);
}
