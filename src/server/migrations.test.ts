import { createHash } from "node:crypto";
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { brotliDecompressSync, gzipSync } from "node:zlib";
import { PGlite } from "@electric-sql/pglite";
import { extract } from "tar-stream";
import { describe, expect, it } from "vitest";
import { brassBalance } from "../../demo/models/brass-balance";
import { type Asset, shapeById, shapesOf } from "../core/layout/asset";
import type { Layout } from "../core/layout/layout";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { edit, layoutAt, shapeAt } from "../testing/assets";
import { databaseFolder, removeFolders, streamOf } from "../testing/storage";
import { filesOf, loadAsset } from "./assets";
import { restoreBackup } from "./backup";
import { openDatabase } from "./database";
import { listMarks } from "./marks";
import { MIGRATIONS } from "./migrations";
import { stepHistory } from "./revisions";

describe("a database of the first kind", () => {
  it("is brought over with its assets, layouts, history and source", async () => {
    const folder = databaseFolder();
    const bare = brassBalance();
    const cut = (await runEdit(bare, "creased", {}, everything(bare), { progress: () => {} })).asset;
    const old = await PGlite.create(join(folder, "db"));
    await old.exec("drop schema public cascade; create schema public");
    await old.query(
      "create table migrations (number integer primary key, applied_at timestamptz not null default now())",
    );
    for (const sql of MIGRATIONS[0]!) await old.query(sql as string);
    await old.query("insert into migrations (number) values (1)");
    const put = async (a: Uint8Array | Uint32Array | Float64Array | Float32Array) => {
      const bytes = new Uint8Array(a.buffer, a.byteOffset, a.byteLength);
      const hash = createHash("sha256").update(bytes).digest("hex");
      await old.query("insert into blobs values ($1, $2) on conflict do nothing", [
        hash,
        new Uint8Array(gzipSync(bytes)),
      ]);
      return hash;
    };
    const parts = [];
    for (const p of bare.parts) {
      const base = { id: p.id, name: p.name, path: p.path, transform: p.transform };
      const owner = shapesOf(bare).find((s) => s.id === p.shape)!;
      const { mesh } = owner;
      const refs = {
        positions: await put(mesh.positions),
        faceStart: await put(mesh.faceStart),
        cornerVertex: await put(mesh.cornerVertex),
        faceMaterial: await put(mesh.faceMaterial),
        faceGroup: await put(mesh.faceGroup),
        originVertex: await put(mesh.origin.vertex),
        originFace: await put(mesh.origin.face),
        groups: mesh.groups,
      };
      parts.push(p.shape === p.id ? { ...base, mesh: refs } : { ...base, instanceOf: p.shape });
    }
    const source = await put(Uint8Array.of(5, 6, 7));
    const structure = { up: "y", materials: bare.materials, source: { name: "balance.obj", format: "obj" }, parts };
    await old.query(
      "insert into assets (id, name, unit, structure, source_hash, version, head) values ('a', 'Balance', 'cm', $1, $2, 1, 1)",
      [JSON.stringify(structure), source],
    );
    for (const [number, asset] of [bare, cut].entries()) {
      await old.query(
        "insert into revisions (asset, number, parent, operation, options, words) values ('a', $1, $2, 'x', '{}', $3)",
        [number, number ? 0 : null, number ? "Creased" : "Import"],
      );
      for (const p of shapesOf(asset)) {
        const l = p.layouts.get("s1")!;
        await old.query(
          "insert into revision_layouts (asset, number, part, set_index, name, cut, mapped, uv, pinned) values ('a', $1, $2, 0, 'Unique', $3, $4, $5, $6)",
          [number, p.id, await put(l.cut), await put(l.mapped), await put(l.uv), await put(l.pinned)],
        );
      }
    }
    await old.close();

    const db = await openDatabase(folder);
    const { asset, history } = await loadAsset(db, "a");
    expect(history).toEqual({ version: 1, head: 1, undo: "Creased", redo: null });
    expect(asset.sets).toEqual([{ id: "s1", name: "Unique", purpose: "unique", exportAs: 0 }]);
    expect(asset.unit).toBe("cm");
    expect(asset.parts.map((p) => [p.id, p.name, p.transform, p.shape])).toEqual(
      cut.parts.map((p) => [p.id, p.name, p.transform, p.shape]),
    );
    for (let i = 0; i < asset.shapes.size; i++) expect(layoutAt(asset, i)).toEqual(layoutAt(cut, i));
    expect(shapeAt(asset, 0).mesh).toEqual(shapeAt(cut, 0).mesh);
    expect([...(await filesOf(db, "a"))]).toEqual([[asset.source.key!, Uint8Array.of(5, 6, 7)]]);
    expect((await stepHistory(db, "a", 1, "undo")).history.redo).toBe("Creased");
    await db.close();
  }, 60_000);
});

/** What a fixture was when it was written, told in plain numbers. */
interface Told {
  readonly sets: Asset["sets"];
  readonly parts: ReadonlyArray<{
    readonly id: string;
    readonly name: string;
    readonly path: string[];
    readonly locked: string | null;
    readonly shape: string;
    readonly positions: number[];
    readonly corners: number[];
    readonly layouts: ReadonlyArray<{ cut: number[]; mapped: number[]; uv: number[] } | null>;
    readonly merged: ReadonlyArray<{ name: string; layouts: (number[] | null)[] }> | null;
    readonly split: { whole: string; faces: number[] } | null;
  }>;
}

const told = (asset: Asset): Told => ({
  sets: asset.sets,
  parts: asset.parts.map(({ id, name, path, locked, shape }) => {
    const { mesh, layouts, merged, split } = shapeById(asset, shape);
    const inSets = <T>(l: ReadonlyMap<string, Layout>, tell: (layout: Layout) => T) =>
      asset.sets.map((s) => (l.has(s.id) ? tell(l.get(s.id)!) : null));
    return {
      id,
      name,
      path: [...path],
      locked: locked ?? null,
      shape,
      positions: [...mesh.positions],
      corners: [...mesh.cornerVertex],
      layouts: inSets(layouts, (l) => ({ cut: [...l.cut], mapped: [...l.mapped], uv: [...l.uv] })),
      merged: merged?.map((m) => ({ name: m.part.name, layouts: inSets(m.shape.layouts, (l) => [...l.uv]) })) ?? null,
      split: split ? { whole: split.whole.part.name, faces: [...split.faces] } : null,
    };
  }),
});

const fixture = (name: string) => readFileSync(join(import.meta.dirname, "fixtures", name));

describe("what 00efb09 wrote", () => {
  const expected = JSON.parse(fixture("data-of-00efb09.json").toString()) as {
    id: string;
    history: unknown;
    last: Told;
    eight: Told;
  };
  /** The step at which a part is merged and another split, after the sets were put in another order. */
  const MERGED = 7;

  it("is there again: a folder, with instances, merged and split parts, marks and branches", async () => {
    const folder = mkdtempSync(join(tmpdir(), "tavlin-old-"));
    const archive = extract();
    archive.end(brotliDecompressSync(fixture("data-of-00efb09.tar.br")));
    for await (const entry of archive) {
      const path = join(folder, entry.header.name);
      const pieces: Uint8Array[] = [];
      for await (const piece of entry) pieces.push(piece as Uint8Array);
      if (entry.header.type === "directory") mkdirSync(path, { recursive: true });
      else writeFileSync(path, Buffer.concat(pieces));
    }
    const db = await openDatabase(folder);
    const { asset, history } = await loadAsset(db, expected.id);
    expect(history).toEqual(expected.history);
    expect(told(asset)).toEqual(expected.last);
    expect(told((await loadAsset(db, expected.id, MERGED)).asset)).toEqual(expected.eight);
    expect((await listMarks(db, expected.id)).map((m) => [m.name, m.number])).toEqual([["All in", MERGED]]);
    expect([...(await filesOf(db, expected.id))]).toEqual([["src", Uint8Array.of(1, 2, 3, 4)]]);
    // The work goes on where it was left.
    const whole = await edit((await loadAsset(db, expected.id, MERGED)).asset, "separate-parts");
    expect(whole.parts.map((p) => p.name)).toContain("Lid");
    await stepHistory(db, expected.id, (history as { version: number }).version, "undo");
    await db.close();
    rmSync(folder, { recursive: true, force: true });
  }, 60_000);

  it("is put back: a backup of that time", async () => {
    const db = await openDatabase(databaseFolder());
    const [id] = await restoreBackup(db, streamOf(fixture("backup-of-00efb09.tavlin")), "old.tavlin");
    expect(told((await loadAsset(db, id!)).asset)).toEqual(expected.last);
    expect(told((await loadAsset(db, id!, MERGED)).asset)).toEqual(expected.eight);
    await db.close();
    removeFolders();
  }, 60_000);
});
