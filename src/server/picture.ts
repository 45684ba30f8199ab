import { z } from "zod";
import { plainText } from "../core/formats/schema-words";
import type { UvSetId } from "../core/layout/asset";
import { hashesOf, type Manifest, manifestOf } from "../wire/manifest";
import { stateOf } from "./assets";
import type { Database } from "./database";
import { Missing } from "./refusals";
import { queryOf, StepNumber } from "./respond";
import { provide } from "./store";

/** What a picture is to show. */
export interface Look {
  /** Step of the history; what is on the table when it is left out. */
  readonly at?: number | undefined;
  /** The UV set; the first when it is left out or was not there yet. */
  readonly set?: UvSetId | undefined;
  readonly swatch: boolean;
}

const Asked = z.object({
  at: StepNumber.optional(),
  set: plainText(200).optional(),
  swatch: z.coerce.boolean().default(false),
});

export const lookOf = (request: Request): Look =>
  queryOf(request, Asked, "This picture cannot be drawn: at must be the number of a step.");

const setOf = (manifest: Manifest, { set }: Look): UvSetId =>
  (manifest.head!.sets.find((s) => s.id === set) ?? manifest.head!.sets[0]!).id;

/** The asset's picture as PNG; the plain one is drawn when first asked for, then kept. */
export async function pictureOf(db: Database, id: string, look: Look): Promise<Uint8Array> {
  const plain = look.at === undefined && !look.swatch;
  const { rows } = await db.query<{ picture: Uint8Array | null; version: number }>(
    "select picture, version from assets where id = $1",
    [id],
  );
  if (!rows[0]) throw new Missing("This asset is no longer there.");
  if (plain && rows[0].picture) return new Uint8Array(rows[0].picture);
  const { manifest } = await stateOf(db, id, look.at);
  const bytes = await withState(db, manifest, () =>
    db.documents.bulk.picture(manifest, look.swatch ? setOf(manifest, look) : undefined),
  );
  // Not over the picture of an edit that came in between.
  if (plain)
    await db.query("update assets set picture = $2 where id = $1 and version = $3", [id, bytes, rows[0].version]);
  return bytes;
}

/** A layout as it lies in Sheet, as SVG. */
export async function sheetOf(db: Database, id: string, look: Look): Promise<Uint8Array> {
  const { manifest, name } = await stateOf(db, id, look.at);
  return withState(db, manifest, () => db.documents.bulk.sheet(manifest, name, setOf(manifest, look)));
}

async function withState<T>(db: Database, manifest: Manifest, act: () => Promise<T>): Promise<T> {
  await provide(db, db.documents.bulk, hashesOf(manifestOf(manifest)));
  const value = await act();
  await db.documents.bulk.trim();
  return value;
}
