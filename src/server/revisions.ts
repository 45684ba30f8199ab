import { checkLayout, checkPart } from "../core/formats/asset-json";
import { type Asset, partById } from "../core/layout/asset";
import { type AssetDelta, withDelta } from "../core/layout/delta";
import { UserError } from "../core/layout/user-error";
import { Conflict, type HistoryState, headOf, historyState, putFiles, UTC } from "./assets";
import type { Database, Queries } from "./database";
import { deltaOfRows, keepState, putDelta, rowsAt, stateAt } from "./state";

const CONFLICT = "This asset was changed elsewhere since this page read it; take the newest before going on.";

async function takeVersion(db: Queries, id: string, base: number, head: number, figures: unknown): Promise<void> {
  const { rows } = await db.query(
    "update assets set version = version + 1, head = $3, figures = coalesce($4, figures), updated_at = now() where id = $1 and version = $2 returning 1",
    [id, base, head, figures === undefined ? null : JSON.stringify(figures)],
  );
  if (!rows.length) throw new Conflict(CONFLICT);
}

export interface Edit {
  /** Version the edit was made on. */
  readonly base: number;
  readonly operation: string;
  readonly options: unknown;
  readonly words: string;
  readonly figures: unknown;
  readonly delta: AssetDelta;
  /** Bytes of files that came with it, by key. */
  readonly files?: Readonly<Record<string, Uint8Array>>;
}

/** The edited asset, checked wherever it changed. @throws UserError */
function editedAsset(asset: Asset, delta: AssetDelta): Asset {
  let next: Asset;
  try {
    next = withDelta(asset, delta);
  } catch (error) {
    throw new UserError(`The edit does not fit the asset: ${(error as Error).message}`);
  }
  const ids = new Set(next.parts.map((p) => p.id));
  if (ids.size !== next.parts.length) throw new UserError("The edit names a part twice.");
  const whole = new Set(delta.parts.filter((p) => p.body).map((p) => p.record.id));
  for (const id of whole) if (ids.has(id)) checkPart(partById(next, id), next.materials.length);
  for (const { part, set, layout } of delta.layouts) {
    if (!ids.has(part) || set >= next.sets.length) throw new UserError("The edit names a layout that is not there.");
    const owner = partById(next, part);
    if (owner.instanceOf !== undefined)
      throw new UserError(`${owner.name} repeats another part and has no layout of its own.`);
    if (layout) checkLayout(owner.mesh, layout, owner.name);
  }
  for (const p of next.parts)
    if (p.instanceOf !== undefined && (!ids.has(p.instanceOf) || partById(next, p.instanceOf).instanceOf !== undefined))
      throw new UserError(`${p.name} repeats a part that is not there.`);
  return next;
}

/** Adds one revision. @throws Conflict when its base is not the newest, UserError when it does not fit the asset */
export async function appendRevision(db: Database, id: string, edit: Edit): Promise<HistoryState> {
  let state: { next: Asset; number: number } | null = null;
  const history = await db.transaction(async (tx) => {
    const row = await headOf(tx, id, "for update");
    if (row.version !== edit.base) throw new Conflict(CONFLICT);
    const next = editedAsset(await stateAt(tx, id, row.head), edit.delta);
    const { rows } = await tx.query<{ next: number }>(
      "select max(number) + 1 as next from revisions where asset = $1",
      [id],
    );
    const number = rows[0]!.next;
    await tx.query(
      "insert into revisions (asset, number, parent, operation, options, words, figures) values ($1, $2, $3, $4, $5, $6, $7)",
      [
        id,
        number,
        row.head,
        edit.operation,
        JSON.stringify(edit.options ?? {}),
        edit.words,
        JSON.stringify(edit.figures ?? null),
      ],
    );
    await putFiles(tx, id, edit.files ?? {});
    await putDelta(
      tx,
      id,
      number,
      edit.delta,
      next.sets.map((s) => s.id),
    );
    await checkFiles(tx, id, next);
    await tx.query("update assets set parts = $2, picture = null where id = $1 and parts <> $2", [
      id,
      next.parts.length,
    ]);
    await takeVersion(tx, id, edit.base, number, edit.figures ?? undefined);
    state = { next, number };
    return historyState(tx, id, { version: edit.base + 1, head: number });
  });
  const { next, number } = state!;
  keepState(id, number, next);
  return history;
}

/** Source and images must have come along, now or before. */
async function checkFiles(db: Queries, id: string, asset: Asset): Promise<void> {
  const wanted = [...asset.images.map((i) => i.key), ...(asset.source.key === undefined ? [] : [asset.source.key])];
  if (!wanted.length) return;
  const { rows } = await db.query<{ key: string }>("select key from asset_files where asset = $1 and key = any($2)", [
    id,
    wanted,
  ]);
  const there = new Set(rows.map((r) => r.key));
  if (!wanted.every((key) => there.has(key))) throw new UserError("The edit refers to a file that did not come along.");
}

/** Where to go in the history. */
export type Step = "undo" | "redo" | { readonly to: number };

/** Steps back or forth along the history, or to any revision; answers what differs. Nothing is lost by it. */
export async function stepHistory(
  db: Database,
  id: string,
  base: number,
  step: Step,
): Promise<{ history: HistoryState; delta: AssetDelta }> {
  return db.transaction(async (tx) => {
    const row = await headOf(tx, id, "for update");
    if (row.version !== base) throw new Conflict(CONFLICT);
    const { number, figures } = await targetOf(tx, id, row.head, step);
    const delta = await deltaOfRows(tx, await rowsAt(tx, id, row.head), await rowsAt(tx, id, number));
    await takeVersion(tx, id, base, number, figures ?? undefined);
    return { history: await historyState(tx, id, { version: base + 1, head: number }), delta };
  });
}

async function targetOf(
  db: Queries,
  id: string,
  head: number,
  step: Step,
): Promise<{ number: number; figures: unknown }> {
  type Target = { number: number | null; figures: unknown };
  const { rows } =
    step === "undo"
      ? await db.query<Target>(
          "select p.number, p.figures from revisions r join revisions p on p.asset = r.asset and p.number = r.parent where r.asset = $1 and r.number = $2",
          [id, head],
        )
      : step === "redo"
        ? await db.query<Target>(
            "select number, figures from revisions where asset = $1 and parent = $2 order by number desc limit 1",
            [id, head],
          )
        : await db.query<Target>("select number, figures from revisions where asset = $1 and number = $2", [
            id,
            step.to,
          ]);
  const target = rows[0];
  if (!target || target.number === null)
    throw new UserError(
      step === "undo"
        ? "There is nothing to undo."
        : step === "redo"
          ? "There is nothing to redo."
          : "This step is no longer there.",
    );
  return { number: target.number, figures: target.figures };
}

export interface Revision {
  readonly number: number;
  readonly parent: number | null;
  readonly operation: string;
  readonly words: string;
  readonly figures: unknown;
  readonly at: string;
}

/** All steps ever made, the oldest first. */
export async function listRevisions(db: Queries, id: string): Promise<Revision[]> {
  await headOf(db, id);
  const { rows } = await db.query<Revision>(
    `select number, parent, operation, words, figures, to_char(created_at ${UTC}) as at from revisions where asset = $1 order by number`,
    [id],
  );
  return rows;
}
