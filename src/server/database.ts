import { join } from "node:path";
import { dataFolder, lockFolder } from "./data-folder";
import { MIGRATIONS } from "./migrations";

/** Plain SQL, as PGlite and a PostgreSQL server both answer it. */
export interface Queries {
  query<Row = Record<string, unknown>>(sql: string, params?: unknown[]): Promise<{ rows: Row[] }>;
}

export interface Database extends Queries {
  /** Runs `act` whole or not at all. */
  transaction<T>(act: (tx: Queries) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/** Kept outside the bundle's modules: a server may load those more than once, the database only once. */
const shared = globalThis as typeof globalThis & { tavlinDatabase?: Promise<Database> };

/** The database of this process, opened on first use: the server of DATABASE_URL, or the data folder. */
export function database(): Promise<Database> {
  const url = process.env.DATABASE_URL;
  shared.tavlinDatabase ??= (url ? openServer(url) : openDatabase(dataFolder())).catch((error) => {
    shared.tavlinDatabase = undefined;
    throw error;
  });
  return shared.tavlinDatabase;
}

/** Opens the database in a folder, which is locked for as long as this process lives. */
export async function openDatabase(folder: string): Promise<Database> {
  lockFolder(folder);
  const { PGlite } = await import("@electric-sql/pglite");
  const db = await PGlite.create(join(folder, "db"));
  return migrated({
    query: (sql, params) => db.query(sql, params),
    transaction: (act) => db.transaction((tx) => act({ query: (sql, params) => tx.query(sql, params) })),
    close: () => db.close(),
  } as Database);
}

/** Connects to a PostgreSQL server. */
export async function openServer(url: string): Promise<Database> {
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
      for (const sql of steps) await tx.query(sql);
      await tx.query("insert into migrations (number) values ($1)", [i + 1]);
    });
  }
  return db;
}
