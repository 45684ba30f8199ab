import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { assemble, lathe } from "../../demo/kit";
import { type Asset, mapParts, withLayouts } from "../core/layout/asset";
import { deltaBetween } from "../core/layout/delta";
import { withPoints } from "../core/layout/layout";
import { everything } from "../core/operations/scope";
import { edit, layoutAt, shapeAt } from "../testing/assets";
import { DATABASES, drum, removeFolders, save, saveDelta, stepped } from "../testing/storage";
import { readArrays } from "../wire/array-stream";
import { encodeArrays } from "./array-stream";
import { collectArrays, getArrays, leaseArrays, releaseArrays, storeChunks } from "./arrays";
import { createAsset, deleteAsset, filesOf, listAssets, loadAsset, renameAsset } from "./assets";
import { chunkEnds, cutArrays, squeeze } from "./chunks";
import type { Database } from "./database";
import { forgetManifests } from "./manifest";
import { addMark, changeMark, deleteMark, listMarks } from "./marks";
import { pictureOf } from "./picture";
import { Conflict } from "./refusals";
import { appendRevision, listRevisions, stepHistory } from "./revisions";

afterAll(removeFolders);

describe.each(DATABASES)("storage in %s", (_, open) => {
  let db: Database;
  beforeAll(async () => {
    db = await open();
  }, 60_000);
  afterAll(() => db.close());

  it("keeps assets, revisions, undo and redo, and refuses an old base", async () => {
    const id = await createAsset(db, drum());
    const first = await loadAsset(db, id);
    expect(shapeAt(first.asset).mesh.positions).toEqual(shapeAt(drum()).mesh.positions);
    expect(first.history).toEqual({ version: 0, head: 0, undo: null, redo: null });

    const cut = await edit(first.asset, "creased");
    const { history } = await save(db, id, 0, first.asset, cut, "Creased");
    expect(history).toMatchObject({ version: 1, head: 1, undo: "Creased" });
    await expect(save(db, id, 0, first.asset, cut, "late")).rejects.toBeInstanceOf(Conflict);
    expect(layoutAt((await loadAsset(db, id)).asset)).toEqual(layoutAt(cut));

    const undone = await stepHistory(db, id, 1, "undo");
    expect(undone.history).toMatchObject({ version: 2, head: 0, redo: "Creased" });
    expect(layoutAt(await stepped(db, cut, undone.delta))).toEqual(layoutAt(first.asset));
    await expect(stepHistory(db, id, 2, "undo")).rejects.toThrow("nothing to undo");
    const redone = await stepHistory(db, id, 2, "redo");
    expect(layoutAt(await stepped(db, first.asset, redone.delta))).toEqual(layoutAt(cut));

    await renameAsset(db, id, "Tall drum");
    expect((await listAssets(db)).map((a) => [a.name, a.parts])).toEqual([["Tall drum", 1]]);
    await deleteAsset(db, id);
    for (const table of ["arrays", "chunks", "revisions", "revision_parts", "revision_shapes", "array_leases"])
      expect((await db.query(`select 1 from ${table}`)).rows).toHaveLength(0);
    await expect(loadAsset(db, id)).rejects.toThrow("no longer there");
  });

  it("has on Home what the newest state shows: its parts and a picture drawn anew after every step", async () => {
    const two = assemble(
      "Two drums",
      "cm",
      [],
      [
        {
          name: "A",
          shape: lathe(
            [
              [1, 0],
              [1, 1],
            ],
            8,
          ),
        },
        {
          name: "B",
          shape: lathe(
            [
              [2, 0],
              [2, 1],
            ],
            8,
          ),
        },
      ],
    );
    const id = await createAsset(db, two);
    const row = async () => (await listAssets(db)).find((a) => a.id === id)!;
    const kept = async () =>
      (await db.query<{ picture: unknown }>("select picture from assets where id = $1", [id])).rows[0]!.picture;
    const picture = () => pictureOf(db, id, { swatch: false });
    const { asset } = await loadAsset(db, id);
    const first = await picture();
    expect(await kept()).not.toBeNull();
    const one = await edit(asset, "take-out", {}, { ...everything(asset), picked: [asset.parts[1]!.id] });
    await save(db, id, 0, asset, one, "Take out");
    expect((await row()).parts).toBe(1);
    expect(await kept()).toBeNull();
    expect(await picture()).not.toEqual(first);
    await stepHistory(db, id, 1, "undo");
    expect((await row()).parts).toBe(2);
    expect(await kept()).toBeNull();
    expect(await picture()).toEqual(first);
    await deleteAsset(db, id);
  });

  it("takes a request that comes twice as one edit", async () => {
    const id = await createAsset(db, drum());
    const { asset } = await loadAsset(db, id);
    const delta = deltaBetween(asset, await edit(asset, "creased"));
    const request = {
      base: 0,
      key: "once",
      operation: "creased",
      options: {},
      scope: { of: "all" },
      words: "Creased",
      figures: null,
      delta,
    };
    const [first, again] = [await appendRevision(db, id, request), await appendRevision(db, id, request)];
    expect(again.history).toEqual(first.history);
    expect(await listRevisions(db, id)).toHaveLength(2);
    expect((await db.query("select scope from revisions where asset = $1 and number = 1", [id])).rows).toEqual([
      { scope: { of: "all" } },
    ]);
  });

  it("jumps to any step, on other branches too, and loses nothing by it", async () => {
    const id = await createAsset(db, drum());
    const zero = (await loadAsset(db, id)).asset;
    const renamed = mapParts(zero, (p) => ({ ...p, name: "Barrel", path: ["Stall"] }));
    await save(db, id, 0, zero, renamed, "Rename");
    const cut = await edit(renamed, "creased");
    await save(db, id, 1, renamed, cut, "Creased");
    await stepHistory(db, id, 2, { to: 0 });
    const opened = await edit(zero, "creased", { angle: 20 });
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
    const there = await stepped(db, two, (await stepHistory(db, id, 4, { to: 2 })).delta);
    expect(there.parts).toEqual(cut.parts);
    expect(there.sets).toEqual(cut.sets);
    expect((await loadAsset(db, id, 3)).asset.sets).toHaveLength(2);
    await expect(stepHistory(db, id, 5, { to: 9 })).rejects.toThrow("no longer there");
  });

  it("reads a state far along a long history from the state kept last, and the same one", async () => {
    const id = await createAsset(db, drum());
    let asset = (await loadAsset(db, id)).asset;
    const names: string[] = [];
    for (let n = 0; n < 120; n++) {
      const next = mapParts(asset, (p) => ({ ...p, name: `Drum ${n}` }));
      await save(db, id, n, asset, next);
      asset = next;
      names.push(`Drum ${n}`);
    }
    forgetManifests(id);
    expect((await db.query("select number from snapshots where asset = $1 order by number", [id])).rows).toEqual([
      { number: 50 },
      { number: 100 },
    ]);
    for (const at of [1, 49, 50, 51, 99, 100, 120])
      expect((await loadAsset(db, id, at)).asset.parts[0]!.name).toBe(names[at - 1]);
    const { delta } = await stepHistory(db, id, 120, { to: 60 });
    expect((await stepped(db, asset, delta)).parts[0]!.name).toBe("Drum 59");
  });

  it("keeps marks, and lets old automatic ones go", async () => {
    const id = await createAsset(db, drum());
    const mark = await addMark(db, id, { name: "Before the seams", note: "as it came" });
    // Its step bears a mark already: the answer is that one.
    expect(await addMark(db, id, { name: "again", automatic: true })).toBe(mark);
    expect((await listMarks(db, id)).map((m) => [m.name, m.number, m.automatic])).toEqual([
      ["Before the seams", 0, false],
    ]);
    await changeMark(db, id, { id: mark, name: "First", note: "better words" });
    expect((await listMarks(db, id))[0]).toMatchObject({ name: "First", note: "better words" });
    await deleteMark(db, id, mark);
    expect(await listMarks(db, id)).toEqual([]);
    await expect(changeMark(db, id, { id: mark, name: "x" })).rejects.toThrow("no longer there");
    await expect(addMark(db, id, { name: "x", number: 7 })).rejects.toThrow("no longer there");
  });

  it("writes in proportion to what an edit changed", async () => {
    const laid = await vase();
    const id = await createAsset(db, laid);
    const size = async () =>
      (await db.query<{ n: number }>("select sum(length(bytes))::int as n from chunks")).rows[0]!.n;
    const whole = await size();
    const layout = layoutAt(laid);
    const uv = layout.uv.slice();
    for (let i = 4000; i < 4100; i++) uv[i]! += 0.01;
    const moved = withLayouts(laid, [{ shape: shapeAt(laid).id, set: "s1", layout: withPoints(layout, uv) }]);
    await save(db, id, 0, laid, moved);
    expect((await size()) - whole).toBeLessThan(0.15 * whole);
    const before = await size();
    await save(
      db,
      id,
      1,
      moved,
      mapParts(moved, (p) => ({ ...p, name: "Tall vase" })),
    );
    expect(await size()).toBe(before);
    expect((await loadAsset(db, id)).asset.parts[0]).toMatchObject({ name: "Tall vase" });
  });

  it("refuses an edit that does not fit the mesh", async () => {
    const id = await createAsset(db, drum());
    const { asset } = await loadAsset(db, id);
    const shape = shapeAt(asset);
    const [part, set] = [asset.parts[0]!, "s1"];
    const broken = { ...shape.mesh, cornerVertex: shape.mesh.cornerVertex.map(() => 999) };
    const nothing = { parts: [], shapes: [], layouts: [] };
    const head = { ...deltaBetween({ ...asset, parts: [] }, asset).head! };
    const bad: Array<[Parameters<typeof saveDelta>[3], string]> = [
      [
        { ...nothing, layouts: [{ shape: shape.id, set, layout: { ...layoutAt(asset), uv: new Float64Array(4) } }] },
        "does not fit together",
      ],
      [{ ...nothing, shapes: [{ id: shape.id, body: { mesh: broken } }] }, "its vertices"],
      [{ ...nothing, layouts: [{ shape: "p9", set, layout: layoutAt(asset) }] }, "a layout that is not there"],
      [
        { ...nothing, head: { ...head, order: ["p1", "p9"] }, parts: [{ ...part, id: "p9", shape: "p7" }] },
        "has no shape",
      ],
      [{ ...nothing, head: { ...head, order: ["p1", "p9"] } }, "a part that is not there"],
      [
        { ...nothing, head: { ...head, images: [{ key: "nowhere", name: "a.png", type: "image/png" }] } },
        "did not come along",
      ],
    ];
    for (const [delta, words] of bad) await expect(saveDelta(db, id, 0, delta)).rejects.toThrow(words);
    expect((await loadAsset(db, id)).history.version).toBe(0);
    await expect(createAsset(db, { ...asset, images: [{ key: "k", name: "a", type: "image/png" }] })).rejects.toThrow(
      "did not come along",
    );
  });

  it("keeps the bytes of source and images", async () => {
    const bytes = Uint8Array.from({ length: 300_000 }, (_, i) => (i * i) >> 3);
    const id = await createAsset(db, {
      ...drum(),
      source: { name: "drum.obj", format: "obj", key: "k1" },
      files: { k1: bytes, k2: Uint8Array.of(7) },
    });
    expect((await filesOf(db, id)).get("k1")).toEqual(bytes);
    expect([...(await filesOf(db, id, "k2"))]).toEqual([["k2", Uint8Array.of(7)]]);
    expect([...(await filesOf(db, id, "constructor"))]).toEqual([]);
  });

  it("takes chunks that another upload has brought meanwhile, and the new ones among them", async () => {
    const chunk = (k: number): [string, Uint8Array] => [k.toString(16).padStart(64, "0"), squeeze(Uint8Array.of(k))];
    await db.addChunks([chunk(1), chunk(2)]);
    await db.addChunks([chunk(2), chunk(3), chunk(1), chunk(4)]);
    const there = await db.chunks([1, 2, 3, 4, 5].map((k) => chunk(k)[0]));
    expect([...there.keys()].sort()).toEqual([1, 2, 3, 4].map((k) => chunk(k)[0]));
    expect(new Uint8Array(there.get(chunk(3)[0])!)).toEqual(new Uint8Array(chunk(3)[1]));
    await db.query("delete from chunks where hash = any($1)", [[...there.keys()]]);
  });

  it("cuts arrays where their content says so, and sends them as they are stored", async () => {
    const long = Float64Array.from({ length: 60_000 }, (_, i) => Math.sin(i * i));
    const longer = Float64Array.from([...long.subarray(0, 20_000), 1, 2, 3, ...long.subarray(20_000)]);
    const names = (a: Float64Array) => cutArrays([a]).rows[0]!.chunks;
    expect(chunkEnds(new Uint8Array(long.buffer)).at(-1)).toBe(480_000);
    const [one, two] = [new Set(names(long)), names(longer)];
    expect(one.size).toBeGreaterThan(10);
    expect(two.filter((n) => !one.has(n)).length).toBeLessThanOrEqual(3);

    const cut = cutArrays([long, new Uint8Array(0)]);
    const lease = await leaseArrays(db, cut.rows);
    await storeChunks(db, cut.rows, lease, async (hashes) => hashes.map((h) => squeeze(cut.chunks.get(h)!)));
    const [a, empty] = cut.rows.map((r) => r.hash) as [string, string];
    const back = await getArrays(db, [a, empty]);
    expect(new Float64Array(back.get(a)!.buffer)).toEqual(long);
    expect(back.get(empty)).toHaveLength(0);
    const sent: Uint8Array[] = [];
    for await (const array of readArrays(await encodeArrays(db, [empty, a]))) sent.push(array);
    expect(sent.map((s) => s.length)).toEqual([0, 480_000]);
    expect(new Float64Array(sent[1]!.buffer)).toEqual(long);
    // As long as an upload has them, nothing collects them; afterwards they go.
    await db.transaction(collectArrays);
    expect((await getArrays(db, [a])).size).toBe(1);
    await releaseArrays(db, lease);
    await db.transaction(collectArrays);
    await expect(getArrays(db, [a])).rejects.toThrow("is missing");
  });
});

let made: Promise<Asset> | undefined;
/** A vase with a layout, made once for both databases. */
function vase(): Promise<Asset> {
  made ??= (async () => {
    const rings: Array<[number, number]> = Array.from({ length: 200 }, (_, i) => [2 + Math.sin(i / 9), i / 50]);
    const big = assemble("Vase", "cm", [], [{ name: "Vase", shape: lathe(rings, 120) }]);
    return edit(await edit(big, "open-up"), "unfold", { passes: 0 });
  })();
  return made;
}
