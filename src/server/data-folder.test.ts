import { type ChildProcess, spawn } from "node:child_process";
import { cpSync, mkdirSync, readdirSync, rmSync, utimesSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { countedEdits } from "../testing/counted-edits";
import { databaseFolder, removeFolders, testFolder } from "../testing/storage";
import { tearAt } from "../testing/tear";
import { processSpace } from "./data-folder";
import { openDatabase } from "./database";

const root = join(import.meta.dirname, "..", "..");
const made = (name: string) => join(root, "test-results", `${name}.mjs`);

/** Programs of the tests, each made one file first: starting from source would take longer than what they do. */
beforeAll(async () => {
  const common = { bundle: true, platform: "node", format: "esm", packages: "external", logLevel: "error" } as const;
  for (const name of ["write-until-killed", "take-folder"])
    await build({ ...common, entryPoints: [join(root, "e2e", `${name}.ts`)], outfile: made(name) });
});
/** The database is compiled as it is used and no better than that: these programs live for less than a second. */
const QUICK_START = ["--liftoff-only", "--wasm-lazy-compilation"];
const children = new Set<ChildProcess>();
afterAll(() => {
  for (const child of children) child.kill("SIGKILL");
  removeFolders();
});

/** Starts a program and hands out the lines it prints. */
function start(name: string, args: readonly string[], line: (words: string[], kill: () => void) => void) {
  const child = spawn(process.execPath, [...QUICK_START, made(name), ...args]);
  children.add(child);
  let wrong = "";
  let rest = "";
  child.stderr.on("data", (text: Buffer) => {
    wrong += text.toString();
  });
  child.stdout.on("data", (text: Buffer) => {
    const lines = (rest + text.toString()).split("\n");
    rest = lines.pop()!;
    for (const l of lines) line(l.split(" "), () => child.kill("SIGKILL"));
  });
  return new Promise<string>((resolve) => child.on("exit", () => resolve(wrong)));
}

describe("the data folder", () => {
  it("is refused to a second process, in a sentence", async () => {
    const path = testFolder();
    const other = spawn(process.execPath, ["-e", "setTimeout(() => {}, 60000)"]);
    writeFileSync(join(path, "lock"), String(other.pid));
    await expect(openDatabase(path)).rejects.toThrow(/in use by process \d+; stop it, or set TAVLIN_DATA/);
    other.kill();
  });

  it("is taken over from a process whose number somebody else has now", async () => {
    const path = databaseFolder();
    const lock = { id: "gone", pid: process.ppid, started: "1", space: processSpace() };
    writeFileSync(join(path, "lock"), JSON.stringify(lock));
    await (await openDatabase(path)).close();
  });

  it("is believed to be taken by another machine or container for as long as that touches its lock", async () => {
    const path = databaseFolder();
    const lock = { id: "elsewhere", pid: 1, started: "1", space: "another" };
    writeFileSync(join(path, "lock"), JSON.stringify(lock));
    await expect(openDatabase(path)).rejects.toThrow("in use by process 1");
    utimesSync(join(path, "lock"), 1, 1);
    await (await openDatabase(path)).close();
  });

  it("says in a sentence that it cannot be written", async () => {
    const path = join(testFolder(), "file");
    writeFileSync(path, "x");
    await expect(openDatabase(path)).rejects.toThrow(/The data folder .* cannot be written \(E[A-Z]+\)/);
  });

  it("opens though a kill has left the file empty by which the database in it knows its process", async () => {
    const path = databaseFolder();
    writeFileSync(join(path, "db", "postmaster.pid"), "");
    await (await openDatabase(path)).close();
  });

  it("is taken by one of four that start at once on what a kill left behind", async () => {
    for (let round = 0; round < 4; round++) {
      const path = testFolder();
      mkdirSync(path, { recursive: true });
      writeFileSync(join(path, "lock"), "4000000");
      let holders = 0;
      let told = 0;
      await Promise.all(
        [0, 1, 2, 3].map(() =>
          start("take-folder", [path], ([word], kill) => {
            told++;
            if (word === "taken") holders++;
            const wait = setInterval(() => {
              if (told < 4) return;
              clearInterval(wait);
              kill();
            }, 5);
          }),
        ),
      );
      expect([told, holders]).toEqual([4, 1]);
      expect(readdirSync(path).filter((f) => f !== "lock" && !f.startsWith("lock-"))).toEqual([]);
    }
  }, 60_000);

  /** Writes to some folders until some edits are saved in each, dies at a moment of chance, and tells what it knew. */
  async function killedWriter(paths: readonly string[], wanted: number) {
    const found = new Map<number, [number, number]>();
    const saved = new Map<number, number>();
    let killing = false;
    const wrong = await start("write-until-killed", paths, ([name, place, value, u], kill) => {
      const i = Number(place);
      if (name === "found") found.set(i, [Number(value), Number(u)]);
      if (name === "saved") saved.set(i, Number(value));
      const enough = paths.every((_, k) => (saved.get(k) ?? -1) >= (found.get(k)?.[0] ?? Infinity) + wanted);
      if (!enough || killing) return;
      killing = true;
      // A little later than told, so that it dies in the midst of a write as often as between two.
      setTimeout(kill, Math.random() * 20);
    });
    if (found.size < paths.length) throw new Error(`The writer did not start: ${wrong}`);
    return { found, saved };
  }

  it("comes back with every acknowledged edit, killed 8 times", async () => {
    // Four folders to a process: a kill ends four writers at once, and starting one takes longer than what it does.
    const paths = Array.from({ length: 4 }, () => databaseFolder());
    const acknowledged = new Map<number, number>();
    for (let round = 0; round < 2; round++) {
      const { found, saved } = await killedWriter(paths, 1 + round);
      for (const [i, [version, point]] of found) {
        expect(version).toBeGreaterThanOrEqual(acknowledged.get(i) ?? 0);
        expect(point).toBe(version); // the writer's nth edit puts the first point at n
        acknowledged.set(i, saved.get(i)!);
      }
    }
  }, 200_000);

  /** Copies a folder as a kill would leave it: a lock is there, of a process that is not. */
  function copyAsLeft(from: string, to: string): void {
    cpSync(from, to, { recursive: true });
    writeFileSync(join(to, "lock"), "4000000");
  }

  it("comes back with every acknowledged edit from files torn in the midst of 14 changes, one after another", async () => {
    let folder = databaseFolder();
    let acknowledged = 0;
    const first = Math.floor(Math.random() * 200);
    for (let round = 0; round < 14; round++) {
      const next = testFolder();
      let saved = acknowledged;
      let torn = false;
      const tear = () => {
        copyAsLeft(folder, next);
        acknowledged = saved;
        torn = true;
      };
      // Every other time while it is opened, which mends what was torn before, or soon after that.
      const opening = round % 2 === 1;
      // The places are spread evenly, from another one in every run; those among edits are every other of 20.
      const place = 1 + ((first + 37 * (round >> 1)) % (opening ? 200 : 20));
      let letGo = opening ? tearAt(place, tear) : () => {};
      const db = await openDatabase(folder);
      try {
        const edits = await countedEdits(db);
        expect([edits.version >= saved, edits.point], `first ${first}, round ${round}`).toEqual([true, edits.version]);
        saved = edits.version;
        if (!opening) letGo = tearAt(place, tear);
        for (let n = saved + 1; !torn; n++) {
          await edits.save(n);
          saved = n;
          // Writes what was put off until now into the files of the tables.
          if (n % 3 === 0) await db.query("checkpoint");
        }
      } finally {
        letGo();
        await db.close();
      }
      rmSync(folder, { recursive: true });
      folder = next;
    }
    expect(acknowledged).toBeGreaterThan(3);
  }, 200_000);
});
