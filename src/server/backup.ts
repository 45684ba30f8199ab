import { createHash, randomUUID } from "node:crypto";
import { gunzipSync } from "node:zlib";
import { zipSync } from "fflate";
import { z } from "zod";
import { unzip } from "../core/formats/unzip";
import { UserError } from "../core/layout/user-error";
import { headOf } from "./assets";
import type { Database, Queries } from "./database";
import { stateAt } from "./state";

// A backup is a zip archive: a list of rows as JSON, and every chunk under its hash, compressed as the database has it.

const LIST = "tavlin-backup.json";
const Hash = z.string().regex(/^[0-9a-f]{64}$/);
const Whole = z.number().int().min(0);

const AssetRows = z.object({
  asset: z.object({
    id: z.string().min(1).max(100),
    name: z.string().min(1).max(300),
    version: Whole,
    head: Whole,
    figures: z.unknown(),
    parts: Whole,
    exports: Whole,
    created_at: z.string(),
    updated_at: z.string(),
  }),
  revisions: z.array(
    z.object({
      number: Whole,
      parent: Whole.nullable(),
      operation: z.string(),
      options: z.unknown(),
      words: z.string(),
      figures: z.unknown(),
      created_at: z.string(),
    }),
  ),
  revision_heads: z.array(z.object({ number: Whole, record: z.unknown() })),
  revision_parts: z.array(
    z.object({ number: Whole, part: z.string(), record: z.unknown(), body: z.unknown(), arrays: z.array(Hash) }),
  ),
  revision_layouts: z.array(
    z.object({
      number: Whole,
      part: z.string(),
      set_id: z.string(),
      cut: Hash.nullable(),
      mapped: Hash.nullable(),
      uv: Hash.nullable(),
      pinned: Hash.nullable(),
    }),
  ),
  asset_files: z.array(z.object({ key: z.string(), array_hash: Hash })),
  marks: z.array(
    z.object({ number: Whole, name: z.string(), note: z.string(), automatic: z.boolean(), created_at: z.string() }),
  ),
});
type AssetRows = z.infer<typeof AssetRows>;

const Backup = z.object({
  tavlinBackup: z.literal(1),
  assets: z.array(AssetRows).min(1),
  arrays: z.array(z.object({ hash: Hash, size: Whole, chunks: z.array(Hash) })),
});

/** Tables of an asset's rows, in the order they refer to each other. */
const TABLES = ["revisions", "revision_heads", "revision_parts", "revision_layouts", "asset_files", "marks"] as const;

const hashesOf = (rows: AssetRows): string[] => [
  ...rows.revision_parts.flatMap((p) => p.arrays),
  ...rows.revision_layouts.flatMap((l) => [l.cut, l.mapped, l.uv, l.pinned].filter((h) => h !== null)),
  ...rows.asset_files.map((f) => f.array_hash),
];

/** Everything of one asset, or of all, as one file. */
export async function makeBackup(db: Database, id?: string): Promise<Uint8Array> {
  return db.transaction(async (tx) => {
    if (id !== undefined) await headOf(tx, id);
    const ids = await tx.query<{ id: string }>(
      "select id from assets where $1::text is null or id = $1 order by created_at",
      [id ?? null],
    );
    if (!ids.rows.length) throw new UserError("There is nothing to back up.");
    const assets: AssetRows[] = [];
    for (const row of ids.rows) assets.push(await rowsOf(tx, row.id));
    const wanted = [...new Set(assets.flatMap(hashesOf))];
    const arrays = await tx.query<{ hash: string; size: number; chunks: string[] }>(
      "select hash, size::int as size, chunks from arrays where hash = any($1)",
      [wanted],
    );
    const files: Record<string, [Uint8Array, { level: 0 | 6 }]> = {};
    const list = { tavlinBackup: 1, assets, arrays: arrays.rows };
    files[LIST] = [new TextEncoder().encode(JSON.stringify(list)), { level: 6 }];
    const chunks = [...new Set(arrays.rows.flatMap((a) => a.chunks))];
    for (let i = 0; i < chunks.length; i += 512) {
      const found = await tx.query<{ hash: string; bytes: Uint8Array }>(
        "select hash, bytes from chunks where hash = any($1)",
        [chunks.slice(i, i + 512)],
      );
      for (const { hash, bytes } of found.rows) files[`chunks/${hash}`] = [new Uint8Array(bytes), { level: 0 }];
    }
    return zipSync(files);
  });
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
      await db.query(`select to_jsonb(t) - 'asset' as row from ${table} t where asset = $1`, [id])
    ).rows.map((r) => r.row);
  return AssetRows.parse(out);
}

/**
 * Puts what a backup holds beside what is there; an asset that is there already comes as another one. Whole or not at all.
 *
 * @returns ids of the assets
 */
export async function restoreBackup(db: Database, bytes: Uint8Array, name: string): Promise<string[]> {
  const files = new Map(unzip(bytes, name).map((f) => [f.name, f.bytes]));
  const bad = (why: string) => new UserError(`${name} is not a backup that can be read: ${why}.`);
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder().decode(files.get(LIST)));
  } catch {
    throw bad("its list is broken or missing");
  }
  const parsed = Backup.safeParse(raw);
  if (!parsed.success) throw bad(`${parsed.error.issues[0]!.path.join(".")}: ${parsed.error.issues[0]!.message}`);
  const { assets, arrays } = parsed.data;
  const listed = new Set(arrays.map((a) => a.hash));
  if (!assets.flatMap(hashesOf).every((h) => listed.has(h))) throw bad("an array is missing");
  return db.transaction(async (tx) => {
    await tx.query("select pg_advisory_xact_lock_shared(7412)");
    for (const hash of new Set(arrays.flatMap((a) => a.chunks))) {
      const chunk = files.get(`chunks/${hash}`);
      if (!chunk || !holds(chunk, hash)) throw bad("a part of its data is missing or damaged");
      await tx.query("insert into chunks (hash, bytes) values ($1, $2) on conflict do nothing", [
        hash,
        Buffer.from(chunk),
      ]);
    }
    for (const a of arrays)
      await tx.query("insert into arrays (hash, size, chunks) values ($1, $2, $3) on conflict do nothing", [
        a.hash,
        a.size,
        a.chunks,
      ]);
    const ids: string[] = [];
    for (const rows of assets) ids.push(await putRows(tx, rows));
    // What cannot be laid out again is refused before it is kept.
    for (const [i, id] of ids.entries())
      await stateAt(tx, id, assets[i]!.asset.head).catch(() => {
        throw bad(`${assets[i]!.asset.name} does not fit together`);
      });
    return ids;
  });
}

/** Whether compressed bytes hold what their name says. */
function holds(chunk: Uint8Array, hash: string): boolean {
  try {
    return createHash("sha256").update(gunzipSync(chunk)).digest("hex") === hash;
  } catch {
    return false;
  }
}

async function putRows(db: Queries, rows: AssetRows): Promise<string> {
  const { asset } = rows;
  const taken = await db.query("select 1 from assets where id = $1", [asset.id]);
  // Always another id: what is kept of a revision by its number must never meet a number used anew.
  const id = randomUUID();
  await db.query(
    `insert into assets (id, name, version, head, figures, parts, exports, created_at, updated_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
    [
      id,
      taken.rows.length ? `${asset.name} (restored)`.slice(0, 300) : asset.name,
      asset.version,
      asset.head,
      JSON.stringify(asset.figures ?? null),
      asset.parts,
      asset.exports,
      asset.created_at,
      asset.updated_at,
    ],
  );
  for (const table of TABLES)
    for (const row of rows[table]) {
      const extra = table === "marks" ? { id: randomUUID() } : {};
      await db.query(`insert into ${table} select * from jsonb_populate_record(null::${table}, $1)`, [
        JSON.stringify({ ...row, ...extra, asset: id }),
      ]);
    }
  return id;
}
