import type { HistoryFile } from "../core/operations/history-file";
import { ScopeQuery } from "../core/operations/scope-query";
import { headOf } from "./assets";
import type { Database } from "./database";
import { manifestAt } from "./manifest";

interface StepRow {
  readonly operation: string;
  readonly options: unknown;
  readonly scope: unknown;
  readonly words: string;
}

/** The steps that led from the file to what is on the table; those that were gone back on are not among them. */
export async function savedHistory(db: Database, id: string): Promise<HistoryFile> {
  return db.transaction(async (tx) => {
    const { name, head } = await headOf(tx, id);
    const { rows } = await tx.query<StepRow>(
      `with recursive line as (
         select number, parent, operation, options, scope, words from revisions where asset = $1 and number = $2
         union all
         select r.number, r.parent, r.operation, r.options, r.scope, r.words
         from revisions r join line l on r.asset = $1 and r.number = l.parent and r.number < l.number
       )
       select operation, options, scope, words from line where parent is not null order by number`,
      [id, head],
    );
    const first = (await manifestAt(tx, id, 0)).head!;
    return {
      format: "tavlin-history",
      version: 1,
      asset: name,
      source: first.source.name,
      unit: first.unit,
      steps: rows.map((r) => ({ ...r, scope: ScopeQuery.safeParse(r.scope).data ?? null })),
    };
  });
}
