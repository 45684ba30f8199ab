import { randomUUID } from "node:crypto";
import type { Mark } from "../wire/answers";
import type { MarkChange, NewMark } from "../wire/requests";
import { headOf, UTC } from "./assets";
import type { Database } from "./database";
import type { Queries } from "./queries";
import { Missing } from "./refusals";

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

/** Marks a revision; the one on the table unless another is named. An automatic mark gives way to one that is there. */
export async function addMark(db: Database, asset: string, mark: NewMark): Promise<string> {
  const id = randomUUID();
  return db.transaction(async (tx) => {
    const { head } = await headOf(tx, asset);
    const number = mark.number ?? head;
    const { rows } = await tx.query("select 1 from revisions where asset = $1 and number = $2", [asset, number]);
    if (!rows.length) throw new Missing("This step is no longer there.");
    const automatic = mark.automatic ?? false;
    if (automatic) {
      const same = await tx.query<{ id: string }>("select id from marks where asset = $1 and number = $2", [
        asset,
        number,
      ]);
      if (same.rows[0]) return same.rows[0].id;
    }
    await tx.query("insert into marks (id, asset, number, name, note, automatic) values ($1, $2, $3, $4, $5, $6)", [
      id,
      asset,
      number,
      mark.name,
      mark.note ?? "",
      automatic,
    ]);
    await tx.query(
      `delete from marks where asset = $1 and automatic and id not in
         (select id from marks where asset = $1 and automatic order by created_at desc limit ${MOST_AUTOMATIC})`,
      [asset],
    );
    return id;
  });
}

export async function changeMark(db: Queries, asset: string, { id, name, note = "" }: MarkChange): Promise<void> {
  const { rows } = await db.query(
    "update marks set name = $3, note = $4, automatic = false where asset = $1 and id = $2 returning 1",
    [asset, id, name, note],
  );
  if (!rows.length) throw new Missing("This mark is no longer there.");
}

export async function deleteMark(db: Queries, asset: string, id: string): Promise<void> {
  const { rows } = await db.query("delete from marks where asset = $1 and id = $2 returning 1", [asset, id]);
  if (!rows.length) throw new Missing("This mark is no longer there.");
}
