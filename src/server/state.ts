import {
  Arrays,
  BodyJson,
  bodyJson,
  HeadJson,
  RecordJson,
  readBody,
  readHead,
  readRecord,
} from "../core/formats/asset-json";
import type { Numbers } from "../core/formats/bundle";
import type { Asset, PartBody, PartId } from "../core/layout/asset";
import {
  type AssetDelta,
  type AssetHead,
  type LayoutChangeOrNone,
  type PartChange,
  withDelta,
} from "../core/layout/delta";
import type { UvSet } from "../core/layout/uv-set";
import { getArrays, putArrays } from "./arrays";
import type { Queries } from "./database";

// The state of an asset at a revision: of head, parts and layouts the newest rows along the line of its ancestors.

interface PartRow {
  part: PartId;
  number: number;
  record: unknown;
  body: unknown;
  arrays: string[];
}

interface LayoutRow {
  part: PartId;
  set_id: string;
  number: number;
  cut: string | null;
  mapped: string | null;
  uv: string | null;
  pinned: string | null;
}

export interface Rows {
  readonly head: AssetHead;
  readonly headNumber: number;
  readonly parts: ReadonlyMap<PartId, PartRow>;
  /** By `part/set id`. */
  readonly layouts: ReadonlyMap<string, LayoutRow>;
}

const LINE = `with recursive line as (
   select number, parent from revisions where asset = $1 and number = $2
   union all
   select r.number, r.parent from revisions r join line on r.asset = $1 and r.number = line.parent
 )`;

/** The rows that make up an asset at a revision. */
export async function rowsAt(db: Queries, asset: string, number: number): Promise<Rows> {
  const heads = await db.query<{ number: number; record: unknown }>(
    `${LINE} select h.number, h.record from revision_heads h join line on line.number = h.number
     where h.asset = $1 order by h.number desc limit 1`,
    [asset, number],
  );
  const parts = await db.query<PartRow>(
    `${LINE} select distinct on (p.part) p.part, p.number, p.record, p.body, p.arrays from revision_parts p
     join line on line.number = p.number where p.asset = $1 order by p.part, p.number desc`,
    [asset, number],
  );
  const layouts = await db.query<LayoutRow>(
    `${LINE} select distinct on (l.part, l.set_id) l.part, l.set_id, l.number, l.cut, l.mapped, l.uv, l.pinned
     from revision_layouts l join line on line.number = l.number
     where l.asset = $1 order by l.part, l.set_id, l.number desc`,
    [asset, number],
  );
  return {
    head: readHead(HeadJson.parse(heads.rows[0]!.record)),
    headNumber: heads.rows[0]!.number,
    parts: new Map(parts.rows.map((r) => [r.part, r])),
    layouts: new Map(layouts.rows.map((r) => [`${r.part}/${r.set_id}`, r])),
  };
}

const sameShape = (a: PartRow, b: PartRow): boolean =>
  a.arrays.length === b.arrays.length &&
  a.arrays.every((x, i) => x === b.arrays[i]) &&
  JSON.stringify(a.body) === JSON.stringify(b.body);

/** What leads from one state to another, arrays fetched for what differs; everything when there is none before. */
export async function deltaOfRows(db: Queries, before: Rows | null, after: Rows): Promise<AssetDelta> {
  const oldParts = new Set(before?.head.order);
  const oldSets = new Set(before?.head.sets.map((s) => s.id));
  const changed: Array<{ row: PartRow; kept: boolean }> = [];
  const laid: Array<{ row: LayoutRow; set: number } | { part: PartId; set: number; row: null }> = [];
  for (const id of after.head.order) {
    const row = after.parts.get(id)!;
    const was = oldParts.has(id) ? before!.parts.get(id) : undefined;
    if (was?.number !== row.number) changed.push({ row, kept: was !== undefined && sameShape(was, row) });
    after.head.sets.forEach(({ id: setId }, set) => {
      const now = after.layouts.get(`${id}/${setId}`);
      const old = was && oldSets.has(setId) ? before!.layouts.get(`${id}/${setId}`) : undefined;
      if (now?.number === old?.number) return;
      if (now?.cut) laid.push({ row: now, set });
      else if (old?.cut) laid.push({ part: id, set, row: null });
    });
  }
  const arrays = await getArrays(db, [
    ...changed.flatMap(({ row, kept }) => (kept ? [] : row.arrays)),
    ...laid.flatMap(({ row }) => (row ? [row.cut!, row.mapped!, row.uv!, row.pinned!] : [])),
  ]);
  const sameHead = before && JSON.stringify(before.head) === JSON.stringify(after.head);
  return {
    ...(sameHead ? {} : { head: after.head }),
    parts: changed.map(({ row, kept }) => partChange(row, kept, arrays)),
    layouts: laid.map(
      (l): LayoutChangeOrNone =>
        l.row
          ? { part: l.row.part, set: l.set, layout: layoutOf(l.row, arrays) }
          : { part: l.part, set: l.set, layout: null },
    ),
  };
}

type Contents = ReadonlyMap<string, Uint8Array<ArrayBuffer>>;

const layoutOf = (row: LayoutRow, arrays: Contents): UvSet => ({
  cut: arrays.get(row.cut!)!,
  mapped: arrays.get(row.mapped!)!,
  uv: new Float64Array(arrays.get(row.uv!)!.buffer),
  pinned: arrays.get(row.pinned!)!,
});

function partChange(row: PartRow, kept: boolean, arrays: Contents): PartChange {
  const record = readRecord(RecordJson.parse(row.record));
  if (kept || row.body === null) return { record };
  const body = BodyJson.parse(row.body);
  const kinds = arrayKinds(body);
  const list = row.arrays.map((hash, i): Numbers => {
    const bytes = arrays.get(hash)!;
    return new kinds[i]!(bytes.buffer, 0, bytes.length / kinds[i]!.BYTES_PER_ELEMENT);
  });
  return { record, body: readBody(body, list, record.name) };
}

type Kind = Uint8ArrayConstructor | Uint32ArrayConstructor | Float32ArrayConstructor | Float64ArrayConstructor;
const KIND_OF: Record<string, Kind> = {
  positions: Float64Array,
  uv: Float64Array,
  cornerNormal: Float32Array,
  cut: Uint8Array,
  mapped: Uint8Array,
  pinned: Uint8Array,
};

/** Of what kind each array of a body is: told by the keys that name it. */
function arrayKinds(body: unknown): Kind[] {
  const kinds: Kind[] = [];
  const visit = (value: unknown) => {
    if (Array.isArray(value)) value.forEach(visit);
    else if (value && typeof value === "object")
      for (const [key, inner] of Object.entries(value)) {
        if (key === "record") continue;
        if (typeof inner === "number") kinds[inner] = KIND_OF[key] ?? Uint32Array;
        else visit(inner);
      }
  };
  visit(body);
  return kinds;
}

/**
 * Writes what a revision changes: rows for it, and arrays that are new.
 *
 * @param setIds ids of the UV sets as they are after it, which the layouts refer to by place
 */
export async function putDelta(
  db: Queries,
  asset: string,
  number: number,
  delta: AssetDelta,
  setIds: readonly string[],
): Promise<void> {
  if (delta.head)
    await db.query("insert into revision_heads (asset, number, record) values ($1, $2, $3)", [
      asset,
      number,
      JSON.stringify(delta.head),
    ]);
  const bodies = delta.parts.map(({ record, body }) => ({ record, ...packed(body) }));
  const layouts = delta.layouts.flatMap(({ layout: l }) => (l ? [l.cut, l.mapped, l.uv, l.pinned] : []));
  const hashes = await putArrays(db, [...bodies.flatMap((b) => b.list), ...layouts]);
  let at = 0;
  for (const { record, json, list } of bodies) {
    const own = hashes.slice(at, at + list.length);
    at += list.length;
    await db.query(
      "insert into revision_parts (asset, number, part, record, body, arrays) values ($1, $2, $3, $4, $5, $6)",
      [asset, number, record.id, JSON.stringify(record), json && JSON.stringify(json), own],
    );
  }
  for (const { part, set, layout } of delta.layouts) {
    const [cut, mapped, uv, pinned] = layout ? hashes.slice(at, at + 4) : [null, null, null, null];
    if (layout) at += 4;
    await db.query(
      "insert into revision_layouts (asset, number, part, set_id, cut, mapped, uv, pinned) values ($1, $2, $3, $4, $5, $6, $7, $8)",
      [asset, number, part, setIds[set], cut, mapped, uv, pinned],
    );
  }
}

function packed(body: PartBody | undefined): { json: unknown; list: Numbers[] } {
  if (!body) return { json: null, list: [] };
  const arrays = new Arrays();
  const json = bodyJson(body, arrays);
  return { json, list: arrays.list };
}

const EMPTY_ASSET: Omit<Asset, "id" | "name"> = {
  unit: "m",
  up: "y",
  sets: [],
  parts: [],
  materials: [],
  images: [],
  source: { name: "", format: "made" },
};

/**
 * Assets as they stood, by id and revision: a revision never changes, so neither does its state. Kept outside the
 * bundle's modules, which a server may load more than once.
 */
const shared = globalThis as typeof globalThis & { tavlinStates?: Map<string, Asset> };
shared.tavlinStates ??= new Map();
const kept = shared.tavlinStates;
const MOST_KEPT = 4;

export function keepState(id: string, number: number, asset: Asset): Asset {
  kept.delete(`${id}/${number}`);
  kept.set(`${id}/${number}`, asset);
  for (const key of kept.keys()) if (kept.size > MOST_KEPT) kept.delete(key);
  return asset;
}

/** An asset as it stands at a revision, without the bytes of its files. */
export async function stateAt(db: Queries, id: string, number: number): Promise<Asset> {
  const known = kept.get(`${id}/${number}`);
  if (known) return keepState(id, number, known);
  const delta = await deltaOfRows(db, null, await rowsAt(db, id, number));
  return keepState(id, number, withDelta({ id, name: "", ...EMPTY_ASSET }, delta));
}
