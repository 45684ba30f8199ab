import { join } from "node:path";
import { PGlite, type Transaction } from "@electric-sql/pglite";
import { dataFolder, lockFolder } from "./data-folder";
import { MIGRATIONS } from "./migrations";

export type Queries = Pick<PGlite, "query"> | Pick<Transaction, "query">;

/** Kept outside the bundle's modules: a server may load those more than once, the database only once. */
const shared = globalThis as typeof globalThis & { tavlinDatabase?: Promise<PGlite> };

/** The database of this process, opened on first use; the folder is locked for as long as the process lives. */
export function database(): Promise<PGlite> {
  shared.tavlinDatabase ??= openDatabase(dataFolder()).catch((error) => {
    shared.tavlinDatabase = undefined;
    throw error;
  });
  return shared.tavlinDatabase;
}

export async function openDatabase(folder: string): Promise<PGlite> {
  lockFolder(folder);
  const db = await PGlite.create(join(folder, "db"));
  await db.exec(
    "create table if not exists migrations (number integer primary key, applied_at timestamptz not null default now())",
  );
  const done = await db.query<{ number: number }>("select number from migrations");
  const applied = new Set(done.rows.map((r) => r.number));
  for (const [i, sql] of MIGRATIONS.entries()) {
    if (applied.has(i + 1)) continue;
    await db.transaction(async (tx) => {
      await tx.exec(sql);
      await tx.query("insert into migrations (number) values ($1)", [i + 1]);
    });
  }
  return db;
}
