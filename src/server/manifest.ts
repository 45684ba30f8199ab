import { gunzipSync, gzipSync } from "node:zlib";
import { z } from "zod";
import { BodyJson, HeadJson, PartJson } from "../core/formats/asset-json";
import type { ShapeId, UvSetId } from "../core/layout/asset";
import { LayoutRefs, type Manifest, type ManifestDelta, type ShapeRefs } from "../wire/manifest";
import type { Queries } from "./queries";

// The state of an asset at a revision, with arrays named by their hashes: of head, parts, shapes and layouts the newest
// rows among the revision's ancestors, beginning from the nearest state that was kept whole.

/** States that are kept whole: one of so many revisions, so that no walk is longer. */
export const SNAPSHOT_EVERY = 50;

const LINE = `with recursive line as (
   select r.number, r.parent, exists(select 1 from snapshots s where s.asset = r.asset and s.number = r.number) as kept
   from revisions r where r.asset = $1 and r.number = $2
   union all
   select r.number, r.parent, exists(select 1 from snapshots s where s.asset = r.asset and s.number = r.number)
   from revisions r join line on r.asset = $1 and r.number = line.parent and r.number < line.number where not line.kept
 ) select number, kept from line order by number`;

/** Newest manifests, so that an edit after an edit reads no rows. Kept outside the bundle's modules, as the database is. */
const shared = globalThis as typeof globalThis & { tavlinManifests?: Map<string, Manifest> };
shared.tavlinManifests ??= new Map();
const kept = shared.tavlinManifests;
const MOST_KEPT = 24;

export function keepManifest(asset: string, number: number, manifest: Manifest): Manifest {
  const key = `${asset}/${number}`;
  kept.delete(key);
  kept.set(key, manifest);
  for (const old of kept.keys()) if (kept.size > MOST_KEPT) kept.delete(old);
  return manifest;
}

/** Lets go of what is kept of an asset: its transaction did not come through, or it is gone. */
export function forgetManifests(asset: string): void {
  for (const key of kept.keys()) if (key.startsWith(`${asset}/`)) kept.delete(key);
}

/** How an asset stands at a revision. @throws when there is none */
export async function manifestAt(db: Queries, asset: string, number: number): Promise<Manifest> {
  const known = kept.get(`${asset}/${number}`);
  if (known) return keepManifest(asset, number, known);
  const { rows: line } = await db.query<{ number: number; kept: boolean }>(LINE, [asset, number]);
  let manifest: Manifest = { head: null, parts: new Map(), shapes: new Map(), layouts: new Map() };
  const start = line[0];
  if (start?.kept) manifest = await snapshotAt(db, asset, start.number);
  const numbers = line.filter((l) => !l.kept).map((l) => l.number);
  if (numbers.length) manifest = await withRows(db, asset, manifest, numbers);
  if (!manifest.head) throw new Error(`Asset ${asset} has no revision ${number}.`);
  return keepManifest(asset, number, onlyUsed(manifest));
}

/** A manifest with what some revisions changed, the oldest first. */
async function withRows(db: Queries, asset: string, from: Manifest, numbers: readonly number[]): Promise<Manifest> {
  const newest = (table: string, keys: string, columns: string) =>
    `select distinct on (${keys}) ${columns} from ${table} where asset = $1 and number = any($2) order by ${keys}, number desc`;
  const heads = await db.query<{ record: unknown }>(
    "select record from revision_heads where asset = $1 and number = any($2) order by number desc limit 1",
    [asset, numbers],
  );
  const parts = await db.query<{ part: string; record: unknown }>(newest("revision_parts", "part", "part, record"), [
    asset,
    numbers,
  ]);
  const shapes = await db.query<{ shape: ShapeId; body: unknown; arrays: string[] }>(
    newest("revision_shapes", "shape", "shape, body, arrays"),
    [asset, numbers],
  );
  const layouts = await db.query<{ shape: ShapeId; set_id: UvSetId } & Record<keyof LayoutRefs, string | null>>(
    newest("revision_layouts", "shape, set_id", "shape, set_id, cut, mapped, uv, pinned"),
    [asset, numbers],
  );
  const out: Manifest = {
    head: heads.rows[0] ? HeadJson.parse(heads.rows[0].record) : from.head,
    parts: new Map(from.parts),
    shapes: new Map(from.shapes),
    layouts: new Map(from.layouts),
  };
  for (const { part, record } of parts.rows) out.parts.set(part, PartJson.parse(record));
  for (const { shape, body, arrays } of shapes.rows) out.shapes.set(shape, { body: BodyJson.parse(body), arrays });
  for (const { shape, set_id, cut, mapped, uv, pinned } of layouts.rows) {
    const key = `${shape}/${set_id}`;
    if (cut) out.layouts.set(key, { cut, mapped: mapped!, uv: uv!, pinned: pinned! });
    else out.layouts.delete(key);
  }
  return out;
}

/** Without parts that are no longer in the list, shapes that none of them draws, and layouts of those. */
export function onlyUsed(m: Manifest): Manifest {
  const parts = new Map(m.head!.order.map((id) => [id, m.parts.get(id)!]));
  const used = new Set([...parts.values()].map((p) => p.shape));
  const sets = new Set(m.head!.sets.map((s) => s.id));
  const shapes = new Map([...m.shapes].filter(([id]) => used.has(id)));
  const layouts = new Map(
    [...m.layouts].filter(([key]) => {
      const [shape, set] = splitKey(key);
      return used.has(shape) && sets.has(set);
    }),
  );
  return { head: m.head, parts, shapes, layouts };
}

/** Ids of sets hold no slash; those of shapes may. */
export function splitKey(key: string): [ShapeId, UvSetId] {
  const at = key.lastIndexOf("/");
  return [key.slice(0, at), key.slice(at + 1)];
}

const Snapshot = z.object({
  head: HeadJson,
  parts: z.array(PartJson),
  shapes: z.array(z.tuple([z.string(), z.object({ body: BodyJson, arrays: z.array(z.string()) })])),
  layouts: z.array(z.tuple([z.string(), LayoutRefs])),
});

export async function keepSnapshot(db: Queries, asset: string, number: number, m: Manifest): Promise<void> {
  const json = { head: m.head, parts: [...m.parts.values()], shapes: [...m.shapes], layouts: [...m.layouts] };
  await db.query("insert into snapshots (asset, number, state) values ($1, $2, $3) on conflict do nothing", [
    asset,
    number,
    gzipSync(JSON.stringify(json), { level: 1 }),
  ]);
}

async function snapshotAt(db: Queries, asset: string, number: number): Promise<Manifest> {
  const { rows } = await db.query<{ state: Uint8Array }>(
    "select state from snapshots where asset = $1 and number = $2",
    [asset, number],
  );
  const json = Snapshot.parse(JSON.parse(gunzipSync(rows[0]!.state).toString()));
  return {
    head: json.head,
    parts: new Map(json.parts.map((p) => [p.id, p])),
    shapes: new Map(json.shapes),
    layouts: new Map(json.layouts),
  };
}

const sameRefs = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((x, i) => x === b[i]);
const sameShape = (a: ShapeRefs | undefined, b: ShapeRefs): boolean =>
  a === b || (a !== undefined && sameRefs(a.arrays, b.arrays) && JSON.stringify(a.body) === JSON.stringify(b.body));
const sameLayout = (a: LayoutRefs | undefined, b: LayoutRefs | undefined): boolean =>
  a === b || (!!a && !!b && a.cut === b.cut && a.mapped === b.mapped && a.uv === b.uv && a.pinned === b.pinned);

/** What leads from one state to another. */
export function manifestDelta(before: Manifest, after: Manifest): ManifestDelta {
  const parts = [...after.parts.values()].filter((p) => {
    const was = before.parts.get(p.id);
    return was !== p && JSON.stringify(was) !== JSON.stringify(p);
  });
  const shapes = [...after.shapes].flatMap(([id, refs]) =>
    sameShape(before.shapes.get(id), refs) ? [] : [{ id, ...refs }],
  );
  const layouts = [...after.layouts].flatMap(([key, refs]) => {
    if (sameLayout(before.layouts.get(key), refs)) return [];
    const [shape, set] = splitKey(key);
    return [{ shape, set, refs: refs as LayoutRefs | null }];
  });
  for (const key of before.layouts.keys()) {
    const [shape, set] = splitKey(key);
    const there = after.shapes.has(shape) && after.head!.sets.some((s) => s.id === set);
    if (there && !after.layouts.has(key)) layouts.push({ shape, set, refs: null });
  }
  const sameHead = JSON.stringify(before.head) === JSON.stringify(after.head);
  return { ...(sameHead ? {} : { head: after.head! }), parts, shapes, layouts };
}
