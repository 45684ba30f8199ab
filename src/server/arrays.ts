import { type ArrayRow, joinChunks } from "./chunks";
import type { Database } from "./database";
import type { Queries } from "./queries";

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
    bytes.catch(() => {}); // handled where it is awaited
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
