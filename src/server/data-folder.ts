import { closeSync, existsSync, mkdirSync, openSync, readFileSync, rmSync, writeSync } from "node:fs";
import { join, resolve } from "node:path";
import { UserError } from "../core/layout/user-error";

/** The folder with all data: TAVLIN_DATA, or .tavlin in the folder the program was started in. */
export const dataFolder = (): string => resolve(process.env.TAVLIN_DATA ?? ".tavlin");

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "EPERM";
  }
}

/**
 * Takes the folder for this process: the database in it does not guard itself against a second one. The lock of a
 * process that no longer lives is taken over.
 *
 * @throws UserError naming the process that has it
 */
export function lockFolder(folder: string): void {
  mkdirSync(folder, { recursive: true });
  const file = join(folder, "lock");
  for (let tries = 0; tries < 3; tries++) {
    try {
      const handle = openSync(file, "wx");
      writeSync(handle, String(process.pid));
      closeSync(handle);
      process.once("exit", () => rmSync(file, { force: true }));
      return;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
      const owner = existsSync(file) ? Number(readFileSync(file, "utf8")) : 0;
      if (owner === process.pid) return;
      if (owner > 0 && isAlive(owner))
        throw new UserError(
          `The data folder ${folder} is in use by process ${owner}; stop it, or set TAVLIN_DATA to another folder.`,
        );
      rmSync(file, { force: true });
    }
  }
  throw new UserError(`The data folder ${folder} cannot be taken; try again.`);
}
