import { spawn } from "node:child_process";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "vitest";

/** A program that starts another, which is to end with it; both say their numbers. */
const CHILD = `
  const { endWithParent } = await import(${JSON.stringify(fileURLToPath(new URL("./end-with-parent.ts", import.meta.url)))});
  endWithParent();
  process.stdout.write("child " + process.pid + "\\n");
  setInterval(() => {}, 1000);
`;
const PARENT = `
  const { spawn } = require("node:child_process");
  const env = { ...process.env, TAVLIN_PARENT: String(process.pid) };
  spawn(process.execPath, ["--import", "tsx", "--input-type=module", "--eval", ${JSON.stringify(CHILD)}], { env, stdio: ["ignore", "inherit", "inherit"] });
  setInterval(() => {}, 1000);
`;

const lives = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

describe("the server", () => {
  it("ends when the program that started it is killed, so that the next may have the data folder", async () => {
    const parent = spawn(process.execPath, ["--eval", PARENT], { stdio: ["ignore", "pipe", "inherit"] });
    const pid = await new Promise<number>((resolve) => {
      let said = "";
      parent.stdout.on("data", (piece) => {
        said += piece;
        const found = /child (\d+)\n/.exec(said);
        if (found) resolve(Number(found[1]));
      });
    });
    expect(lives(pid)).toBe(true);
    parent.kill("SIGKILL");
    const gone = async () => {
      for (let tries = 0; tries < 100 && lives(pid); tries++) await new Promise((r) => setTimeout(r, 100));
      return !lives(pid);
    };
    expect(await gone()).toBe(true);
  });
});
