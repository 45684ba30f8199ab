import { gzipSync } from "node:zlib";
import { zipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { pepperMill } from "../../demo/models/pepper-mill";
import { edit } from "../testing/assets";
import { bytesOf, databaseFolder, removeFolders, save, streamOf } from "../testing/storage";
import { createAsset, deleteAsset, filesOf, listAssets, loadAsset } from "./assets";
import { makeBackup, restoreBackup } from "./backup";
import { type Entry, packChunks, readEntries, unpackChunks, writeEntries } from "./backup-format";
import { hashOf } from "./chunks";
import { type Database, openDatabase } from "./database";
import { addMark, listMarks } from "./marks";
import { listRevisions } from "./revisions";

let db: Database;
beforeAll(async () => {
  db = await openDatabase(databaseFolder());
}, 60_000);
afterAll(async () => {
  await db.close();
  removeFolders();
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
  await save(db, id, 0, asset, await edit(asset, "creased"), "Creased");
  await addMark(db, id, { name: "Seams", note: "by creases" });
  return id;
}

const backupOf = async (id?: string) => bytesOf(await makeBackup(db, id));
const restore = (bytes: Uint8Array, name = "the backup") => restoreBackup(db, streamOf(bytes), name);

async function* listed(entries: readonly Entry[]): AsyncGenerator<Entry> {
  yield* entries;
}

describe("backup", () => {
  it("brings an asset back with its history, its marks and its files", async () => {
    const id = await stored();
    const before = await loadAsset(db, id);
    const bytes = await backupOf(id);
    await deleteAsset(db, id);
    expect(await listAssets(db)).toEqual([]);
    const [back] = await restore(bytes);
    const after = await loadAsset(db, back!);
    expect({ ...after, asset: { ...after.asset, id } }).toEqual(before);
    expect((await listRevisions(db, back!)).map((r) => r.words)).toEqual(["Import", "Creased"]);
    expect((await listMarks(db, back!)).map((m) => [m.name, m.note, m.number])).toEqual([["Seams", "by creases", 1]]);
    expect((await filesOf(db, back!)).get("k")).toEqual(Uint8Array.of(1, 2, 3));
    // Once more: beside the one that is there, never over it.
    await restore(await backupOf(back));
    expect((await listAssets(db)).map((a) => a.name).sort()).toEqual(["Pepper mill", "Pepper mill (restored)"]);
    expect((await restore(await backupOf())).length).toBe(2);
  });

  it("holds any number of chunks: as many packs as it takes", async () => {
    const chunks = new Map<string, Uint8Array>();
    for (let i = 0; i < 25_000; i++) {
      const content = Buffer.from(`chunk ${i}`);
      chunks.set(hashOf(content), content);
    }
    const all = [...chunks];
    const entries = [0, 1, 2, 3, 4].map((n) => ({
      name: `packs/${n}`,
      bytes: packChunks(new Map(all.slice(5000 * n, 5000 * (n + 1)))),
    }));
    const back: Array<[string, Uint8Array]> = [];
    for await (const e of readEntries(writeEntries(listed(entries)), "b")) back.push(...unpackChunks(e.bytes));
    expect(back.length).toBe(25_000);
    expect(back[24_999]![0]).toBe(all[24_999]![0]);
    expect(() => unpackChunks(entries[0]!.bytes.subarray(0, 1000))).toThrow("ends too early");
  });

  describe("refuses what is broken, and leaves nothing of it behind", () => {
    let good: Entry[];
    let count = 0;
    beforeAll(async () => {
      const id = await stored();
      good = [];
      for await (const e of readEntries(streamOf(await backupOf(id)), "b")) good.push(e);
      // Nothing of it is there any more: what is missing in a backup is missing.
      for (const asset of await listAssets(db)) await deleteAsset(db, asset.id);
      count = 0;
    });

    type Rows = Record<string, unknown> & { asset: Record<string, unknown>; revisions: Array<Record<string, unknown>> };
    /** The backup with its only asset's rows changed. */
    const withRows = (change: (rows: Rows) => void): Entry[] =>
      good.map((e) => {
        if (!e.name.startsWith("assets/")) return e;
        const rows = JSON.parse(new TextDecoder().decode(e.bytes)) as Rows;
        change(rows);
        return { name: e.name, bytes: new TextEncoder().encode(JSON.stringify(rows)) };
      });
    const replaced = (name: string, bytes: (old: Uint8Array) => Uint8Array): Entry[] =>
      good.map((e) => (e.name === name ? { name, bytes: bytes(e.bytes) } : e));
    const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
    const utf8 = (t: string) => new TextEncoder().encode(t);
    type Shapes = Array<{ shape: string; arrays: string[] }>;

    const cases: Array<[string, () => Entry[], string]> = [
      [
        "one that names nothing",
        () => good.filter((e) => e.name !== "tavlin-backup.json"),
        "list is broken or missing",
      ],
      ["one without an asset", () => good.filter((e) => !e.name.startsWith("assets/")), "holds no asset"],
      ["one without its packs", () => good.filter((e) => !e.name.startsWith("packs/")), "missing or damaged"],
      ["one whose arrays are not listed", () => replaced("arrays.ndjson", () => utf8("")), "an array is missing"],
      [
        "a chunk that is not what its name says",
        () =>
          replaced("packs/1", (b) => {
            const [first, ...rest] = [...unpackChunks(b)];
            return packChunks(new Map([[first![0], gzipSync("something else")], ...rest]));
          }),
        "missing or damaged",
      ],
      [
        "a chunk that unpacks beyond measure",
        () =>
          replaced("packs/1", (b) =>
            packChunks(
              new Map([...unpackChunks(b), [hashOf(new Uint8Array(80 << 20)), gzipSync(new Uint8Array(80 << 20))]]),
            ),
          ),
        "missing or damaged",
      ],
      [
        "an array under the name of another",
        () =>
          replaced("arrays.ndjson", (b) => {
            const lines = text(b)
              .split("\n")
              .map((l) => JSON.parse(l) as { hash: string; chunks: string[] });
            const other = lines.find((l) => l.chunks[0] !== lines[0]!.chunks[0])!;
            return utf8(
              [{ ...lines[0]!, hash: "ab".repeat(32), chunks: other.chunks }, ...lines]
                .map((l) => JSON.stringify(l))
                .join("\n"),
            );
          }),
        "an array is not what its name says",
      ],
      [
        "a step that is its own parent",
        () =>
          withRows((r) => {
            r.revisions[1]!.parent = 1;
          }),
        "rows are not as they should be",
      ],
      [
        "two steps that are each other's parents",
        () =>
          withRows((r) => {
            r.revisions[1]!.parent = 2;
            r.revisions.push({ ...r.revisions[1], number: 2, parent: 1 });
          }),
        "rows are not as they should be",
      ],
      [
        "a head that is not there",
        () =>
          withRows((r) => {
            r.asset.head = 7;
          }),
        "does not fit together",
      ],
      [
        "a mark of a step that is not there",
        () =>
          withRows((r) => {
            (r.marks as Array<{ number: number }>)[0]!.number = 9;
          }),
        "does not fit together",
      ],
      [
        "a time that is none",
        () =>
          withRows((r) => {
            r.asset.created_at = "yesterday";
          }),
        "rows are not as they should be",
      ],
      [
        "a version no database holds",
        () =>
          withRows((r) => {
            r.asset.version = 2 ** 40;
          }),
        "rows are not as they should be",
      ],
      [
        "a NUL in a name",
        () =>
          withRows((r) => {
            r.asset.name = "a\0b";
          }),
        "rows are not as they should be",
      ],
      [
        "a part without its shape",
        () =>
          withRows((r) => {
            r.revision_shapes = [];
          }),
        "does not fit together",
      ],
      [
        "corners beyond the vertices",
        () =>
          withRows((r) => {
            const { arrays } = (r.revision_shapes as Shapes)[0]!;
            // The vertices of the faces and the file's numbers of them are of one kind and of other lengths.
            [arrays[0], arrays[5]] = [arrays[5]!, arrays[0]!];
          }),
        "does not fit together",
      ],
      [
        "an older step that is broken, though the last is whole",
        () =>
          withRows((r) => {
            const layouts = r.revision_layouts as Array<Record<string, unknown>>;
            const old = layouts.find((l) => l.number === 0)!;
            [old.cut, old.mapped] = [old.mapped, old.cut];
            old.uv = old.pinned;
          }),
        "does not fit together",
      ],
    ];
    it.each(cases)("%s", async (_, entries, words) => {
      await expect(restoreBackup(db, writeEntries(listed(entries())), "the backup")).rejects.toThrow(words);
      expect(await listAssets(db)).toHaveLength(count);
    });

    it("bytes that are no backup, or end in the middle", async () => {
      const whole = await bytesOf(writeEntries(listed(good)));
      for (const bytes of [
        whole.slice(0, whole.length >> 1),
        new Uint8Array(0),
        utf8("no archive"),
        zipSync({ "a.txt": utf8("x") }),
      ])
        await expect(restore(bytes)).rejects.toThrow(/not a backup that can be read/);
      expect(await listAssets(db)).toHaveLength(count);
      await expect(makeBackup(db, "nobody")).rejects.toThrow("no longer there");
    });
  });
});
