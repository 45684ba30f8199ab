import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { unzipSync, zipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { pepperMill } from "../../demo/models/pepper-mill";
import { deltaBetween } from "../core/layout/delta";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { createAsset, deleteAsset, filesOf, listAssets, loadAsset } from "./assets";
import { makeBackup, restoreBackup } from "./backup";
import { type Database, openDatabase } from "./database";
import { addMark, listMarks } from "./marks";
import { appendRevision, listRevisions } from "./revisions";

const folder = mkdtempSync(join(tmpdir(), "tavlin-backup-"));
let db: Database;
beforeAll(async () => {
  db = await openDatabase(folder);
}, 60_000);
afterAll(async () => {
  await db.close();
  rmSync(folder, { recursive: true, force: true });
});

/** A mill with a step, a mark and a source file. */
async function stored(): Promise<string> {
  const mill = {
    ...pepperMill(),
    source: { name: "mill.obj", format: "obj" as const, key: "k" },
    files: { k: Uint8Array.of(1, 2, 3) },
  };
  const id = await createAsset(db, mill);
  const { asset } = await loadAsset(db, id);
  const cut = (await runEdit(asset, "creased", {}, everything(asset), { progress: () => {} })).asset;
  const delta = deltaBetween(asset, cut);
  await appendRevision(db, id, { base: 0, operation: "creased", options: {}, words: "Creased", figures: null, delta });
  await addMark(db, id, { name: "Seams", note: "by creases" });
  return id;
}

describe("backup", () => {
  it("brings an asset back with its history, its marks and its files", async () => {
    const id = await stored();
    const before = await loadAsset(db, id);
    const bytes = await makeBackup(db, id);
    await deleteAsset(db, id);
    expect(await listAssets(db)).toEqual([]);
    const [back] = await restoreBackup(db, bytes, "mill.tavlin");
    const after = await loadAsset(db, back!);
    expect({ ...after, asset: { ...after.asset, id } }).toEqual(before);
    expect((await listRevisions(db, back!)).map((r) => r.words)).toEqual(["Import", "Creased"]);
    expect((await listMarks(db, back!)).map((m) => [m.name, m.note, m.number])).toEqual([["Seams", "by creases", 1]]);
    expect((await filesOf(db, back!)).k).toEqual(Uint8Array.of(1, 2, 3));
    // Once more: beside the one that is there, never over it.
    await restoreBackup(db, await makeBackup(db, back), "mill.tavlin");
    expect((await listAssets(db)).map((a) => a.name).sort()).toEqual(["Pepper mill", "Pepper mill (restored)"]);
    const all = await makeBackup(db);
    expect((await restoreBackup(db, all, "all.tavlin")).length).toBe(2);
  });

  it("refuses what is broken, and leaves nothing of it behind", async () => {
    const id = await stored();
    const bytes = await makeBackup(db, id);
    const count = (await listAssets(db)).length;
    const files = unzipSync(bytes);
    const chunk = Object.keys(files).find((n) => n.startsWith("chunks/"))!;
    const list = JSON.parse(new TextDecoder().decode(files["tavlin-backup.json"]));
    const pack = (change: Record<string, Uint8Array>) => zipSync({ ...files, ...change }, { level: 0 });
    const text = (json: unknown) => new TextEncoder().encode(JSON.stringify(json));
    const bad: Array<[Uint8Array, string]> = [
      [bytes.slice(0, bytes.length >> 1), "the backup"],
      [zipSync({ "a.txt": Uint8Array.of(1) }), "list is broken or missing"],
      [pack({ [chunk]: Uint8Array.of(1, 2, 3) }), "missing or damaged"],
      [pack({ "tavlin-backup.json": text({ ...list, arrays: [] }) }), "an array is missing"],
      [
        pack({ "tavlin-backup.json": text({ ...list, assets: [{ ...list.assets[0], revision_parts: [] }] }) }),
        "does not fit together",
      ],
    ];
    for (const [broken, words] of bad) await expect(restoreBackup(db, broken, "the backup")).rejects.toThrow(words);
    expect(await listAssets(db)).toHaveLength(count);
    await expect(makeBackup(db, "nobody")).rejects.toThrow("no longer there");
  });
});
