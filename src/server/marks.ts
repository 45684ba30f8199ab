import { randomUUID } from "node:crypto";
import { UserError } from "../core/layout/user-error";
import { headOf, UTC } from "./assets";
import type { Database, Queries } from "./database";

/** A named version that can be gone back to. */
export interface Mark {
  readonly id: string;
  readonly number: number;
  readonly name: string;
  readonly note: string;
  readonly automatic: boolean;
  readonly figures: unknown;
  readonly at: string;
}

/** Automatic marks kept per asset; older ones make room. */
const MOST_AUTOMATIC = 20;

export async function listMarks(db: Queries, asset: string): Promise<Mark[]> {
  const { rows } = await db.query<Mark>(
    `select m.id, m.number, m.name, m.note, m.automatic, r.figures, to_char(m.created_at ${UTC}) as at
     from marks m join revisions r on r.asset = m.asset and r.number = m.number where m.asset = $1 order by m.created_at, m.id`,
    [asset],
  );
  return rows;
}

/** Marks a revision; the one on the table unless another is named. */
export async function addMark(
  db: Database,
  asset: string,
  mark: { name: string; note: string; automatic?: boolean; number?: number | undefined },
): Promise<string> {
  const id = randomUUID();
  await db.transaction(async (tx) => {
    const { head } = await headOf(tx, asset);
    const number = mark.number ?? head;
    const { rows } = await tx.query("select 1 from revisions where asset = $1 and number = $2", [asset, number]);
    if (!rows.length) throw new UserError("This step is no longer there.");
    const automatic = mark.automatic ?? false;
    if (automatic) {
      const same = await tx.query("select 1 from marks where asset = $1 and number = $2", [asset, number]);
      if (same.rows.length) return;
    }
    await tx.query("insert into marks (id, asset, number, name, note, automatic) values ($1, $2, $3, $4, $5, $6)", [
      id,
      asset,
      number,
      mark.name,
      mark.note,
      automatic,
    ]);
    await tx.query(
      `delete from marks where asset = $1 and automatic and id not in
         (select id from marks where asset = $1 and automatic order by created_at desc limit ${MOST_AUTOMATIC})`,
      [asset],
    );
  });
  return id;
}

export async function changeMark(db: Queries, asset: string, id: string, name: string, note: string): Promise<void> {
  const { rows } = await db.query(
    "update marks set name = $3, note = $4, automatic = false where asset = $1 and id = $2 returning 1",
    [asset, id, name, note],
  );
  if (!rows.length) throw new UserError("This mark is no longer there.");
}

export async function deleteMark(db: Queries, asset: string, id: string): Promise<void> {
  await db.query("delete from marks where asset = $1 and id = $2", [asset, id]);
}
