import { createHash } from "node:crypto";
import { gunzipSync, gzipSync } from "node:zlib";
import type { Numbers } from "../core/formats/bundle";
import type { Database, Queries } from "./database";

// Arrays are cut into chunks where their content says so, each stored once under its hash: an array that changed in one
// place, or was lengthened in its middle, shares all other chunks with the one before. (Rolling "gear" hash with two
// masks, after Xia et al., FastCDC, USENIX ATC 2016; over whole 8-byte words, so that numbers stay whole.)

const LEAST = 4 * 1024;
const MOST = 128 * 1024;
/** One boundary in 2048 words (16 KB) on average. */
const MASK = 0x7ff00000;

export const bytesOf = (a: Numbers): Uint8Array => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);
export const hashOf = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

/** Ends of the chunks of a run of bytes. */
export function chunkEnds(bytes: Uint8Array): number[] {
  const ends: number[] = [];
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let start = 0;
  let rolling = 0;
  for (let at = 0; at + 8 <= bytes.length; at += 8) {
    let word = Math.imul(view.getUint32(at, true), 0x9e3779b1) ^ Math.imul(view.getUint32(at + 4, true), 0x85ebca6b);
    word ^= word >>> 15;
    rolling = ((rolling << 1) + Math.imul(word, 0xc2b2ae35)) | 0;
    const size = at + 8 - start;
    if ((size >= LEAST && (rolling & MASK) === 0) || size >= MOST) {
      ends.push(at + 8);
      start = at + 8;
      rolling = 0;
    }
  }
  if (start < bytes.length || !ends.length) ends.push(bytes.length);
  return ends;
}

/** An array as the database lists it: its hash, its size in bytes, and the hashes of its chunks. */
export interface ArrayRow {
  readonly hash: string;
  readonly size: number;
  readonly chunks: readonly string[];
}

/** Arrays cut into chunks, not yet compressed. */
export interface Cut {
  /** Of every array given, in their order. */
  readonly rows: readonly ArrayRow[];
  readonly chunks: ReadonlyMap<string, Uint8Array>;
}

/** Cuts arrays into chunks and takes their hashes. */
export function cutArrays(arrays: readonly Numbers[]): Cut {
  const chunks = new Map<string, Uint8Array>();
  const rows = arrays.map((array): ArrayRow => {
    const bytes = bytesOf(array);
    let start = 0;
    const list = chunkEnds(bytes).map((end) => {
      const chunk = bytes.subarray(start, end);
      start = end;
      const name = hashOf(chunk);
      chunks.set(name, chunk);
      return name;
    });
    // An array of one chunk is that chunk: its hash need not be taken twice.
    return { hash: list.length === 1 ? list[0]! : hashOf(bytes), size: bytes.length, chunks: list };
  });
  return { rows, chunks };
}

export const squeeze = (chunk: Uint8Array): Uint8Array => gzipSync(chunk, { level: 1, memLevel: 9 });

/** A chunk as it was. @throws for one that unpacks to more than `most` */
export const unsqueeze = (bytes: Uint8Array, most = 2 ** 30): Uint8Array =>
  gunzipSync(bytes, { maxOutputLength: most });

/** Hashes that name arrays of an upload for as long as no row refers to them: collecting leaves them alone. */
export interface Lease {
  readonly id: string;
  /** Of the arrays, those that the database does not have whole. */
  readonly lacking: readonly string[];
}

const LOCK = 7412;

/** Keeps arrays from being collected until the lease is given back, and says which of them are lacking. */
export async function leaseArrays(db: Database, rows: readonly ArrayRow[]): Promise<Lease> {
  return db.transaction(async (tx) => {
    await tx.query(`select pg_advisory_xact_lock_shared(${LOCK})`);
    const id = crypto.randomUUID();
    const hashes = [...new Set(rows.map((r) => r.hash))];
    await tx.query(
      "insert into array_leases (id, hash, until) select $1, unnest($2::text[]), now() + interval '1 hour'",
      [id, hashes],
    );
    const { rows: there } = await tx.query<{ hash: string }>(
      "select hash from arrays where hash = any($1) and is_whole",
      [hashes],
    );
    const known = new Set(there.map((r) => r.hash));
    const fresh = new Map(rows.filter((r) => !known.has(r.hash)).map((r) => [r.hash, r]));
    const list = [...fresh.values()].map(({ hash, size, chunks }) => ({ hash, size, chunks }));
    if (list.length)
      await tx.query(
        `insert into arrays (hash, size, chunks, is_whole)
         select r->>'hash', (r->>'size')::bigint, array(select jsonb_array_elements_text(r->'chunks')), false
         from jsonb_array_elements($1::jsonb) r on conflict do nothing`,
        [JSON.stringify(list)],
      );
    return { id, lacking: [...fresh.keys()] };
  });
}

export const releaseArrays = (db: Queries, lease: Lease): Promise<unknown> =>
  db.query("delete from array_leases where id = $1", [lease.id]);

/** Bytes of chunks added in one statement: each takes the database a few hundredths of a second. */
const PORTION = 384 * 1024;

/**
 * Stores the chunks that are lacking, a portion at a time so that other requests are answered between, and marks the
 * arrays whole.
 *
 * @param take compresses chunks, by their hashes
 */
export async function storeChunks(
  db: Database,
  rows: readonly ArrayRow[],
  lease: Lease,
  take: (hashes: readonly string[]) => Promise<Uint8Array[]>,
): Promise<void> {
  if (!lease.lacking.length) return;
  const lacking = new Set(lease.lacking);
  const wanted = [...new Set(rows.filter((r) => lacking.has(r.hash)).flatMap((r) => r.chunks))];
  const missing: string[] = [];
  for (let i = 0; i < wanted.length; i += 5000) {
    const part = wanted.slice(i, i + 5000);
    const { rows: there } = await db.query<{ hash: string }>("select hash from chunks where hash = any($1)", [part]);
    const known = new Set(there.map((r) => r.hash));
    missing.push(...part.filter((h) => !known.has(h)));
  }
  const packed = (from: number): Promise<Uint8Array[]> => {
    const bytes = take(missing.slice(from, from + 32));
    bytes.catch(() => {}); // told where it is waited for
    return bytes;
  };
  let coming = packed(0);
  for (let i = 0; i < missing.length; i += 32) {
    const bytes = await coming;
    // The next are compressed while the database takes these.
    if (i + 32 < missing.length) coming = packed(i + 32);
    let portion: Array<[string, Uint8Array]> = [];
    let size = 0;
    for (const [k, b] of bytes.entries()) {
      portion.push([missing[i + k]!, b]);
      size += b.length;
      if (size < PORTION && k + 1 < bytes.length) continue;
      await db.addChunks(portion);
      // A database in this process answers without ever waiting for anything: others have their turn here.
      await new Promise((resolve) => setImmediate(resolve));
      portion = [];
      size = 0;
    }
  }
  await db.query("update arrays set is_whole = true where hash = any($1)", [lease.lacking]);
}

/** Rows of arrays by hash. @throws for one that is not there */
export async function arrayRows(db: Queries, hashes: readonly string[]): Promise<Map<string, ArrayRow>> {
  const wanted = [...new Set(hashes)];
  const out = new Map<string, ArrayRow>();
  for (let i = 0; i < wanted.length; i += 5000) {
    const { rows } = await db.query<ArrayRow>(
      "select hash, size::int as size, chunks from arrays where hash = any($1) and is_whole",
      [wanted.slice(i, i + 5000)],
    );
    for (const row of rows) out.set(row.hash, row);
  }
  for (const hash of wanted) if (!out.has(hash)) throw new Error(`Array ${hash} is missing.`);
  return out;
}

/** Contents by hash, as bytes of their own buffer (so that any typed array may lie over them). */
export async function getArrays(
  db: Database,
  hashes: readonly string[],
): Promise<Map<string, Uint8Array<ArrayBuffer>>> {
  const out = new Map<string, Uint8Array<ArrayBuffer>>();
  const rows = await arrayRows(db, hashes);
  const chunks = await db.chunks([...new Set([...rows.values()].flatMap((r) => r.chunks))]);
  for (const row of rows.values()) out.set(row.hash, joinChunks(row, chunks));
  return out;
}

/** An array out of its compressed chunks. */
export function joinChunks(row: ArrayRow, chunks: ReadonlyMap<string, Uint8Array>): Uint8Array<ArrayBuffer> {
  const parts = row.chunks.map((name) => {
    const bytes = chunks.get(name);
    if (!bytes) throw new Error(`Chunk ${name} is missing.`);
    return unsqueeze(bytes);
  });
  const bytes = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    bytes.set(p, at);
    at += p.length;
  }
  return bytes;
}

/** Removes arrays and chunks that nothing refers to any more and no upload has a lease on. */
export async function collectArrays(db: Queries): Promise<void> {
  await db.query(`select pg_advisory_xact_lock(${LOCK})`);
  await db.query("delete from array_leases where until < now()");
  await db.query(
    `delete from arrays a where not exists (select 1 from array_leases l where l.hash = a.hash)
       and not exists (select 1 from revision_shapes s where a.hash = any(s.arrays))
       and not exists (select 1 from asset_files f where f.array_hash = a.hash)
       and not exists (select 1 from revision_layouts r where a.hash in (r.cut, r.mapped, r.uv, r.pinned))`,
  );
  await db.query(
    `delete from chunks c where not exists
       (select 1 from (select unnest(chunks) as hash from arrays) used where used.hash = c.hash)`,
  );
}
