import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { encodeAsset } from "../../core/formats/asset-bundle";
import { encodeBundle } from "../../core/formats/bundle";
import { encodeDelta } from "../../core/formats/delta-bundle";
import { type Asset, withLayouts } from "../../core/layout/asset";
import { deltaBetween } from "../../core/layout/delta";
import { withPoints } from "../../core/layout/layout";
import { type Database, openDatabase } from "../../server/database";
import { edit, layoutAt, shapeAt } from "../../testing/assets";
import { databaseFolder, drum, removeFolders } from "../../testing/storage";
import { hashesOf } from "../../wire/manifest";
import * as arrays from "./arrays/route";
import * as exportsRoute from "./assets/[id]/exports/route";
import * as files from "./assets/[id]/files/route";
import * as history from "./assets/[id]/history/route";
import * as marks from "./assets/[id]/marks/route";
import * as revisions from "./assets/[id]/revisions/route";
import * as one from "./assets/[id]/route";
import * as step from "./assets/[id]/step/route";
import * as assets from "./assets/route";
import * as decoders from "./decoders/[name]/route";
import * as picture from "./pictures/[id]/route";
import * as pictures from "./pictures/route";

// Every route as the page asks it, over a real database.

let db: Database;
beforeAll(async () => {
  db = await openDatabase(databaseFolder());
  (globalThis as { tavlinDatabase?: Promise<Database> }).tavlinDatabase = Promise.resolve(db);
}, 60_000);
afterAll(async () => {
  await db.close();
  removeFolders();
});

const ask = (path: string, init: RequestInit & { headers?: Record<string, string> } = {}) =>
  new Request(`http://localhost:4410/api/${path}`, { ...init, headers: { host: "localhost:4410", ...init.headers } });
const post = (path: string, body: unknown) =>
  ask(path, { method: "POST", body: body instanceof Uint8Array ? (body as BodyInit) : JSON.stringify(body) });
const at = <P extends object>(params: P) => ({ params: Promise.resolve(params) });

/** A request that must be refused with a sentence, and its status. */
async function refused(answer: Promise<Response>): Promise<[number, string]> {
  const response = await answer;
  const { error } = (await response.json()) as { error: string };
  expect(error).toMatch(/^[A-Z].*[.)]$/);
  // Words of the schema's checker are not for people.
  expect(error).not.toMatch(/expected|received|invalid_type|undefined/i);
  return [response.status, error];
}

const beside = (base: number, key: string) => ({
  base,
  key,
  operation: "test",
  options: {},
  scope: { of: "all" },
  words: "Test",
  figures: null,
});

async function created(asset: Asset = drum()): Promise<string> {
  const answer = await assets.POST(post("assets", encodeAsset(asset)));
  expect(answer.status).toBe(200);
  return ((await answer.json()) as { id: string }).id;
}
const state = async (id: string) =>
  (await (await one.GET(ask(`assets/${id}`), at({ id }))).json()) as {
    history: { version: number };
    state: Parameters<typeof hashesOf>[0];
  };
const send = (id: string, bytes: Uint8Array) => revisions.POST(post(`assets/${id}/revisions`, bytes), at({ id }));

const moved = (asset: Asset, point = 2): Asset => {
  const layout = layoutAt(asset);
  const uv = layout.uv.map((x, i) => (i === 2 * point ? x + 0.125 : x));
  const { id } = shapeAt(asset);
  return withLayouts(asset, [{ shape: id, set: asset.sets[0]!.id, layout: withPoints(layout, uv) }]);
};

describe("the server's routes", () => {
  it("take an asset, tell its state, and hand out its arrays once under their hashes", async () => {
    const id = await created();
    const list = (await (await assets.GET(ask("assets"))).json()) as { assets: Array<{ id: string }> };
    expect(list.assets.map((a) => a.id)).toContain(id);
    const { state: told } = await state(id);
    const answer = await arrays.POST(post("arrays", { hashes: hashesOf(told) }));
    expect(answer.status).toBe(200);
    expect((await answer.arrayBuffer()).byteLength).toBeGreaterThan(100);
    expect(await (await exportsRoute.POST(post("x", {}), at({ id }))).json()).toEqual({ number: 1 });
    await one.DELETE(ask("x", { method: "DELETE" }), at({ id }));
    expect((await refused(one.GET(ask("x"), at({ id }))))[0]).toBe(404);
  });

  it("take an edit that tells only what differs, once, and give it back by undo and redo", async () => {
    const before = await edit(drum(), "creased");
    const id = await created(before);
    const after = moved(before);
    const bytes = encodeDelta(deltaBetween(before, after), beside(0, "first"), {}, before);
    expect(bytes.length).toBeLessThan(encodeDelta(deltaBetween(before, after), beside(0, "first")).length);
    const told = (await (await send(id, bytes)).json()) as { history: { version: number }; delta: unknown };
    expect(told.history.version).toBe(1);
    // The same request again is the same edit, with the same answer.
    expect(await (await send(id, bytes)).json()).toEqual(told);
    const whole = await created(after);
    const layouts = async (asset: string) => (await state(asset)).state.layouts.map((l) => l.refs);
    expect(await layouts(id)).toEqual(await layouts(whole));
    await step.POST(post("x", { base: 1, step: "undo" }), at({ id }));
    expect(await layouts(id)).toEqual(await layouts(await created(before)));
    await step.POST(post("x", { base: 2, step: "redo" }), at({ id }));
    expect(await layouts(id)).toEqual(await layouts(whole));
    const { steps } = (await (await history.GET(ask("x"), at({ id }))).json()) as { steps: unknown[] };
    expect(steps).toHaveLength(2);
  });

  it("refuse an edit written against another state, and change nothing", async () => {
    const before = await edit(drum(), "creased");
    const other = moved(before, 5);
    const id = await created(before);
    const after = moved(other);
    const delta = deltaBetween(other, after);
    const [status, words] = await refused(send(id, encodeDelta(delta, beside(0, "a"), {}, other)));
    expect([status, words]).toEqual([400, "The edit does not fit the state that it was made on."]);
    expect((await refused(send(id, encodeDelta(delta, beside(7, "b"), {}, other))))[0]).toBe(409);
    expect((await refused(send("nobody", encodeDelta(delta, beside(0, "c"), {}, other))))[0]).toBe(404);
    const strange = { ...delta, layouts: delta.layouts.map((l) => ({ ...l, set: "s-none" })) };
    expect((await refused(send(id, encodeDelta(strange, beside(0, "d")))))[0]).toBe(400);
    expect((await state(id)).history.version).toBe(0);
  });

  it("refuse what cannot be read in one sentence", async () => {
    const id = await created();
    const junk: Uint8Array[] = [
      new Uint8Array(0),
      new Uint8Array([1, 2, 3]),
      ...[null, 5, {}, [], { parts: 3 }].map((json) => encodeBundle(json, [])),
      encodeAsset(drum()).subarray(0, 500),
    ];
    for (const bytes of junk) {
      expect((await refused(assets.POST(post("assets", bytes))))[0]).toBe(400);
      expect((await refused(send(id, bytes)))[0]).toBe(400);
    }
    // Shapes within shapes, far deeper than any.
    const body = `${'{"mesh":{},"merged":[{"shape":'.repeat(3000)}0${"}]}".repeat(3000)}`;
    const json = JSON.stringify({ ...beside(0, "deep"), parts: [], shapes: [{ id: "x", body: "?" }], layouts: [] });
    const header = new TextEncoder().encode(`{"json":${json.replace('"?"', body)},"arrays":[]}`);
    const deep = new Uint8Array(8 + header.length);
    deep.set(encodeBundle({}, []).subarray(0, 4));
    new DataView(deep.buffer).setUint32(4, header.length, true);
    deep.set(header, 8);
    expect((await refused(send(id, deep)))[0]).toBe(400);
    for (const body of ["", "[".repeat(1000), "{}", '{"base":-1,"step":"undo"}', '{"base":4294967296,"step":"undo"}'])
      expect((await refused(step.POST(ask("x", { method: "POST", body }), at({ id }))))[0]).toBe(400);
    for (const name of ["", " ", "x".repeat(301), "a\0b", "\ud800"])
      expect(
        (await refused(one.PATCH(ask("x", { method: "PATCH", body: JSON.stringify({ name }) }), at({ id }))))[0],
      ).toBe(400);
    for (const query of ["at=-1", "at=2147483648", "at=x"])
      expect((await refused(one.GET(ask(`x?${query}`), at({ id }))))[0]).toBe(400);
    for (const bad of ["a\0b", "", "x".repeat(200), "\ud800"])
      expect((await refused(one.GET(ask("x"), at({ id: bad }))))[0]).toBe(404);
  });

  it("hand out nothing that objects have by themselves", async () => {
    const id = await created();
    for (const key of ["constructor", "__proto__", "toString"]) {
      expect((await refused(files.GET(ask(`x?key=${key}`), at({ id }))))[0]).toBe(404);
      expect((await refused(decoders.GET(ask("x"), at({ name: key }))))[0]).toBe(404);
    }
    expect((await decoders.GET(ask("x"), at({ name: "draco" }))).headers.get("content-type")).toBe("application/wasm");
  });

  it("keep pictures that are what they say, under their names, until they are deleted", async () => {
    const png = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 1, 2, 3);
    const webp = new TextEncoder().encode("RIFF....WEBPVP8 ");
    const add = async (name: string, bytes: Uint8Array) =>
      pictures.POST(post(`pictures?name=${encodeURIComponent(name)}`, bytes));
    const { id } = (await (await add("Grain of oak.png", png)).json()) as { id: string };
    await add("Weave", webp);
    const list = async () =>
      ((await (await pictures.GET(ask("pictures"))).json()) as { pictures: Array<{ name: string }> }).pictures.map(
        (p) => p.name,
      );
    expect(await list()).toEqual(["Grain of oak.png", "Weave"]);
    const back = await picture.GET(ask("x"), at({ id }));
    expect([back.headers.get("content-type"), back.headers.get("x-content-type-options")]).toEqual([
      "image/png",
      "nosniff",
    ]);
    expect(new Uint8Array(await back.arrayBuffer())).toEqual(png);
    const [status, words] = await refused(add("page.png", new TextEncoder().encode("<html>")));
    expect([status, words]).toEqual([
      400,
      "The file page.png is no picture that can be shown: PNG, JPEG and WebP are.",
    ]);
    expect((await refused(pictures.POST(post("pictures?name=", png))))[0]).toBe(400);
    const long = new Uint8Array(16 * 1024 * 1024 + 1);
    long.set(png);
    expect((await refused(add("long.png", long)))[1]).toContain("over the limit of 16 MB");
    await picture.DELETE(ask("x", { method: "DELETE" }), at({ id }));
    expect(await list()).toEqual(["Weave"]);
    for (const act of [picture.GET, picture.DELETE]) expect((await refused(act(ask("x"), at({ id }))))[0]).toBe(404);
  });

  it("keep marks, and answer only with those that are there", async () => {
    const id = await created();
    const mark = async (body: object) =>
      ((await (await marks.POST(post("x", body), at({ id }))).json()) as { id: string }).id;
    const kept = await mark({ name: "Before the cuts" });
    const there = async () =>
      ((await (await history.GET(ask("x"), at({ id }))).json()) as { marks: Array<{ id: string }> }).marks.map(
        (m) => m.id,
      );
    expect(await there()).toEqual([kept]);
    const automatic = await mark({ name: "Handed off", automatic: true });
    expect(await there()).toContain(automatic);
    expect((await refused(marks.POST(post("x", { name: "Far", number: 99 }), at({ id }))))[0]).toBe(404);
    await marks.DELETE(ask(`x?mark=${kept}`, { method: "DELETE" }), at({ id }));
    expect(await there()).not.toContain(kept);
  });

  it("read no more of a body than its limit, and nothing of a stranger's", async () => {
    const id = await created();
    let sent = 0;
    const endless = () =>
      new ReadableStream<Uint8Array>({
        pull(controller) {
          sent += 65_536;
          controller.enqueue(new Uint8Array(65_536).fill(91));
        },
      });
    const streamed = (headers: Record<string, string>) =>
      ask("x", { method: "POST", body: endless(), duplex: "half", headers } as RequestInit & {
        headers: Record<string, string>;
      });
    expect((await refused(step.POST(streamed({}), at({ id }))))[0]).toBe(413);
    expect(sent).toBeLessThan(2 * 1024 * 1024);
    sent = 0;
    expect((await refused(assets.POST(streamed({ origin: "https://elsewhere.example" }))))[0]).toBe(403);
    expect((await refused(assets.POST(streamed({ host: "elsewhere.example" }))))[0]).toBe(421);
    expect(sent).toBeLessThan(200_000);
  });
});
