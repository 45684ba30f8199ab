import { randomUUID } from "node:crypto";
import { isUserError, UserError } from "../core/layout/user-error";
import type { ManifestDelta } from "../wire/manifest";
import { arrayRows, collectArrays, leaseArrays, releaseArrays } from "./arrays";
import { headOf } from "./assets";
import { type Entry, packChunks, readEntries, unpackChunks, writeEntries } from "./backup-format";
import { ArrayLine, AssetRows, hashesOfRows, OldBackup, readOldRows } from "./backup-rows";
import { hashOf, unsqueeze } from "./chunks";
import type { Database } from "./database";
import { onlyUsed } from "./manifest";
import type { Queries } from "./queries";
import { provide, withManifestDelta } from "./store";

const ABOUT = "tavlin-backup.json";
const ARRAYS = "arrays.ndjson";
/** Bytes of chunks in a pack. */
const PACK = 8 * 1024 * 1024;

const TABLES = [
  "revisions",
  "revision_heads",
  "revision_parts",
  "revision_shapes",
  "revision_layouts",
  "asset_files",
  "marks",
] as const;

const text = (json: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(json));

/** Everything of one asset, or of all, as a stream of bytes. @throws UserError when there is nothing */
export async function makeBackup(db: Database, id?: string): Promise<AsyncIterable<Uint8Array>> {
  if (id !== undefined) await headOf(db, id);
  const ids = await db.query<{ id: string }>(
    "select id from assets where $1::text is null or id = $1 order by created_at",
    [id ?? null],
  );
  if (!ids.rows.length) throw new UserError("There is nothing to back up.");
  return writeEntries(
    entriesOf(
      db,
      ids.rows.map((r) => r.id),
    ),
  );
}

async function* entriesOf(db: Database, ids: readonly string[]): AsyncGenerator<Entry> {
  yield { name: ABOUT, bytes: text({ tavlinBackup: 2 }) };
  // Rows first, each asset's in one look; their arrays stay as long as the lease does.
  const assets: AssetRows[] = [];
  for (const id of ids) assets.push(await db.transaction((tx) => rowsOf(tx, id)));
  const rows = [...(await arrayRows(db, assets.flatMap(hashesOfRows))).values()];
  const lease = await leaseArrays(db, rows);
  try {
    const names = [...new Set(rows.flatMap((r) => r.chunks))];
    let pack = new Map<string, Uint8Array>();
    let size = 0;
    let packs = 0;
    for (let i = 0; i < names.length; i += 256) {
      for (const [hash, bytes] of await db.chunks(names.slice(i, i + 256))) {
        pack.set(hash, bytes);
        size += bytes.length;
      }
      if (size < PACK && i + 256 < names.length) continue;
      yield { name: `packs/${++packs}`, bytes: packChunks(pack) };
      pack = new Map();
      size = 0;
    }
    const lines = rows.map(({ hash, size: bytes, chunks }) => JSON.stringify({ hash, size: bytes, chunks }));
    yield { name: ARRAYS, bytes: new TextEncoder().encode(lines.join("\n")) };
    for (const [i, asset] of assets.entries()) yield { name: `assets/${i + 1}.json`, bytes: text(asset) };
  } finally {
    await releaseArrays(db, lease);
  }
}

async function rowsOf(db: Queries, id: string): Promise<AssetRows> {
  const asset = await db.query(
    `select id, name, version, head, figures, parts, exports, created_at::text as created_at, updated_at::text as updated_at
     from assets where id = $1`,
    [id],
  );
  const out: Record<string, unknown> = { asset: asset.rows[0] };
  for (const table of TABLES)
    out[table] = (
      await db.query(`select to_jsonb(t) - 'asset' - 'key' as row from ${table} t where asset = $1`, [id])
    ).rows.map((r) => r.row);
  // Files are named by key, which that column holds, so it stays.
  out.asset_files = (await db.query("select key, array_hash from asset_files where asset = $1", [id])).rows;
  return AssetRows.parse(out);
}

/** What was read of a backup before anything of it counts. */
interface Reading {
  readonly arrays: ArrayLine[];
  readonly assets: AssetRows[];
}

/**
 * Puts what a backup holds beside what is there; an asset that is there already comes as another one. Chunks are checked
 * and stored as they come; assets count only when everything has been checked.
 *
 * @returns ids of the assets
 * @throws UserError when it is damaged; then nothing of it is left
 */
export async function restoreBackup(db: Database, bytes: AsyncIterable<Uint8Array>, name: string): Promise<string[]> {
  const bad = (why: string) => new UserError(`${name} is not a backup that can be read: ${why}.`);
  try {
    const { arrays, assets } = await readParts(db, bytes, name, bad);
    if (!assets.length) throw bad("it holds no asset");
    const listed = new Map(arrays.map((a) => [a.hash, a]));
    if (!assets.flatMap(hashesOfRows).every((h) => listed.has(h))) throw bad("an array is missing");
    const lease = await leaseArrays(db, arrays);
    try {
      await checkArrays(db, lease.lacking, listed, bad);
      for (const rows of assets) await checkHistory(db, rows, bad);
      return await db.transaction(async (tx) => {
        const ids: string[] = [];
        for (const rows of assets) ids.push(await putRows(tx, rows));
        return ids;
      });
    } finally {
      await releaseArrays(db, lease);
    }
  } catch (error) {
    // Chunks of a backup that was refused are of no use to anybody.
    await db.transaction(collectArrays);
    throw error;
  }
}

async function readParts(
  db: Database,
  bytes: AsyncIterable<Uint8Array>,
  name: string,
  bad: (why: string) => UserError,
): Promise<Reading> {
  const out: Reading = { arrays: [], assets: [] };
  const json = (entry: Entry): unknown => {
    try {
      return JSON.parse(new TextDecoder().decode(entry.bytes));
    } catch {
      throw bad("its list is broken or missing");
    }
  };
  let begun = false;
  let waiting = new Map<string, Uint8Array>();
  for await (const entry of readEntries(bytes, name)) {
    if (!begun && entry.name !== ABOUT) throw bad("its list is broken or missing");
    begun = true;
    if (entry.name === ABOUT) takeAbout(json(entry), out, bad);
    else if (entry.name.startsWith("chunks/")) {
      waiting.set(entry.name.slice(7), entry.bytes);
      if (waiting.size < 64) continue;
      await putChunks(db, waiting, bad);
      waiting = new Map();
    } else if (entry.name.startsWith("packs/")) await putChunks(db, chunksOf(entry, bad), bad);
    else if (entry.name === ARRAYS) takeArrays(entry, out, bad);
    else if (entry.name.startsWith("assets/")) out.assets.push(parsed(() => AssetRows.parse(json(entry)), bad));
  }
  await putChunks(db, waiting, bad);
  return out;
}

function parsed<T>(read: () => T, bad: (why: string) => UserError): T {
  try {
    return read();
  } catch (error) {
    throw isUserError(error) ? error : bad("its rows are not as they should be");
  }
}

/** The list of a backup of before holds everything but the chunks. */
function takeAbout(raw: unknown, out: Reading, bad: (why: string) => UserError): void {
  const version = (raw as { tavlinBackup?: unknown } | null)?.tavlinBackup;
  if (version === 2) return;
  if (version !== 1) throw bad("it was written by another version of Tavlin, or is no backup");
  const old = parsed(() => OldBackup.parse(raw), bad);
  for (const { hash, chunks } of old.arrays) out.arrays.push({ hash, size: 0, chunks });
  for (const rows of old.assets) out.assets.push(parsed(() => readOldRows(rows), bad));
}

function takeArrays(entry: Entry, out: Reading, bad: (why: string) => UserError): void {
  for (const line of new TextDecoder().decode(entry.bytes).split("\n"))
    if (line) out.arrays.push(parsed(() => ArrayLine.parse(JSON.parse(line)), bad));
}

function chunksOf(entry: Entry, bad: (why: string) => UserError): Map<string, Uint8Array> {
  try {
    return unpackChunks(entry.bytes);
  } catch {
    throw bad("a part of its data is missing or damaged");
  }
}

/** A chunk of a backup may unpack to so much; those of the first databases held whole arrays. */
const MOST_UNPACKED = 64 * 1024 * 1024;

/** Stores chunks that hold what their names say. */
async function putChunks(
  db: Database,
  chunks: ReadonlyMap<string, Uint8Array>,
  bad: (why: string) => UserError,
): Promise<void> {
  const rows: Array<[string, Uint8Array]> = [];
  for (const [hash, bytes] of chunks) {
    let whole = false;
    try {
      whole = hashOf(unsqueeze(bytes, MOST_UNPACKED)) === hash;
    } catch {}
    if (!whole) throw bad("a part of its data is missing or damaged");
    rows.push([hash, bytes]);
    if (rows.length < 32) continue;
    await db.addChunks(rows.splice(0));
  }
  if (rows.length) await db.addChunks(rows);
}

/** Marks arrays whole whose chunks give the content that their hashes say. */
async function checkArrays(
  db: Database,
  hashes: readonly string[],
  listed: ReadonlyMap<string, ArrayLine>,
  bad: (why: string) => UserError,
): Promise<void> {
  for (let i = 0; i < hashes.length; i += 16) {
    const part = hashes.slice(i, i + 16);
    const chunks = await db.chunks([...new Set(part.flatMap((h) => listed.get(h)!.chunks))]);
    const sizes: number[] = [];
    for (const hash of part) {
      const list = listed.get(hash)!.chunks.map((c) => chunks.get(c));
      if (!list.every((c) => c !== undefined)) throw bad("a part of its data is missing or damaged");
      const content = Buffer.concat(list.map((c) => unsqueeze(c, MOST_UNPACKED)));
      if (hashOf(content) !== hash) throw bad("an array is not what its name says");
      sizes.push(content.length);
    }
    await db.query(
      `update arrays a set is_whole = true, size = u.size, chunks = array(select jsonb_array_elements_text(u.chunks))
       from (select r->>'hash' as hash, (r->>'size')::bigint as size, r->'chunks' as chunks from jsonb_array_elements($1::jsonb) r) u
       where a.hash = u.hash and not a.is_whole`,
      [JSON.stringify(part.map((hash, k) => ({ hash, size: sizes[k], chunks: listed.get(hash)!.chunks })))],
    );
  }
}

/** Goes through an asset's history from the first step and checks every one, arrays included. @throws UserError */
async function checkHistory(db: Database, rows: AssetRows, bad: (why: string) => UserError): Promise<void> {
  const service = db.documents.bulk;
  const states = new Map<number, ReturnType<typeof onlyUsed>>();
  const { name, head } = rows.asset;
  const fits = () => bad(`${name} does not fit together`);
  const revisions = [...rows.revisions].sort((a, b) => a.number - b.number);
  if (new Set(revisions.map((r) => r.number)).size !== revisions.length) throw fits();
  if (!revisions.some((r) => r.number === head)) throw fits();
  const known = new Set(revisions.map((r) => r.number));
  if (rows.marks.some((m) => !known.has(m.number))) throw fits();
  const keys = new Set(rows.asset_files.map((f) => f.key));
  for (const { number, parent } of revisions) {
    const base =
      parent === null ? { head: null, parts: new Map(), shapes: new Map(), layouts: new Map() } : states.get(parent);
    const delta = deltaAt(rows, number);
    if (!base || (!base.head && !delta.head)) throw fits();
    try {
      const state = onlyUsed(withManifestDelta(base, delta));
      const files = [
        ...state.head!.images.map((i) => i.key),
        ...(state.head!.source.key ? [state.head!.source.key] : []),
      ];
      if (!files.every((k) => keys.has(k))) throw fits();
      const touched = new Set([...delta.shapes.map((s) => s.id), ...delta.layouts.map((l) => l.shape)]);
      const part = {
        head: { ...state.head!, order: [...state.parts.values()].filter((p) => touched.has(p.shape)).map((p) => p.id) },
        parts: new Map([...state.parts].filter(([, p]) => touched.has(p.shape))),
        shapes: new Map([...state.shapes].filter(([id]) => touched.has(id))),
        layouts: new Map([...state.layouts].filter(([key]) => touched.has(key.slice(0, key.lastIndexOf("/"))))),
      };
      const hashes = [
        ...[...part.shapes.values()].flatMap((s) => s.arrays),
        ...[...part.layouts.values()].flatMap((l) => [l.cut, l.mapped, l.uv, l.pinned]),
      ];
      await provide(db, service, [...new Set(hashes)]);
      await service.checkState(part, name);
      await service.trim();
      states.set(number, state);
    } catch (error) {
      if (isUserError(error)) throw bad(`${name} does not fit together (${error.message.replace(/\.$/, "")})`);
      throw fits();
    }
  }
}

function deltaAt(rows: AssetRows, number: number): ManifestDelta {
  const own = <T extends { number: number }>(list: readonly T[]) => list.filter((r) => r.number === number);
  const head = own(rows.revision_heads)[0]?.record;
  return {
    ...(head ? { head } : {}),
    parts: own(rows.revision_parts).map((p) => p.record),
    shapes: own(rows.revision_shapes).map(({ shape, body, arrays }) => ({ id: shape, body, arrays })),
    layouts: own(rows.revision_layouts).map(({ shape, set_id, cut, mapped, uv, pinned }) => ({
      shape,
      set: set_id,
      refs: cut && mapped && uv && pinned ? { cut, mapped, uv, pinned } : null,
    })),
  };
}

async function putRows(db: Queries, rows: AssetRows): Promise<string> {
  const { asset } = rows;
  const taken = await db.query("select 1 from assets where id = $1 or name = $2", [asset.id, asset.name]);
  // Always another id: what is kept of a revision by its number must never meet a number that was used again.
  const id = randomUUID();
  await db.query(
    `insert into assets (id, name, version, head, figures, parts, exports, created_at, updated_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
    [
      id,
      taken.rows.length ? `${asset.name.slice(0, 280)} (restored)` : asset.name,
      asset.version,
      asset.head,
      JSON.stringify(asset.figures ?? null),
      asset.parts,
      asset.exports,
      asset.created_at,
      asset.updated_at,
    ],
  );
  for (const table of TABLES) {
    const list = (rows[table] as readonly object[]).map((row) => ({
      ...row,
      ...(table === "marks" ? { id: randomUUID() } : {}),
      asset: id,
    }));
    // Many rows in one statement, and no statement too large.
    for (let i = 0; i < list.length; i += 500)
      await db.query(`insert into ${table} select * from jsonb_populate_recordset(null::${table}, $1::jsonb)`, [
        JSON.stringify(list.slice(i, i + 500)),
      ]);
  }
  return id;
}
