import { createHash } from "node:crypto";
import { gunzipSync, gzipSync } from "node:zlib";
import type { Numbers } from "../core/formats/bundle";
import type { Queries } from "./database";

// Arrays are cut into chunks where their content says so, each stored once under its hash: an array that changed in one
// place, or was lengthened in its middle, shares all other chunks with the one before. (Rolling "gear" hash with two
// masks, after Xia et al., FastCDC, USENIX ATC 2016; over whole 8-byte words, so that numbers stay whole.)

const LEAST = 4 * 1024;
const MOST = 128 * 1024;
/** One boundary in 2048 words (16 KB) on average. */
const MASK = 0x7ff00000;

const bytesOf = (a: Numbers): Uint8Array => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);
const hashOf = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

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

/** Which of some hashes a table has. */
async function known(db: Queries, table: "arrays" | "chunks", hashes: readonly string[]): Promise<Set<string>> {
  if (!hashes.length) return new Set();
  const { rows } = await db.query<{ hash: string }>(`select hash from ${table} where hash = any($1)`, [hashes]);
  return new Set(rows.map((r) => r.hash));
}

/** Stores arrays under the hashes of their content; what is there is not written again. Answers the hashes. */
export async function putArrays(db: Queries, arrays: readonly Numbers[]): Promise<string[]> {
  // Held against collecting: what is found to be there must stay until this transaction is through.
  await db.query("select pg_advisory_xact_lock_shared(7412)");
  const hashes = arrays.map((a) => hashOf(bytesOf(a)));
  const there = await known(db, "arrays", hashes);
  const chunks = new Map<string, Uint8Array>();
  const fresh: Array<{ hash: string; size: number; list: string[] }> = [];
  arrays.forEach((array, i) => {
    const hash = hashes[i]!;
    if (there.has(hash)) return;
    there.add(hash);
    const bytes = bytesOf(array);
    let start = 0;
    const list = chunkEnds(bytes).map((end) => {
      const chunk = bytes.subarray(start, end);
      start = end;
      const name = hashOf(chunk);
      chunks.set(name, chunk);
      return name;
    });
    fresh.push({ hash, size: bytes.length, list });
  });
  const stored = await known(db, "chunks", [...chunks.keys()]);
  for (const [hash, bytes] of chunks)
    if (!stored.has(hash))
      await db.query("insert into chunks (hash, bytes) values ($1, $2) on conflict do nothing", [
        hash,
        Buffer.from(gzipSync(bytes, { level: 1 })),
      ]);
  for (const { hash, size, list } of fresh)
    await db.query("insert into arrays (hash, size, chunks) values ($1, $2, $3) on conflict do nothing", [
      hash,
      size,
      list,
    ]);
  return hashes;
}

/** Contents by hash, as bytes of their own buffer (so that any typed array may lie over them). */
export async function getArrays(db: Queries, hashes: readonly string[]): Promise<Map<string, Uint8Array<ArrayBuffer>>> {
  const out = new Map<string, Uint8Array<ArrayBuffer>>();
  const wanted = [...new Set(hashes)];
  if (!wanted.length) return out;
  const lists = await db.query<{ hash: string; chunks: string[] }>(
    "select hash, chunks from arrays where hash = any($1)",
    [wanted],
  );
  const chunks = new Map<string, Uint8Array>();
  const names = [...new Set(lists.rows.flatMap((r) => r.chunks))];
  // In portions, so that no single answer grows beyond measure.
  for (let i = 0; i < names.length; i += 512) {
    const { rows } = await db.query<{ hash: string; bytes: Uint8Array }>(
      "select hash, bytes from chunks where hash = any($1)",
      [names.slice(i, i + 512)],
    );
    for (const row of rows) chunks.set(row.hash, gunzipSync(row.bytes));
  }
  for (const { hash, chunks: list } of lists.rows) {
    const parts = list.map((name) => {
      const bytes = chunks.get(name);
      if (!bytes) throw new Error(`Chunk ${name} is missing.`);
      return bytes;
    });
    const bytes = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
    let at = 0;
    for (const p of parts) {
      bytes.set(p, at);
      at += p.length;
    }
    out.set(hash, bytes);
  }
  for (const hash of wanted) if (!out.has(hash)) throw new Error(`Array ${hash} is missing.`);
  return out;
}

/** Removes arrays and chunks that nothing refers to any more. */
export async function collectArrays(db: Queries): Promise<void> {
  await db.query("select pg_advisory_xact_lock(7412)");
  await db.query(
    `delete from arrays where hash not in (
       select unnest(arrays) from revision_parts
       union select array_hash from asset_files
       union select unnest(array[cut, mapped, uv, pinned]) from revision_layouts where cut is not null)`,
  );
  await db.query("delete from chunks where hash not in (select unnest(chunks) from arrays)");
}
