import type { LayoutPlace } from "../core/formats/delta-bundle";
import type { AssetDelta } from "../core/layout/delta";
import { UserError } from "../core/layout/user-error";
import type { HistoryState, Revision } from "../wire/answers";
import type { LayoutRefs, ManifestDelta } from "../wire/manifest";
import type { EditRequest, HistoryStep } from "../wire/requests";
import { fileKeys, headOf, historyState, UTC } from "./assets";
import type { Database } from "./database";
import type { Received } from "./documents";
import {
  forgetManifests,
  keepManifest,
  keepSnapshot,
  manifestAt,
  manifestDelta,
  onlyUsed,
  SNAPSHOT_EVERY,
} from "./manifest";
import type { Queries } from "./queries";
import { Conflict, Missing } from "./refusals";
import { provide, putDelta, putFiles, withArrays, withManifestDelta } from "./store";

const CONFLICT = "This asset was changed elsewhere since this page read it; take the newest before going on.";

async function takeVersion(db: Queries, id: string, base: number, head: number, figures: unknown): Promise<void> {
  const { rows } = await db.query(
    "update assets set version = version + 1, head = $3, figures = coalesce($4, figures), picture = null, updated_at = now() where id = $1 and version = $2 returning 1",
    [id, base, head, figures === undefined || figures === null ? null : JSON.stringify(figures)],
  );
  if (!rows.length) throw new Conflict(CONFLICT);
}

/** What the database answers to an edit: where the history stands, and the hashes of the arrays it brought. */
export interface Appended {
  readonly history: HistoryState;
  readonly delta: ManifestDelta;
}

export interface Edit extends EditRequest {
  readonly delta: AssetDelta;
  /** Bytes of files that came with it, by key. */
  readonly files?: Readonly<Record<string, Uint8Array>>;
}

/** Adds one revision. @throws Conflict when its base is not the newest, UserError when it does not fit the asset */
export async function appendRevision(db: Database, id: string, edit: Edit): Promise<Appended> {
  const before = await repeated(db, id, edit.key);
  if (before) return before;
  const received = await db.documents.edits.takeEdit(edit.delta, edit.files);
  return append(db, id, { ...received, request: edit });
}

/** The same from the bytes of a request, which are checked. */
export async function receiveEdit(db: Database, id: string, bytes: Uint8Array): Promise<Appended> {
  const service = db.documents.edits;
  const { upload, request, needs } = await service.openEdit(bytes);
  let received: Received;
  try {
    const before = await repeated(db, id, request.key);
    if (before) {
      await service.drop(upload);
      return before;
    }
    received = await service.readEdit(upload, await layoutsBefore(db, id, request.base, needs));
  } catch (error) {
    await service.drop(upload);
    throw error;
  }
  return append(db, id, { ...received, request });
}

/** Layouts of the state that an edit was made on, with their arrays brought to the service. */
async function layoutsBefore(
  db: Database,
  id: string,
  base: number,
  places: readonly LayoutPlace[],
): Promise<LayoutRefs[]> {
  if (!places.length) return [];
  const row = await headOf(db, id);
  if (row.version !== base) throw new Conflict(CONFLICT);
  const { layouts } = await manifestAt(db, id, row.head);
  const out = places.map(({ shape, set }) => {
    const refs = layouts.get(`${shape}/${set}`);
    if (!refs) throw new UserError("The edit names a layout that is not there.");
    return refs;
  });
  await provide(
    db,
    db.documents.edits,
    out.flatMap((r) => [r.cut, r.mapped, r.uv, r.pinned]),
  );
  return out;
}

async function append(db: Database, id: string, received: Received & { request: EditRequest }): Promise<Appended> {
  const { request, delta } = received;
  const service = db.documents.edits;
  try {
    await checkReceived(db, id, received);
  } catch (error) {
    await service.drop(received.stage);
    throw error;
  }
  try {
    const history = await withArrays(db, service, received, () =>
      db.transaction((tx) => appendRows(tx, id, request, delta, received.files)),
    );
    return { history, delta };
  } catch (error) {
    // What was kept of a transaction that did not come through must not stand for its revision.
    forgetManifests(id);
    throw error;
  }
}

/** What was answered to an edit that was made already under this key. */
async function repeated(db: Queries, id: string, key: string): Promise<Appended | null> {
  const { rows } = await db.query<{ number: number; parent: number; version: number }>(
    "select number, parent, version from revisions where asset = $1 and key = $2",
    [id, key],
  );
  const row = rows[0];
  if (!row) return null;
  return {
    history: await historyState(db, id, { version: row.version, head: row.number }),
    delta: manifestDelta(await manifestAt(db, id, row.parent), await manifestAt(db, id, row.number)),
  };
}

/** Checks an edit against the state it was made on, arrays included. */
async function checkReceived(db: Database, id: string, { stage, delta, request }: Received & { request: EditRequest }) {
  const row = await headOf(db, id);
  if (row.version !== request.base) throw new Conflict(CONFLICT);
  const base = await manifestAt(db, id, row.head);
  const next = withManifestDelta(base, delta);
  const changed = new Set(delta.shapes.map((s) => s.id));
  const withLayout = new Set(delta.layouts.filter((l) => l.refs && !changed.has(l.shape)).map((l) => l.shape));
  const shapes = new Map([...withLayout].map((shape) => [shape, next.shapes.get(shape)!]));
  await provide(
    db,
    db.documents.edits,
    [...shapes.values()].flatMap((s) => s.arrays),
  );
  const names = new Map([...next.parts.values()].map((p) => [p.shape, p.name]));
  await db.documents.edits.checkEdit(stage, shapes, names, next.head!.materials.length);
}

async function appendRows(
  tx: Queries,
  id: string,
  request: EditRequest,
  delta: ManifestDelta,
  files: Readonly<Record<string, string>>,
): Promise<HistoryState> {
  const row = await headOf(tx, id, "for update");
  if (row.version !== request.base) throw new Conflict(CONFLICT);
  const next = onlyUsed(withManifestDelta(await manifestAt(tx, id, row.head), delta));
  const { rows } = await tx.query<{ next: number }>("select max(number) + 1 as next from revisions where asset = $1", [
    id,
  ]);
  const number = rows[0]!.next;
  await tx.query(
    `insert into revisions (asset, number, parent, operation, options, scope, words, figures, key, version)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
    [
      id,
      number,
      row.head,
      request.operation,
      JSON.stringify(request.options ?? {}),
      JSON.stringify(request.scope ?? null),
      request.words,
      JSON.stringify(request.figures ?? null),
      request.key,
      request.base + 1,
    ],
  );
  await putFiles(tx, id, files);
  await putDelta(tx, id, number, delta);
  if (delta.head) await checkFiles(tx, id, fileKeys(next.head!));
  await tx.query("update assets set parts = $2 where id = $1 and parts <> $2", [id, next.head!.order.length]);
  await takeVersion(tx, id, request.base, number, request.figures);
  if (number % SNAPSHOT_EVERY === 0) await keepSnapshot(tx, id, number, next);
  keepManifest(id, number, next);
  return historyState(tx, id, { version: request.base + 1, head: number });
}

/** Source and images must have come along, now or before. */
async function checkFiles(db: Queries, id: string, wanted: readonly string[]): Promise<void> {
  if (!wanted.length) return;
  const { rows } = await db.query<{ key: string }>("select key from asset_files where asset = $1 and key = any($2)", [
    id,
    wanted,
  ]);
  const there = new Set(rows.map((r) => r.key));
  if (!wanted.every((key) => there.has(key))) throw new UserError("The edit refers to a file that did not come along.");
}

/** Steps back or forth along the history, or to any revision; returns what differs. Nothing is lost by it. */
export async function stepHistory(db: Database, id: string, base: number, step: HistoryStep): Promise<Appended> {
  return db.transaction(async (tx) => {
    const row = await headOf(tx, id, "for update");
    if (row.version !== base) throw new Conflict(CONFLICT);
    const { number, figures } = await targetOf(tx, id, row.head, step);
    const [from, to] = [await manifestAt(tx, id, row.head), await manifestAt(tx, id, number)];
    await takeVersion(tx, id, base, number, figures);
    await tx.query("update assets set parts = $2 where id = $1 and parts <> $2", [id, to.head!.order.length]);
    return {
      history: await historyState(tx, id, { version: base + 1, head: number }),
      delta: manifestDelta(from, to),
    };
  });
}

async function targetOf(
  db: Queries,
  id: string,
  head: number,
  step: HistoryStep,
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
  if (target && target.number !== null) return { number: target.number, figures: target.figures };
  if (step === "undo") throw new UserError("There is nothing to undo.");
  if (step === "redo") throw new UserError("There is nothing to redo.");
  throw new Missing("This step is no longer there.");
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
