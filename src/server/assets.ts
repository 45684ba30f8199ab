import { randomUUID } from "node:crypto";
import type { Asset } from "../core/layout/asset";
import { UserError } from "../core/layout/user-error";
import type { AssetRow, HistoryState } from "../wire/answers";
import { assetOf, hashesOf, type Manifest, manifestOf } from "../wire/manifest";
import { collectArrays, getArrays } from "./arrays";
import type { Database } from "./database";
import type { Received } from "./documents";
import { forgetManifests, manifestAt } from "./manifest";
import type { Queries } from "./queries";
import { Missing } from "./refusals";
import { contentsOf, putDelta, putFiles, withArrays } from "./store";

export const UTC = `at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS"Z"'`;

const GONE = "This asset is no longer there.";

export async function listAssets(db: Queries): Promise<AssetRow[]> {
  const { rows } = await db.query<AssetRow>(
    `select id, name, version, figures, to_char(updated_at ${UTC}) as "updatedAt", parts from assets order by created_at, id`,
  );
  return rows;
}

/** Stores a new asset with its layouts as revision 0, and the bytes of its files. Whole or not at all. */
export async function createAsset(db: Database, asset: Asset, figures: unknown = null): Promise<string> {
  const received = await db.documents.bulk.takeAsset(asset);
  return storeAsset(db, received, figures);
}

/** The same from the bytes of an upload, which are checked. @throws UserError */
export async function receiveAsset(db: Database, bytes: Uint8Array): Promise<string> {
  return storeAsset(db, await db.documents.bulk.readAsset(bytes), null);
}

async function storeAsset(db: Database, received: Received & { name: string }, figures: unknown): Promise<string> {
  const id = randomUUID();
  const { delta, files, name } = received;
  const wanted = fileKeys(delta.head!);
  return withArrays(db, db.documents.bulk, received, () =>
    db.transaction(async (tx) => {
      if (!wanted.every((key) => key in files))
        throw new UserError("The asset refers to a file that did not come along.");
      await tx.query("insert into assets (id, name, figures, parts) values ($1, $2, $3, $4)", [
        id,
        name,
        JSON.stringify(figures),
        delta.head!.order.length,
      ]);
      await tx.query(
        "insert into revisions (asset, number, parent, operation, options, words, figures) values ($1, 0, null, 'import', '{}', 'Import', $2)",
        [id, JSON.stringify(figures)],
      );
      await putDelta(tx, id, 0, delta);
      await putFiles(tx, id, files);
      return id;
    }),
  );
}

/** Keys of the files that an asset refers to. */
export const fileKeys = ({ images, source }: Pick<NonNullable<Manifest["head"]>, "images" | "source">): string[] => [
  ...images.map((i) => i.key),
  ...(source.key === undefined ? [] : [source.key]),
];

/** Bytes of an asset's files: of one key, or of all. */
export async function filesOf(db: Database, id: string, key?: string): Promise<Map<string, Uint8Array<ArrayBuffer>>> {
  const { rows } = await db.query<{ key: string; array_hash: string }>(
    "select key, array_hash from asset_files where asset = $1 and ($2::text is null or key = $2)",
    [id, key ?? null],
  );
  const arrays = await getArrays(
    db,
    rows.map((r) => r.array_hash),
  );
  return new Map(rows.map((r) => [r.key, arrays.get(r.array_hash)!]));
}

export interface Head {
  readonly name: string;
  readonly version: number;
  readonly head: number;
}

export async function headOf(db: Queries, id: string, lock = ""): Promise<Head> {
  const { rows } = await db.query<Head>(`select name, version, head from assets where id = $1 ${lock}`, [id]);
  if (!rows[0]) throw new Missing(GONE);
  return rows[0];
}

/** How an asset stands, or stood at a revision, with its arrays named by hash. */
export async function stateOf(
  db: Database,
  id: string,
  number?: number,
): Promise<{ name: string; manifest: Manifest; history: HistoryState }> {
  return db.transaction(async (tx) => {
    const row = await headOf(tx, id);
    if (number !== undefined) {
      const { rows } = await tx.query("select 1 from revisions where asset = $1 and number = $2", [id, number]);
      if (!rows.length) throw new Missing("This step is no longer there.");
    }
    const manifest = await manifestAt(tx, id, number ?? row.head);
    return { name: row.name, manifest, history: await historyState(tx, id, row) };
  });
}

/** An asset as it stands, or as it stood at a revision, read into this thread; the bytes of its files stay behind. */
export async function loadAsset(
  db: Database,
  id: string,
  number?: number,
): Promise<{ asset: Asset; history: HistoryState }> {
  const { name, manifest, history } = await stateOf(db, id, number);
  const contents = await contentsOf(db, hashesOf(manifestOf(manifest)));
  return { asset: assetOf(id, name, manifest, contents), history };
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
  if (!rows.length) throw new Missing(GONE);
}

/** Takes the next number for files written of an asset. */
export async function nextExport(db: Queries, id: string): Promise<number> {
  const { rows } = await db.query<{ exports: number }>(
    "update assets set exports = exports + 1 where id = $1 returning exports",
    [id],
  );
  if (!rows[0]) throw new Missing(GONE);
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
    const { rows } = await tx.query("delete from assets where id = $1 returning 1", [id]);
    if (!rows.length) throw new Missing(GONE);
    await collectArrays(tx);
  });
  forgetManifests(id);
}
