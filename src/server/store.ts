import { randomUUID } from "node:crypto";
import type { PGlite } from "@electric-sql/pglite";
import { z } from "zod";
import { checkLayout } from "../core/formats/asset-bundle";
import { type Asset, type LayoutChange, layoutParts, type Part, partById } from "../core/layout/asset";
import { UserError } from "../core/layout/user-error";
import type { UvSet } from "../core/layout/uv-set";
import type { PolyMesh } from "../core/mesh/poly-mesh";
import { getBlobs, putBlob } from "./blobs";
import type { Queries } from "./database";

/** A write made on a version that is no longer the newest. */
export class Conflict extends UserError {
  override name = "Conflict";
}

const MeshRefs = z.object({
  positions: z.string(),
  faceStart: z.string(),
  cornerVertex: z.string(),
  faceMaterial: z.string(),
  faceGroup: z.string(),
  cornerNormal: z.string().optional(),
  originVertex: z.string(),
  originFace: z.string(),
  groups: z.array(z.string()),
});

const Structure = z.object({
  up: z.enum(["y", "z"]),
  materials: z.array(z.object({ name: z.string(), color: z.tuple([z.number(), z.number(), z.number()]) })),
  source: z.object({ name: z.string(), format: z.enum(["obj", "glb", "gltf", "made"]) }),
  parts: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      path: z.array(z.string()),
      transform: z.array(z.number()),
      instanceOf: z.string().optional(),
      sourceIndex: z.number().optional(),
      mesh: MeshRefs.optional(),
    }),
  ),
});
type Structure = z.infer<typeof Structure>;

export interface AssetRow {
  readonly id: string;
  readonly name: string;
  readonly unit: Asset["unit"];
  readonly version: number;
  readonly figures: unknown;
  readonly updatedAt: string;
  readonly parts: number;
}

export interface HistoryState {
  readonly version: number;
  readonly head: number;
  /** Words of the step that undo takes back, and of the one redo brings again. */
  readonly undo: string | null;
  readonly redo: string | null;
}

export async function listAssets(db: PGlite): Promise<AssetRow[]> {
  const { rows } = await db.query<AssetRow>(
    `select id, name, unit, version, figures, to_char(updated_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as "updatedAt",
            jsonb_array_length(structure->'parts') as parts
     from assets order by created_at, id`,
  );
  return rows;
}

/** Stores a new asset with its layouts as revision 0. Whole or not at all. */
export async function createAsset(db: PGlite, asset: Asset, figures: unknown = null): Promise<string> {
  const id = randomUUID();
  await db.transaction(async (tx) => {
    const structure = await putStructure(tx, asset);
    const source = asset.source.bytes ? await putBlob(tx, asset.source.bytes) : null;
    await tx.query(
      "insert into assets (id, name, unit, structure, source_hash, figures) values ($1, $2, $3, $4, $5, $6)",
      [id, asset.name, asset.unit, JSON.stringify(structure), source, JSON.stringify(figures)],
    );
    await tx.query(
      "insert into revisions (asset, number, parent, operation, options, words, figures) values ($1, 0, null, 'import', '{}', 'Import', $2)",
      [id, JSON.stringify(figures)],
    );
    const layouts = layoutParts(asset).flatMap((p) => p.uvSets.map((layout, set) => ({ part: p.id, set, layout })));
    await putLayouts(tx, id, 0, layouts);
  });
  return id;
}

async function putStructure(db: Queries, asset: Asset): Promise<Structure> {
  const parts: Structure["parts"] = [];
  for (const part of asset.parts) {
    const base = { id: part.id, name: part.name, path: [...part.path], transform: [...part.transform] };
    const own = part.sourceIndex !== undefined ? { ...base, sourceIndex: part.sourceIndex } : base;
    parts.push(
      part.instanceOf !== undefined
        ? { ...own, instanceOf: part.instanceOf }
        : { ...own, mesh: await putMesh(db, part.mesh) },
    );
  }
  const materials = asset.materials.map((m) => ({ name: m.name, color: [...m.color] as [number, number, number] }));
  return { up: asset.up, materials, source: { name: asset.source.name, format: asset.source.format }, parts };
}

async function putMesh(db: Queries, mesh: PolyMesh): Promise<z.infer<typeof MeshRefs>> {
  return {
    positions: await putBlob(db, mesh.positions),
    faceStart: await putBlob(db, mesh.faceStart),
    cornerVertex: await putBlob(db, mesh.cornerVertex),
    faceMaterial: await putBlob(db, mesh.faceMaterial),
    faceGroup: await putBlob(db, mesh.faceGroup),
    ...(mesh.cornerNormal ? { cornerNormal: await putBlob(db, mesh.cornerNormal) } : {}),
    originVertex: await putBlob(db, mesh.origin.vertex),
    originFace: await putBlob(db, mesh.origin.face),
    groups: [...mesh.groups],
  };
}

async function putLayouts(db: Queries, asset: string, number: number, layouts: readonly LayoutChange[]): Promise<void> {
  for (const { part, set, layout } of layouts) {
    await db.query(
      "insert into revision_layouts (asset, number, part, set_index, name, cut, mapped, uv, pinned) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)",
      [
        asset,
        number,
        part,
        set,
        layout.name,
        await putBlob(db, layout.cut),
        await putBlob(db, layout.mapped),
        await putBlob(db, layout.uv),
        await putBlob(db, layout.pinned),
      ],
    );
  }
}

interface LayoutRow {
  part: string;
  set_index: number;
  number: number;
  name: string;
  cut: string;
  mapped: string;
  uv: string;
  pinned: string;
}

/** The newest layout of every part and set along the line of revisions that ends in `head`. */
async function layoutRows(db: Queries, asset: string, head: number): Promise<LayoutRow[]> {
  const { rows } = await db.query<LayoutRow>(
    `with recursive line as (
       select number, parent from revisions where asset = $1 and number = $2
       union all
       select r.number, r.parent from revisions r join line on r.asset = $1 and r.number = line.parent
     )
     select distinct on (l.part, l.set_index) l.* from revision_layouts l join line on line.number = l.number
     where l.asset = $1 order by l.part, l.set_index, l.number desc`,
    [asset, head],
  );
  return rows;
}

async function readLayouts(db: Queries, rows: readonly LayoutRow[]): Promise<LayoutChange[]> {
  const blobs = await getBlobs(
    db,
    rows.flatMap((r) => [r.cut, r.mapped, r.uv, r.pinned]),
  );
  return rows.map((r) => ({
    part: r.part,
    set: r.set_index,
    layout: {
      name: r.name,
      cut: blobs.get(r.cut)!,
      mapped: blobs.get(r.mapped)!,
      uv: new Float64Array(blobs.get(r.uv)!.buffer),
      pinned: blobs.get(r.pinned)!,
    },
  }));
}

interface Head {
  name: string;
  unit: Asset["unit"];
  structure: unknown;
  source_hash: string | null;
  version: number;
  head: number;
}

async function headOf(db: Queries, id: string): Promise<Head> {
  const { rows } = await db.query<Head>(
    "select name, unit, structure, source_hash, version, head from assets where id = $1",
    [id],
  );
  if (!rows[0]) throw new UserError("This asset is no longer there.");
  return rows[0];
}

/** An asset as it stands; the bytes of its source stay behind unless asked for. */
export async function loadAsset(
  db: PGlite,
  id: string,
  withSource = false,
): Promise<{ asset: Asset; history: HistoryState }> {
  return db.transaction(async (tx) => {
    const row = await headOf(tx, id);
    const structure = Structure.parse(row.structure);
    const layouts = await readLayouts(tx, await layoutRows(tx, id, row.head));
    const refs = structure.parts.flatMap((p) =>
      p.mesh ? Object.values(p.mesh).filter((v): v is string => typeof v === "string") : [],
    );
    const blobs = await getBlobs(tx, row.source_hash && withSource ? [...refs, row.source_hash] : refs);
    const parts: Part[] = [];
    for (const p of structure.parts) {
      const owner = parts.find((q) => q.id === p.instanceOf);
      const uvSets: UvSet[] = [];
      for (const l of layouts) if (l.part === p.id) uvSets[l.set] = l.layout;
      const { mesh: refsOf, ...base } = p;
      parts.push(
        owner
          ? { ...base, mesh: owner.mesh, uvSets: owner.uvSets }
          : { ...base, mesh: readMesh(refsOf!, blobs), uvSets },
      );
    }
    const source = {
      ...structure.source,
      ...(row.source_hash && withSource ? { bytes: blobs.get(row.source_hash)! } : {}),
    };
    const asset: Asset = {
      id,
      name: row.name,
      unit: row.unit,
      up: structure.up,
      materials: structure.materials,
      parts,
      source,
    };
    return { asset, history: await historyState(tx, id, row) };
  });
}

function readMesh(refs: z.infer<typeof MeshRefs>, blobs: Map<string, Uint8Array<ArrayBuffer>>): PolyMesh {
  const u32 = (hash: string) => new Uint32Array(blobs.get(hash)!.buffer);
  return {
    positions: new Float64Array(blobs.get(refs.positions)!.buffer),
    faceStart: u32(refs.faceStart),
    cornerVertex: u32(refs.cornerVertex),
    faceMaterial: u32(refs.faceMaterial),
    faceGroup: u32(refs.faceGroup),
    ...(refs.cornerNormal ? { cornerNormal: new Float32Array(blobs.get(refs.cornerNormal)!.buffer) } : {}),
    groups: refs.groups,
    origin: { vertex: u32(refs.originVertex), face: u32(refs.originFace) },
  };
}

async function historyState(db: Queries, id: string, row: { version: number; head: number }): Promise<HistoryState> {
  const { rows } = await db.query<{ words: string; parent: number | null }>(
    "select words, parent from revisions where asset = $1 and number = $2",
    [id, row.head],
  );
  const next = await db.query<{ words: string }>(
    "select words from revisions where asset = $1 and parent = $2 order by number desc limit 1",
    [id, row.head],
  );
  const here = rows[0]!;
  return {
    version: row.version,
    head: row.head,
    undo: here.parent === null ? null : here.words,
    redo: next.rows[0]?.words ?? null,
  };
}

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
  readonly changes: readonly LayoutChange[];
}

/** Adds one revision. @throws Conflict when its base is not the newest, UserError when it does not fit the asset */
export async function appendRevision(db: PGlite, id: string, edit: Edit): Promise<HistoryState> {
  const { asset } = await loadAsset(db, id);
  for (const { part, layout } of edit.changes) {
    const owner = partById(asset, part);
    if (owner.instanceOf !== undefined)
      throw new UserError(`${owner.name} repeats another part and has no layout of its own.`);
    checkLayout(owner.mesh, layout, owner.name);
  }
  return db.transaction(async (tx) => {
    const row = await headOf(tx, id);
    if (row.version !== edit.base) throw new Conflict(CONFLICT);
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
    await putLayouts(tx, id, number, edit.changes);
    await takeVersion(tx, id, edit.base, number, edit.figures);
    return historyState(tx, id, { version: edit.base + 1, head: number });
  });
}

/** Steps back or forth along the history; answers the layouts that differ. */
export async function stepHistory(
  db: PGlite,
  id: string,
  base: number,
  direction: "undo" | "redo",
): Promise<{ history: HistoryState; changes: LayoutChange[] }> {
  return db.transaction(async (tx) => {
    const row = await headOf(tx, id);
    if (row.version !== base) throw new Conflict(CONFLICT);
    const { rows } =
      direction === "undo"
        ? await tx.query<{ to: number | null; figures: unknown }>(
            "select p.number as to, p.figures from revisions r join revisions p on p.asset = r.asset and p.number = r.parent where r.asset = $1 and r.number = $2",
            [id, row.head],
          )
        : await tx.query<{ to: number | null; figures: unknown }>(
            "select number as to, figures from revisions where asset = $1 and parent = $2 order by number desc limit 1",
            [id, row.head],
          );
    const to = rows[0]?.to;
    if (to === undefined || to === null)
      throw new UserError(direction === "undo" ? "There is nothing to undo." : "There is nothing to redo.");
    const before = new Map((await layoutRows(tx, id, row.head)).map((r) => [`${r.part}/${r.set_index}`, r.number]));
    const after = (await layoutRows(tx, id, to)).filter((r) => before.get(`${r.part}/${r.set_index}`) !== r.number);
    await takeVersion(tx, id, base, to, rows[0]!.figures ?? undefined);
    return {
      history: await historyState(tx, id, { version: base + 1, head: to }),
      changes: await readLayouts(tx, after),
    };
  });
}

export async function renameAsset(db: PGlite, id: string, name: string): Promise<void> {
  const { rows } = await db.query("update assets set name = $2, updated_at = now() where id = $1 returning 1", [
    id,
    name,
  ]);
  if (!rows.length) throw new UserError("This asset is no longer there.");
}

/** Keeps the figures measured for a version with the asset and its revision; those of an older version are let go. */
export async function noteFigures(db: PGlite, id: string, version: number, figures: unknown): Promise<void> {
  await db.transaction(async (tx) => {
    const { rows } = await tx.query<{ head: number }>(
      "update assets set figures = $3 where id = $1 and version = $2 returning head",
      [id, version, JSON.stringify(figures)],
    );
    if (rows[0])
      await tx.query("update revisions set figures = $3 where asset = $1 and number = $2", [
        id,
        rows[0].head,
        JSON.stringify(figures),
      ]);
  });
}

/** Deletes an asset with its history, and the blobs nobody else refers to. */
export async function deleteAsset(db: PGlite, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.query("delete from assets where id = $1", [id]);
    await tx.query(
      `delete from blobs b where not exists (select 1 from revision_layouts l where b.hash in (l.cut, l.mapped, l.uv, l.pinned))
         and not exists (select 1 from assets a where a.source_hash = b.hash)
         and not exists (select 1 from assets a, jsonb_array_elements(a.structure->'parts') p, jsonb_each_text(coalesce(nullif(p->'mesh', 'null'), '{}')) m where m.value = b.hash)`,
    );
  });
}
