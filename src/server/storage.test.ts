import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { build } from "esbuild";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { assemble, lathe } from "../../demo/kit";
import { type Asset, mapParts } from "../core/layout/asset";
import { deltaBetween, withDelta } from "../core/layout/delta";
import { withPoints } from "../core/layout/uv-set";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { chunkEnds, getArrays, putArrays } from "./arrays";
import { Conflict, createAsset, deleteAsset, filesOf, listAssets, loadAsset, renameAsset } from "./assets";
import { type Database, openDatabase, openServer } from "./database";
import { addMark, changeMark, deleteMark, listMarks } from "./marks";
import { appendRevision, listRevisions, stepHistory } from "./revisions";

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
const profile: Array<[number, number]> = [
  [1, 0],
  [1, 1],
];
const drum = () => assemble("Drum", "cm", [], [{ name: "Drum", shape: lathe(profile, 8) }]);

const edited = async (asset: Asset, id: string, options: unknown = {}) =>
  (await runEdit(asset, id, options, everything(asset), quiet)).asset;

const save = (db: Database, id: string, base: number, before: Asset, after: Asset, words = "x") =>
  appendRevision(db, id, {
    base,
    operation: "test",
    options: {},
    words,
    figures: null,
    delta: deltaBetween(before, after),
  });

/** Every test of storage runs on both: the database in the data folder, and a PostgreSQL server when one is at hand. */
const server = process.env.TAVLIN_TEST_POSTGRES;
const KINDS: Array<[string, () => Promise<Database>]> = [["the data folder", () => openDatabase(folder())]];
if (server)
  KINDS.push([
    "a PostgreSQL server",
    async () => {
      const name = `tavlin_${Math.random().toString(36).slice(2)}`;
      const admin = await openServer(server);
      await admin.query(`create database ${name}`);
      await admin.close();
      const url = new URL(server);
      url.pathname = `/${name}`;
      return openServer(url.toString());
    },
  ]);

describe.each(KINDS)("storage in %s", (_, open) => {
  let db: Database;
  beforeAll(async () => {
    db = await open();
  }, 60_000);
  afterAll(() => db.close());

  it("keeps assets, revisions, undo and redo, and refuses an old base", async () => {
    const id = await createAsset(db, drum());
    const first = await loadAsset(db, id);
    expect(first.asset.parts[0]!.mesh.positions).toEqual(drum().parts[0]!.mesh.positions);
    expect(first.history).toEqual({ version: 0, head: 0, undo: null, redo: null });

    const cut = await edited(first.asset, "creased");
    expect(await save(db, id, 0, first.asset, cut, "Creased")).toMatchObject({ version: 1, head: 1, undo: "Creased" });
    await expect(save(db, id, 0, first.asset, cut, "late")).rejects.toBeInstanceOf(Conflict);
    expect((await loadAsset(db, id)).asset.parts[0]!.uvSets).toEqual(cut.parts[0]!.uvSets);

    const undone = await stepHistory(db, id, 1, "undo");
    expect(undone.history).toMatchObject({ version: 2, head: 0, redo: "Creased" });
    expect(withDelta(cut, undone.delta).parts[0]!.uvSets).toEqual(first.asset.parts[0]!.uvSets);
    await expect(stepHistory(db, id, 2, "undo")).rejects.toThrow("nothing to undo");
    const redone = await stepHistory(db, id, 2, "redo");
    expect(withDelta(first.asset, redone.delta).parts[0]!.uvSets).toEqual(cut.parts[0]!.uvSets);

    await renameAsset(db, id, "Tall drum");
    expect((await listAssets(db)).map((a) => [a.name, a.parts])).toEqual([["Tall drum", 1]]);
    await deleteAsset(db, id);
    for (const table of ["arrays", "chunks", "revisions", "revision_parts"])
      expect((await db.query(`select 1 from ${table}`)).rows).toHaveLength(0);
    await expect(loadAsset(db, id)).rejects.toThrow("no longer there");
  });

  it("jumps to any step, on other branches too, and loses nothing by it", async () => {
    const id = await createAsset(db, drum());
    const zero = (await loadAsset(db, id)).asset;
    const renamed = mapParts(zero, (p) => ({ ...p, name: "Barrel", path: ["Stall"] }));
    await save(db, id, 0, zero, renamed, "Rename");
    const cut = await edited(renamed, "creased");
    await save(db, id, 1, renamed, cut, "Creased");
    await stepHistory(db, id, 2, { to: 0 });
    const opened = await edited(zero, "creased", { angle: 20 });
    const two: Asset = {
      ...opened,
      sets: [...opened.sets, { id: "s-more", name: "Light", purpose: "light", exportAs: 1 }],
    };
    await save(db, id, 3, zero, two, "Other");
    expect((await listRevisions(db, id)).map((r) => [r.number, r.parent, r.words])).toEqual([
      [0, null, "Import"],
      [1, 0, "Rename"],
      [2, 1, "Creased"],
      [3, 0, "Other"],
    ]);
    const jumped = await stepHistory(db, id, 4, { to: 2 });
    const there = withDelta(two, jumped.delta);
    expect(there.parts).toEqual(cut.parts);
    expect(there.sets).toEqual(cut.sets);
    expect((await loadAsset(db, id, 3)).asset.sets).toHaveLength(2);
    await expect(stepHistory(db, id, 5, { to: 9 })).rejects.toThrow("no longer there");
  });

  it("keeps marks, and lets old automatic ones go", async () => {
    const id = await createAsset(db, drum());
    const mark = await addMark(db, id, { name: "Before the seams", note: "as it came" });
    await addMark(db, id, { name: "again", note: "", automatic: true }); // its step bears a mark already
    expect((await listMarks(db, id)).map((m) => [m.name, m.number, m.automatic])).toEqual([
      ["Before the seams", 0, false],
    ]);
    await changeMark(db, id, mark, "First", "better words");
    expect((await listMarks(db, id))[0]).toMatchObject({ name: "First", note: "better words" });
    await deleteMark(db, id, mark);
    expect(await listMarks(db, id)).toEqual([]);
    await expect(changeMark(db, id, mark, "x", "")).rejects.toThrow("no longer there");
    await expect(addMark(db, id, { name: "x", note: "", number: 7 })).rejects.toThrow("no longer there");
  });

  it("writes in proportion to what an edit changed", async () => {
    const rings: Array<[number, number]> = Array.from({ length: 200 }, (_, i) => [2 + Math.sin(i / 9), i / 50]);
    const big = assemble("Vase", "cm", [], [{ name: "Vase", shape: lathe(rings, 120) }]);
    const laid = await edited(await edited(big, "open-up"), "unfold", { passes: 0 });
    const id = await createAsset(db, laid);
    const size = async () =>
      (await db.query<{ n: number }>("select sum(length(bytes))::int as n from chunks")).rows[0]!.n;
    const whole = await size();
    const set = laid.parts[0]!.uvSets[0]!;
    const uv = set.uv.slice();
    for (let i = 4000; i < 4100; i++) uv[i]! += 0.01;
    const moved = mapParts(laid, (p) => ({ ...p, uvSets: [withPoints(set, uv)] }));
    await save(db, id, 0, (await loadAsset(db, id)).asset, moved);
    expect((await size()) - whole).toBeLessThan(0.15 * whole);
    const before = await size();
    const named = mapParts(moved, (p) => ({ ...p, name: "Tall vase" }));
    await save(db, id, 1, moved, named);
    expect(await size()).toBe(before);
    expect((await loadAsset(db, id)).asset.parts[0]).toMatchObject({ name: "Tall vase" });
  });

  it("refuses an edit that does not fit the mesh", async () => {
    const id = await createAsset(db, drum());
    const { asset } = await loadAsset(db, id);
    const part = asset.parts[0]!;
    const layout = { ...part.uvSets[0]!, uv: new Float64Array(4) };
    const bad: Array<[Partial<Asset>, string]> = [
      [{ parts: [{ ...part, uvSets: [layout] }] }, "does not fit together"],
      [
        { parts: [{ ...part, mesh: { ...part.mesh, cornerVertex: part.mesh.cornerVertex.map(() => 999) } }] },
        "its vertices",
      ],
      [{ parts: [part, { ...part, id: "p9", instanceOf: "p7" }] }, "lacks the shape of part p9"],
      [{ images: [{ key: "nowhere", name: "a.png", type: "image/png" }] }, "did not come along"],
    ];
    for (const [change, words] of bad)
      await expect(save(db, id, 0, asset, { ...asset, ...change })).rejects.toThrow(words);
    expect((await loadAsset(db, id)).history.version).toBe(0);
  });

  it("keeps the bytes of source and images", async () => {
    const bytes = Uint8Array.from({ length: 300_000 }, (_, i) => (i * i) >> 3);
    const id = await createAsset(db, {
      ...drum(),
      source: { name: "drum.obj", format: "obj", key: "k1" },
      files: { k1: bytes, k2: Uint8Array.of(7) },
    });
    expect((await filesOf(db, id)).k1).toEqual(bytes);
    expect(await filesOf(db, id, "k2")).toEqual({ k2: Uint8Array.of(7) });
  });

  it("cuts arrays where their content says so", async () => {
    const long = Float64Array.from({ length: 60_000 }, (_, i) => Math.sin(i * i));
    const longer = Float64Array.from([...long.subarray(0, 20_000), 1, 2, 3, ...long.subarray(20_000)]);
    const names = (a: Float64Array) => {
      const bytes = new Uint8Array(a.buffer);
      let start = 0;
      return chunkEnds(bytes).map((end) => {
        const text = bytes.subarray(start, end).join();
        start = end;
        return text;
      });
    };
    const [one, two] = [new Set(names(long)), names(longer)];
    expect(one.size).toBeGreaterThan(10);
    expect(two.filter((n) => !one.has(n)).length).toBeLessThanOrEqual(3);
    const [a, empty] = await db.transaction((tx) => putArrays(tx, [long, new Uint8Array(0)]));
    const back = await getArrays(db, [a!, empty!]);
    expect(new Float64Array(back.get(a!)!.buffer)).toEqual(long);
    expect(back.get(empty!)).toHaveLength(0);
  });
});

describe("the data folder", () => {
  it("is refused to a second process, in a sentence", async () => {
    const path = folder();
    const other = spawn(process.execPath, ["-e", "setTimeout(() => {}, 60000)"]);
    writeFileSync(join(path, "lock"), String(other.pid));
    await expect(openDatabase(path)).rejects.toThrow(/in use by process \d+; stop it, or set TAVLIN_DATA/);
    other.kill();
  });

  /** Runs the writer until it has saved some edits, kills it at a moment of chance, and answers what it told. */
  async function killedWriter(
    script: string,
    path: string,
    wanted: number,
  ): Promise<{ found: [number, number]; saved: number }> {
    const child = spawn(process.execPath, [script, path]);
    let found: [number, number] | null = null;
    let saved = -1;
    let wrong = "";
    child.stderr.on("data", (text: Buffer) => {
      wrong += text.toString();
    });
    await new Promise<void>((resolve) => {
      child.stdout.on("data", (text: Buffer) => {
        for (const line of text.toString().trim().split("\n")) {
          const [name, value, u] = line.split(" ");
          if (name === "found") found = [Number(value), Number(u)];
          if (name === "saved") saved = Number(value);
        }
        // A little later than told, so that it dies in the midst of the next write as often as between two.
        if (found && saved >= found[0] + wanted) setTimeout(() => child.kill("SIGKILL"), Math.random() * 12);
      });
      child.on("exit", () => resolve());
    });
    if (!found) throw new Error(`The writer did not start: ${wrong}`);
    return { found, saved };
  }

  it("comes back with every acknowledged edit, killed 52 times in the midst of writing", async () => {
    const root = join(import.meta.dirname, "..", "..");
    // Made one file first: starting from source would take longer than all of the writing.
    const script = join(root, "test-results", "write-until-killed.mjs");
    await build({
      entryPoints: [join(root, "e2e", "write-until-killed.ts")],
      outfile: script,
      bundle: true,
      platform: "node",
      format: "esm",
      packages: "external",
      logLevel: "error",
    });
    const series = async () => {
      const path = folder();
      let acknowledged = 0;
      for (let round = 0; round < 26; round++) {
        const { found, saved } = await killedWriter(script, path, 1 + (round % 5));
        expect(found[0]).toBeGreaterThanOrEqual(acknowledged);
        expect(found[1]).toBe(found[0]); // the writer's nth edit puts the first point at n
        acknowledged = saved;
      }
    };
    await Promise.all([series(), series()]);
  }, 400_000);
});
