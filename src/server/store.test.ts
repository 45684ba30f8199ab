import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { assemble, lathe } from "../../demo/kit";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { openDatabase } from "./database";
import {
  appendRevision,
  Conflict,
  createAsset,
  deleteAsset,
  listAssets,
  loadAsset,
  renameAsset,
  stepHistory,
} from "./store";

const folders: string[] = [];
const folder = () => {
  const path = mkdtempSync(join(tmpdir(), "tavlin-test-"));
  folders.push(path);
  return path;
};
afterAll(() => {
  for (const f of folders) rmSync(f, { recursive: true, force: true });
});

const quiet = { progress: () => {} };
const drum = () =>
  assemble(
    "Drum",
    "cm",
    [],
    [
      {
        name: "Drum",
        shape: lathe(
          [
            [1, 0],
            [1, 1],
          ],
          8,
        ),
      },
    ],
  );

const edit = async (asset: ReturnType<typeof drum>, id: string, options: unknown = {}) =>
  (await runEdit(asset, id, options, everything(asset), quiet)).result;

describe("storage", () => {
  it("keeps assets, revisions, undo and redo, and refuses an old base", async () => {
    const db = await openDatabase(folder());
    const id = await createAsset(db, drum());
    const first = await loadAsset(db, id);
    expect(first.asset.parts[0]!.mesh.positions).toEqual(drum().parts[0]!.mesh.positions);
    expect(first.history).toEqual({ version: 0, head: 0, undo: null, redo: null });

    const cut = await edit(first.asset, "creased");
    const one = await appendRevision(db, id, {
      base: 0,
      operation: "creased",
      options: {},
      words: cut.words,
      figures: null,
      changes: cut.changes,
    });
    expect(one).toMatchObject({ version: 1, head: 1, undo: cut.words, redo: null });
    const overtaken = appendRevision(db, id, {
      base: 0,
      operation: "creased",
      options: {},
      words: "late",
      figures: null,
      changes: cut.changes,
    });
    await expect(overtaken).rejects.toBeInstanceOf(Conflict);
    expect((await loadAsset(db, id)).asset.parts[0]!.uvSets[0]).toEqual(cut.changes[0]!.layout);

    const undone = await stepHistory(db, id, 1, "undo");
    expect(undone.history).toMatchObject({ version: 2, head: 0, redo: cut.words });
    expect(undone.changes[0]!.layout).toEqual(first.asset.parts[0]!.uvSets[0]);
    await expect(stepHistory(db, id, 2, "undo")).rejects.toThrow("nothing to undo");
    const redone = await stepHistory(db, id, 2, "redo");
    expect(redone.changes[0]!.layout).toEqual(cut.changes[0]!.layout);

    await renameAsset(db, id, "Tall drum");
    expect((await listAssets(db)).map((a) => [a.name, a.parts])).toEqual([["Tall drum", 1]]);
    await deleteAsset(db, id);
    expect((await db.query("select 1 from blobs")).rows).toHaveLength(0);
    await expect(loadAsset(db, id)).rejects.toThrow("no longer there");
    await db.close();
  });

  it("writes only what an edit changed", async () => {
    const db = await openDatabase(folder());
    const id = await createAsset(db, drum());
    const blobs = async () => (await db.query<{ n: number }>("select count(*)::int as n from blobs")).rows[0]!.n;
    const before = await blobs();
    const { asset } = await loadAsset(db, id);
    const cut = await edit(asset, "creased");
    await appendRevision(db, id, {
      base: 0,
      operation: "creased",
      options: {},
      words: "x",
      figures: null,
      changes: cut.changes,
    });
    expect((await blobs()) - before).toBeLessThanOrEqual(3); // cut, uv, pinned; mapped is as it was
    await db.close();
  });

  it("refuses an edit that does not fit the mesh", async () => {
    const db = await openDatabase(folder());
    const id = await createAsset(db, drum());
    const { asset } = await loadAsset(db, id);
    const layout = { ...asset.parts[0]!.uvSets[0]!, uv: new Float64Array(4) };
    const bad = appendRevision(db, id, {
      base: 0,
      operation: "cut",
      options: {},
      words: "x",
      figures: null,
      changes: [{ part: "p1", set: 0, layout }],
    });
    await expect(bad).rejects.toThrow("does not fit together");
    expect((await loadAsset(db, id)).history.version).toBe(0);
    await db.close();
  });

  it("is refused to a second process, in a sentence", async () => {
    const path = folder();
    const other = spawn(process.execPath, ["-e", "setTimeout(() => {}, 60000)"]);
    writeFileSync(join(path, "lock"), String(other.pid));
    await expect(openDatabase(path)).rejects.toThrow(/in use by process \d+; stop it, or set TAVLIN_DATA/);
    other.kill();
  });

  it("comes back with every acknowledged edit after the process is killed", async () => {
    const path = folder();
    const script = join(import.meta.dirname, "..", "..", "e2e", "write-until-killed.ts");
    for (let round = 0; round < 3; round++) {
      let acknowledged = -1;
      let id = "";
      const child = spawn(process.execPath, ["--import", "tsx", script, path]);
      await new Promise<void>((resolve, reject) => {
        child.stdout.on("data", (text: Buffer) => {
          for (const line of text.toString().trim().split("\n")) {
            const [name, value] = line.split(" ");
            if (name === "asset") id = value!;
            if (name === "saved") acknowledged = Number(value);
          }
          if (acknowledged >= 4 + round) child.kill("SIGKILL");
        });
        child.on("exit", () => (id ? resolve() : reject(new Error("The writer did not start."))));
      });
      const db = await openDatabase(path);
      const { asset, history } = await loadAsset(db, id);
      expect(history.version).toBeGreaterThanOrEqual(acknowledged);
      const u = asset.parts[0]!.uvSets[0]!.uv[0]!;
      expect(u).toBe(history.version); // the writer's nth edit puts the first point at n
      await db.close();
      rmSync(join(path, "lock"), { force: true });
    }
  });
});
