import { UserError } from "../core/layout/user-error";
import type { Contents, Manifest, ManifestDelta } from "../wire/manifest";
import { arrayRows, getArrays, type Lease, leaseArrays, releaseArrays, storeChunks } from "./arrays";
import type { ArrayRow } from "./chunks";
import type { Database } from "./database";
import type { DocumentService } from "./document-thread";
import type { Received } from "./documents";
import type { Queries } from "./queries";

// What creating an asset and adding an edit have in common: arrays are stored first, a portion at a time; then the rows
// that refer to them, in one short transaction.

/** Stores the arrays of an upload, runs `act` with rows to be written, and lets go of the upload, come what may. */
export async function withArrays<T>(
  db: Database,
  service: DocumentService,
  received: Received,
  act: () => Promise<T>,
): Promise<T> {
  let lease: Lease | null = null;
  try {
    lease = await leaseArrays(db, received.rows);
    await storeChunks(db, received.rows, lease, (hashes) => service.squeeze(received.stage, hashes));
    return await act();
  } finally {
    if (lease) await releaseArrays(db, lease).catch(() => {});
    await service.drop(received.stage);
    await service.trim();
  }
}

/** Writes the rows of a revision, many in one statement. */
export async function putDelta(db: Queries, asset: string, number: number, delta: ManifestDelta): Promise<void> {
  if (delta.head)
    await db.query("insert into revision_heads (asset, number, record) values ($1, $2, $3)", [
      asset,
      number,
      JSON.stringify(delta.head),
    ]);
  if (delta.parts.length)
    await db.query(
      `insert into revision_parts (asset, number, part, record)
       select $1, $2, r->>'id', r from jsonb_array_elements($3::jsonb) r`,
      [asset, number, JSON.stringify(delta.parts)],
    );
  if (delta.shapes.length)
    await db.query(
      `insert into revision_shapes (asset, number, shape, body, arrays)
       select $1, $2, r->>'id', r->'body', array(select jsonb_array_elements_text(r->'arrays'))
       from jsonb_array_elements($3::jsonb) r`,
      [asset, number, JSON.stringify(delta.shapes)],
    );
  if (delta.layouts.length)
    await db.query(
      `insert into revision_layouts (asset, number, shape, set_id, cut, mapped, uv, pinned)
       select $1, $2, r->>'shape', r->>'set', r->'refs'->>'cut', r->'refs'->>'mapped', r->'refs'->>'uv', r->'refs'->>'pinned'
       from jsonb_array_elements($3::jsonb) r`,
      [asset, number, JSON.stringify(delta.layouts)],
    );
}

export async function putFiles(db: Queries, asset: string, files: Readonly<Record<string, string>>): Promise<void> {
  const keys = Object.keys(files);
  if (keys.length)
    await db.query(
      `insert into asset_files (asset, key, array_hash) select $1, * from unnest($2::text[], $3::text[]) on conflict do nothing`,
      [asset, keys, Object.values(files)],
    );
}

/** Applies a change to a state. Arrays are not read. @throws UserError */
export function withManifestDelta(base: Manifest, delta: ManifestDelta): Manifest {
  const next: Manifest = {
    head: delta.head ?? base.head,
    parts: new Map(base.parts),
    shapes: new Map(base.shapes),
    layouts: new Map(base.layouts),
  };
  for (const part of delta.parts) next.parts.set(part.id, part);
  for (const { id, ...refs } of delta.shapes) next.shapes.set(id, refs);
  const sets = new Set(next.head!.sets.map((s) => s.id));
  if (sets.size !== next.head!.sets.length) throw new UserError("The edit names a UV set twice.");
  for (const { shape, set, refs } of delta.layouts) {
    if (!next.shapes.has(shape) || !sets.has(set)) throw new UserError("The edit names a layout that is not there.");
    if (refs) next.layouts.set(`${shape}/${set}`, refs);
    else next.layouts.delete(`${shape}/${set}`);
  }
  const { order } = next.head!;
  if (new Set(order).size !== order.length) throw new UserError("The edit names a part twice.");
  for (const id of order) {
    const part = next.parts.get(id);
    if (!part) throw new UserError("The edit does not fit the asset: it names a part that is not there.");
    if (!next.shapes.has(part.shape))
      throw new UserError(`The edit does not fit the asset: ${part.name} has no shape.`);
  }
  return next;
}

/** Brings arrays to a service, as far as it lacks them. */
export async function provide(db: Database, service: DocumentService, hashes: readonly string[]): Promise<void> {
  const lacking = await service.lacking(hashes);
  // In portions, so that no answer holds the event loop for long.
  for (let i = 0; i < lacking.length; ) {
    const rows: ArrayRow[] = [];
    const known = await arrayRows(db, lacking.slice(i, i + 64));
    let chunks = 0;
    for (; i < lacking.length && rows.length < 64 && chunks < 256; i++) {
      const row = known.get(lacking[i]!)!;
      rows.push(row);
      chunks += row.chunks.length;
    }
    await service.provide(rows, await db.chunks([...new Set(rows.flatMap((r) => r.chunks))]));
  }
}

/** Arrays by hash, read into this thread. */
export async function contentsOf(db: Database, hashes: readonly string[]): Promise<Contents> {
  const arrays = await getArrays(db, hashes);
  return (hash) => arrays.get(hash)!;
}
