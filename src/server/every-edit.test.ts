import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { pepperMill } from "../../demo/models/pepper-mill";
import { encodeDelta } from "../core/formats/delta-bundle";
import { type Asset, fileKey, shapesOf } from "../core/layout/asset";
import { deltaBetween } from "../core/layout/delta";
import { shellName, structureOf } from "../core/layout/layout";
import { isUserError } from "../core/layout/user-error";
import type { Shell } from "../core/mesh/indices";
import type { AnyOperation, Scope } from "../core/operations/operation";
import { OPERATIONS } from "../core/operations/registry";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";
import { edit, laidOutModel, picking, pickingParts, quiet } from "../testing/assets";
import { databaseFolder, removeFolders } from "../testing/storage";
import { createAsset, loadAsset } from "./assets";
import { type Database, openDatabase } from "./database";
import { receiveEdit, stepHistory } from "./revisions";

// What the page sends of every edit there is, the database keeps: the same asset comes back from it, and undo leads back
// to the one before.

/** Everything of an asset in letters, whichever arrays share their memory, in whatever order fields and shapes are. */
const print = (asset: Asset): string =>
  JSON.stringify(asset, (_, value) => {
    if (value instanceof Map) return [...value].sort(([p], [q]) => (p < q ? -1 : 1));
    if (ArrayBuffer.isView(value)) return fileKey(new Uint8Array(value.buffer, value.byteOffset, value.byteLength));
    return value && typeof value === "object" && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([p], [q]) => (p < q ? -1 : 1)))
      : value;
  });

/** Something for every option that has to be given. */
const OPTIONS = {
  name: "Another",
  why: "signed off",
  from: "p2",
  turns: "none",
  search: "quick",
  passes: 1,
  angle: 30,
  du: 0.25,
};

/** Ways to ask: of all, of one part, of a few elements; in both UV sets. */
function scopesOf(asset: Asset, op: AnyOperation): Scope[] {
  const shape = shapesOf(asset)[0]!;
  const layout = shape.layouts.get("s1")!;
  const s = structureOf(shape.mesh, layout);
  const shells = [shellName(s, 0 as Shell)];
  const cut = layout.cut.findIndex((byte) => byte !== 0) * 8;
  const edges = Array.from({ length: 8 }, (_, k) => cut + k);
  const ways = [
    ...(op.picks ? [] : [everything(asset)]),
    pickingParts(asset, [asset.parts[0]!.id]),
    picking(asset, "edges", edges),
    picking(asset, "shells", shells),
    picking(asset, "faces", [0, 1]),
  ];
  // Packing takes seconds, and does the same for a part as for all.
  const asked = op.id === "packed-set" ? ways.slice(0, 1) : ways;
  // What was meant is nothing to the database: in the second set one way will do.
  return asset.sets.flatMap(({ id }, k) => (k ? asked.slice(0, 1) : asked).map((way) => ({ ...way, set: id })));
}

describe("every edit", () => {
  let db: Database;
  let id: string;
  let asset: Asset;
  const done = new Set<string>();
  beforeAll(async () => {
    db = await openDatabase(databaseFolder());
    id = await createAsset(db, await edit(await laidOutModel(pepperMill), "duplicate-set", { name: "Second" }));
    asset = (await loadAsset(db, id)).asset;
  }, 60_000);
  afterAll(async () => {
    await db.close();
    removeFolders();
  });

  const EDITS = OPERATIONS.filter((op) => op.kind === "edit" && op.needs !== "file" && op.id !== "draft");
  it.each(EDITS.map((op) => [op.id, op] as const))("%s is kept as it was sent, and undone", async (_, op) => {
    for (const scope of scopesOf(asset, op)) {
      const after = await runEdit(asset, op.id, OPTIONS, scope, quiet).then((r) => r.asset, refused);
      if (!after) continue;
      const { version } = (await loadAsset(db, id)).history;
      const request = { base: version, key: randomUUID(), operation: op.id, options: {}, scope: null, words: op.title };
      await receiveEdit(db, id, encodeDelta(deltaBetween(asset, after), { ...request, figures: null }, {}, asset));
      expect(print((await loadAsset(db, id)).asset)).toBe(print(after));
      await stepHistory(db, id, version + 1, "undo");
      expect(print((await loadAsset(db, id)).asset)).toBe(print(asset));
      done.add(op.id);
      if (op.big) return;
    }
  });

  it("was tried, most of them: the others find nothing to do on this asset", () => {
    expect(done.size).toBeGreaterThan(EDITS.length / 2);
  });
});

function refused(error: unknown): null {
  if (isUserError(error)) return null;
  throw error;
}
