import { createHash } from "node:crypto";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { PGlite } from "@electric-sql/pglite";
import { describe, expect, it } from "vitest";
import { brassBalance } from "../../demo/models/brass-balance";
import { layoutParts } from "../core/layout/asset";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { filesOf, loadAsset } from "./assets";
import { openDatabase } from "./database";
import { MIGRATIONS } from "./migrations";
import { stepHistory } from "./revisions";

describe("a database of the first kind", () => {
  it("is brought over with its assets, layouts, history and source", async () => {
    const folder = mkdtempSync(join(tmpdir(), "tavlin-migrate-"));
    const bare = brassBalance();
    const cut = (await runEdit(bare, "creased", {}, everything(bare), { progress: () => {} })).asset;
    const old = await PGlite.create(join(folder, "db"));
    await old.query(
      "create table migrations (number integer primary key, applied_at timestamptz not null default now())",
    );
    for (const sql of MIGRATIONS[0]!) await old.query(sql);
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
      const { mesh } = p;
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
      parts.push(p.instanceOf ? { ...base, instanceOf: p.instanceOf } : { ...base, mesh: refs });
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
      for (const p of layoutParts(asset)) {
        const l = p.uvSets[0]!;
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
    expect(asset.parts.map((p) => [p.id, p.name, p.transform, p.instanceOf])).toEqual(
      cut.parts.map((p) => [p.id, p.name, p.transform, p.instanceOf]),
    );
    expect(asset.parts.map((p) => p.uvSets)).toEqual(cut.parts.map((p) => p.uvSets));
    expect(asset.parts[0]!.mesh).toEqual(cut.parts[0]!.mesh);
    expect(await filesOf(db, "a")).toEqual({ [asset.source.key!]: Uint8Array.of(5, 6, 7) });
    expect((await stepHistory(db, "a", 1, "undo")).history.redo).toBe("Creased");
    await db.close();
    rmSync(folder, { recursive: true, force: true });
  }, 60_000);
});
