import { randomUUID } from "node:crypto";
import type { Asset } from "../core/layout/asset";
import { deltaBetween } from "../core/layout/delta";
import { UserError } from "../core/layout/user-error";
import { collectArrays, getArrays, putArrays } from "./arrays";
import type { Database, Queries } from "./database";
import { putDelta, stateAt } from "./state";

/** A write made on a version that is no longer the newest. */
export class Conflict extends UserError {
  override name = "Conflict";
}

export interface AssetRow {
  readonly id: string;
  readonly name: string;
  readonly version: number;
  readonly figures: unknown;
  readonly updatedAt: string;
  readonly parts: number;
}

export interface HistoryState {
  readonly version: number;
  readonly head: number;
  /** Words of the step that undo takes back, and of the one redo brings again. */
  readonly undo: string | null;
  readonly redo: string | null;
}

export const UTC = `at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS"Z"'`;

export async function listAssets(db: Queries): Promise<AssetRow[]> {
  const { rows } = await db.query<AssetRow>(
    `select id, name, version, figures, to_char(updated_at ${UTC}) as "updatedAt", parts from assets order by created_at, id`,
  );
  return rows;
}

/** Stores a new asset with its layouts as revision 0, and the bytes of its files. Whole or not at all. */
export async function createAsset(db: Database, asset: Asset, figures: unknown = null): Promise<string> {
  const id = randomUUID();
  const nothing: Asset = { ...asset, sets: [], parts: [] };
  const delta = deltaBetween(nothing, asset);
  await db.transaction(async (tx) => {
    await tx.query("insert into assets (id, name, figures, parts) values ($1, $2, $3, $4)", [
      id,
      asset.name,
      JSON.stringify(figures),
      asset.parts.length,
    ]);
    await tx.query(
      "insert into revisions (asset, number, parent, operation, options, words, figures) values ($1, 0, null, 'import', '{}', 'Import', $2)",
      [id, JSON.stringify(figures)],
    );
    await putDelta(
      tx,
      id,
      0,
      delta,
      asset.sets.map((s) => s.id),
    );
    await putFiles(tx, id, asset.files ?? {});
  });
  return id;
}

/** Keeps the bytes of files with an asset. */
export async function putFiles(db: Queries, id: string, files: Readonly<Record<string, Uint8Array>>): Promise<void> {
  const keys = Object.keys(files);
  const hashes = await putArrays(db, Object.values(files));
  for (const [i, key] of keys.entries())
    await db.query("insert into asset_files (asset, key, array_hash) values ($1, $2, $3) on conflict do nothing", [
      id,
      key,
      hashes[i],
    ]);
}

/** Bytes of an asset's files: of one key, or of all. */
export async function filesOf(db: Queries, id: string, key?: string): Promise<Record<string, Uint8Array<ArrayBuffer>>> {
  const { rows } = await db.query<{ key: string; array_hash: string }>(
    "select key, array_hash from asset_files where asset = $1",
    [id],
  );
  const wanted = rows.filter((r) => key === undefined || r.key === key);
  const arrays = await getArrays(
    db,
    wanted.map((r) => r.array_hash),
  );
  return Object.fromEntries(wanted.map((r) => [r.key, arrays.get(r.array_hash)!]));
}

export interface Head {
  readonly name: string;
  readonly version: number;
  readonly head: number;
}

export async function headOf(db: Queries, id: string, lock = ""): Promise<Head> {
  const { rows } = await db.query<Head>(`select name, version, head from assets where id = $1 ${lock}`, [id]);
  if (!rows[0]) throw new UserError("This asset is no longer there.");
  return rows[0];
}

/** An asset as it stands, or as it stood at a revision; the bytes of its files stay behind. */
export async function loadAsset(
  db: Database,
  id: string,
  number?: number,
): Promise<{ asset: Asset; history: HistoryState }> {
  return db.transaction(async (tx) => {
    const row = await headOf(tx, id);
    if (number !== undefined) {
      const { rows } = await tx.query("select 1 from revisions where asset = $1 and number = $2", [id, number]);
      if (!rows.length) throw new UserError("This step is no longer there.");
    }
    const state = await stateAt(tx, id, number ?? row.head);
    return { asset: { ...state, name: row.name }, history: await historyState(tx, id, row) };
  });
}

export async function historyState(
  db: Queries,
  id: string,
  row: { version: number; head: number },
): Promise<HistoryState> {
  const { rows } = await db.query<{ words: string; parent: number | null }>(
    "select words, parent from revisions where asset = $1 and number = $2",
    [id, row.head],
  );
  const next = await db.query<{ words: string }>(
    "select words from revisions where asset = $1 and parent = $2 order by number desc limit 1",
    [id, row.head],
  );
  const here = rows[0]!;
  return {
    version: row.version,
    head: row.head,
    undo: here.parent === null ? null : here.words,
    redo: next.rows[0]?.words ?? null,
  };
}

export async function renameAsset(db: Queries, id: string, name: string): Promise<void> {
  const { rows } = await db.query("update assets set name = $2, updated_at = now() where id = $1 returning 1", [
    id,
    name,
  ]);
  if (!rows.length) throw new UserError("This asset is no longer there.");
}

/** Takes the next number for files written of an asset. */
export async function nextExport(db: Queries, id: string): Promise<number> {
  const { rows } = await db.query<{ exports: number }>(
    "update assets set exports = exports + 1 where id = $1 returning exports",
    [id],
  );
  if (!rows[0]) throw new UserError("This asset is no longer there.");
  return rows[0].exports;
}

/** Keeps the figures measured for a version with the asset and its revision; those of an older version are let go. */
export async function noteFigures(db: Database, id: string, version: number, figures: unknown): Promise<void> {
  await db.transaction(async (tx) => {
    const { rows } = await tx.query<{ head: number }>(
      "update assets set figures = $3 where id = $1 and version = $2 returning head",
      [id, version, JSON.stringify(figures)],
    );
    if (rows[0])
      await tx.query("update revisions set figures = $3 where asset = $1 and number = $2", [
        id,
        rows[0].head,
        JSON.stringify(figures),
      ]);
  });
}

/** Deletes an asset with its history, and the arrays nobody else refers to. */
export async function deleteAsset(db: Database, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.query("delete from assets where id = $1", [id]);
    await collectArrays(tx);
  });
}
