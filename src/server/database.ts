import { rmSync } from "node:fs";
import { join } from "node:path";
import { UserError } from "../core/layout/user-error";
import { decodeCopy, encodeCopy } from "./copy-format";
import { dataFolder, lockFolder } from "./data-folder";
import { type DocumentServices, documentsHere, documentThreads } from "./document-thread";
import { MIGRATIONS } from "./migrations";
import type { Queries } from "./queries";

export interface Database extends Queries {
  /** Runs `act` whole or not at all. */
  transaction<T>(act: (tx: Queries) => Promise<T>): Promise<T>;
  /** Adds chunks of arrays, but for those that are there. */
  addChunks(rows: ReadonlyArray<readonly [hash: string, bytes: Uint8Array]>): Promise<void>;
  /** Chunks by hash, as far as they are there. */
  chunks(hashes: readonly string[]): Promise<Map<string, Uint8Array>>;
  /** What computes beside it. */
  readonly documents: DocumentServices;
  close(): Promise<void>;
}

const UNIQUE_VIOLATION = "23505";

/** Kept outside the bundle's modules: a server may load those more than once, the database only once. */
const shared = globalThis as typeof globalThis & { tavlinDatabase?: Promise<Database> };

/** The database of this process, opened on first use: the server of DATABASE_URL, or the data folder. */
export function database(): Promise<Database> {
  const url = process.env.DATABASE_URL;
  shared.tavlinDatabase ??= (
    url ? openServer(url, documentThreads()) : openDatabase(dataFolder(), documentThreads())
  ).catch((error) => {
    shared.tavlinDatabase = undefined;
    throw error;
  });
  return shared.tavlinDatabase;
}

/** Hashes that are written into a statement must be nothing but hashes. */
function hexOnly(hash: string): string {
  if (!/^[0-9a-f]{64}$/.test(hash)) throw new Error("This is no hash.");
  return hash;
}

/**
 * Opens the database in a folder, which is locked for as long as this process lives.
 *
 * @throws UserError when the folder is taken, or the database in it cannot be opened
 */
export async function openDatabase(folder: string, documents = documentsHere()): Promise<Database> {
  lockFolder(folder);
  // Of a process that is gone: the folder is locked. One that was killed while it wrote this file has left it empty, and
  // an empty one would never be opened again.
  rmSync(join(folder, "db", "postmaster.pid"), { force: true });
  const { PGlite } = await import("@electric-sql/pglite");
  const db = await PGlite.create(join(folder, "db")).catch((error: Error) => {
    throw new UserError(
      `The database in ${folder} cannot be opened (${error.message}). When the disk is full, make room and start again.`,
    );
  });
  await db.exec("create temp table if not exists incoming (hash text, bytes bytea)");
  return migrated({
    query: (sql, params) => db.query(sql, params),
    transaction: (act) => db.transaction((tx) => act({ query: (sql, params) => tx.query(sql, params) })),
    // Copying rows in their binary form is twelve times as fast as parameters, which travel as text.
    async addChunks(rows) {
      const blob = new Blob([encodeCopy(rows)]);
      try {
        await db.query("copy chunks from '/dev/blob' with (format binary)", [], { blob });
      } catch (error) {
        // Another upload has brought one of them meanwhile.
        if ((error as { code?: string }).code !== UNIQUE_VIOLATION) throw error;
        await db.transaction(async (tx) => {
          await tx.query("copy incoming from '/dev/blob' with (format binary)", [], { blob });
          await tx.query("insert into chunks select * from incoming on conflict do nothing");
          await tx.query("truncate incoming");
        });
      }
    },
    async chunks(hashes) {
      const out = new Map<string, Uint8Array>();
      for (let i = 0; i < hashes.length; i += 256) {
        const list = hashes.slice(i, i + 256).map((h) => `'${hexOnly(h)}'`);
        const { blob } = await db.query(
          `copy (select hash, bytes from chunks where hash in (${list.join()})) to '/dev/blob' with (format binary)`,
        );
        for (const [hash, bytes] of decodeCopy(new Uint8Array(await blob!.arrayBuffer()))) out.set(hash, bytes);
      }
      return out;
    },
    documents,
    close: () => db.close(),
  } as Database);
}

/** Connects to a PostgreSQL server. */
export async function openServer(url: string, documents = documentsHere()): Promise<Database> {
  const { Pool } = (await import("pg")).default;
  const pool = new Pool({ connectionString: url, max: 8 });
  // A connection lost while idle is replaced at the next query; without a listener it would end the process.
  pool.on("error", () => {});
  return migrated({
    query: (sql: string, params?: unknown[]) => pool.query(sql, params),
    async transaction<T>(act: (tx: Queries) => Promise<T>): Promise<T> {
      const client = await pool.connect();
      try {
        await client.query("begin");
        const value = await act({ query: (sql, params) => client.query(sql, params) } as Queries);
        await client.query("commit");
        return value;
      } catch (error) {
        await client.query("rollback").catch(() => {});
        throw error;
      } finally {
        client.release();
      }
    },
    async addChunks(rows) {
      const places = rows.map((_, i) => `($${2 * i + 1}, $${2 * i + 2})`).join();
      const params = rows.flatMap(([hash, bytes]) => [hash, Buffer.from(bytes)]);
      await pool.query(`insert into chunks (hash, bytes) values ${places} on conflict do nothing`, params);
    },
    async chunks(hashes) {
      const out = new Map<string, Uint8Array>();
      for (let i = 0; i < hashes.length; i += 256) {
        const { rows } = await pool.query<{ hash: string; bytes: Uint8Array }>(
          "select hash, bytes from chunks where hash = any($1)",
          [hashes.slice(i, i + 256)],
        );
        for (const row of rows) out.set(row.hash, row.bytes);
      }
      return out;
    },
    documents,
    close: () => pool.end(),
  } as Database);
}

async function migrated(db: Database): Promise<Database> {
  await db.query(
    "create table if not exists migrations (number integer primary key, applied_at timestamptz not null default now())",
  );
  for (const [i, steps] of MIGRATIONS.entries()) {
    await db.transaction(async (tx) => {
      // Two servers that start at once on one database take turns.
      await tx.query("select pg_advisory_xact_lock(7411)");
      const { rows } = await tx.query("select 1 from migrations where number = $1", [i + 1]);
      if (rows.length) return;
      for (const step of steps) {
        if (typeof step === "string") await tx.query(step);
        else await step(tx);
      }
      await tx.query("insert into migrations (number) values ($1)", [i + 1]);
    });
  }
  return db;
}
