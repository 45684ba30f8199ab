import { z } from "zod";
import type { Queries } from "./queries";

// Brings parts that held mesh and layouts themselves, with instances naming the part they repeat, over to shapes and the
// parts that draw them: a shape takes the id of the part that held it.

export const OldRecord = z.looseObject({ id: z.string(), instanceOf: z.string().optional() });
type OldRecord = z.infer<typeof OldRecord>;

interface OldInner {
  record: OldRecord;
  body: OldBody;
  uvSets: unknown[];
}
export interface OldBody {
  mesh: unknown;
  merged?: OldInner[];
  split?: { whole: OldInner; faces: number };
}

interface OldRow {
  asset: string;
  number: number;
  part: string;
  record: unknown;
  body: OldBody | null;
  arrays: string[];
}

const PORTION = 200;

export async function bringShapesOver(db: Queries): Promise<void> {
  const sets = await setsByRevision(db);
  let after: [string, number, string] = ["", -1, ""];
  for (;;) {
    const { rows } = await db.query<OldRow>(
      `select asset, number, part, record, body, arrays from revision_parts
       where (asset, number, part) > ($1, $2, $3) order by asset, number, part limit ${PORTION}`,
      after,
    );
    for (const row of rows) {
      const record = OldRecord.parse(row.record);
      await db.query("update revision_parts set record = $4 where asset = $1 and number = $2 and part = $3", [
        row.asset,
        row.number,
        row.part,
        JSON.stringify(newRecord(record)),
      ]);
      if (!row.body) continue;
      const body = newBody(row.body, sets(row.asset, row.number));
      await db.query("insert into revision_shapes (asset, number, shape, body, arrays) values ($1, $2, $3, $4, $5)", [
        row.asset,
        row.number,
        row.part,
        JSON.stringify(body),
        row.arrays,
      ]);
    }
    const last = rows.at(-1);
    if (!last) return;
    after = [last.asset, last.number, last.part];
  }
}

export function newRecord({ instanceOf, ...rest }: OldRecord): Record<string, unknown> {
  return { ...rest, shape: instanceOf ?? rest.id };
}

/** Parts within parts held their layouts by the place of the set; the ids are those of the sets as they stood then. */
export function newBody(body: OldBody, sets: readonly string[]): Record<string, unknown> {
  const inner = ({ record, body: own, uvSets }: OldInner) => ({
    part: newRecord(record),
    shape: newBody(own, sets),
    layouts: Object.fromEntries(uvSets.flatMap((l, i) => (l && sets[i] !== undefined ? [[sets[i], l]] : []))),
  });
  return {
    mesh: body.mesh,
    ...(body.merged ? { merged: body.merged.map(inner) } : {}),
    ...(body.split ? { split: { whole: inner(body.split.whole), faces: body.split.faces } } : {}),
  };
}

/** The ids of an asset's UV sets at a revision: of the newest head on the way back from it. */
async function setsByRevision(db: Queries): Promise<(asset: string, number: number) => string[]> {
  const heads = await db.query<{ asset: string; number: number; record: { sets: { id: string }[] } }>(
    "select asset, number, record from revision_heads",
  );
  const revisions = await db.query<{ asset: string; number: number; parent: number | null }>(
    "select asset, number, parent from revisions",
  );
  const head = new Map(heads.rows.map((h) => [`${h.asset}/${h.number}`, h.record.sets.map((s) => s.id)]));
  const parent = new Map(revisions.rows.map((r) => [`${r.asset}/${r.number}`, r.parent]));
  return (asset, number) => {
    for (
      let at: number | null | undefined = number;
      at !== null && at !== undefined;
      at = parent.get(`${asset}/${at}`)
    ) {
      const found = head.get(`${asset}/${at}`);
      if (found) return found;
    }
    return [];
  };
}
