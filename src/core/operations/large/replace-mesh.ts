import { wholeParts } from "../../layout/assembly";
import {
  type Asset,
  bareShape,
  type Part,
  type Shape,
  type ShapeId,
  shapeOf,
  shapesOf,
  type UvSetId,
  withLaid,
  withParts,
} from "../../layout/asset";
import type { Layout } from "../../layout/layout";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { carryOver } from "../../transfer/carry-over";
import { matchMeshes } from "../../transfer/match";
import type { EditContext, EditResult, Note, Scope } from "../operation";
import { importedAsset } from "../transfer/imported-asset";
import { count } from "../words";

/** Puts a newer file under the asset: what holds of the layout is kept, what does not is picked. */
export function run(before: Asset, _: Scope, __: unknown, context: EditContext): EditResult {
  const asset = wholeParts(before);
  const imported = importedAsset(context);
  const old = pairUp(asset, imported);
  const notes: Note[] = [];
  const pick = new Map<ShapeId, Uint32Array>();
  const sums = { kept: 0, moved: 0, fresh: 0, gone: 0 };
  // A shape that was keeps its name, unless two of the file's come from it.
  const shapeIds = new Map<ShapeId, ShapeId>();
  const shapes = shapesOf(imported).map((shape, i): Shape => {
    context.progress(i / imported.shapes.size);
    const was = old.get(shape.parts[0]!.id);
    const taken = new Set(shapeIds.values());
    const id = was && !taken.has(was.shape) ? was.shape : context.freshId("m");
    shapeIds.set(shape.id, id);
    if (!was) return { ...bareShape(shape), id, layouts: byPlace(asset, imported, shape) };
    const carried = carryOver(shapeOf(asset, was), shape.mesh);
    for (const key of ["kept", "gone"] as const) sums[key] += carried[key];
    for (const key of ["moved", "fresh"] as const) sums[key] += carried[key].length;
    const affected = Uint32Array.from([...carried.moved, ...carried.fresh]).sort();
    if (affected.length) pick.set(id, affected);
    return { id, mesh: shape.mesh, layouts: carried.layouts };
  });
  const ids = new Map(imported.parts.map((p) => [p.id, old.get(p.id)?.id ?? context.freshId("p")]));
  const parts = imported.parts.map((p): Part => {
    const was = old.get(p.id);
    const own = { ...p, id: ids.get(p.id)!, shape: shapeIds.get(p.shape)! };
    if (!was) {
      notes.push({ words: `${p.name} is new.`, shells: [] });
      return own;
    }
    const { label, status, locked, path } = was;
    return { ...own, path: path.length ? path : own.path, ...optional({ label, status, locked }) };
  });
  const there = new Set(ids.values());
  for (const p of asset.parts) if (!there.has(p.id)) notes.push({ words: `${p.name} is no longer there.`, shells: [] });
  const { source, materials, images } = imported;
  const emptied = { ...asset, source, images, materials: keptTextures(asset, imported, materials) };
  const next = withParts(emptied, parts, shapes);
  const counts = [
    `${count(sums.kept, "face")} kept`,
    ...(sums.moved ? [`${count(sums.moved, "face")} of another shape`] : []),
    ...(sums.fresh ? [`${count(sums.fresh, "face")} new`] : []),
    ...(sums.gone ? [`${count(sums.gone, "face")} gone`] : []),
  ];
  return {
    asset: next,
    words: `Replace the mesh by ${source.name}: ${counts.join(", ")}`,
    notes,
    ...(pick.size ? { pick: { kind: "faces" as const, items: pick } } : {}),
    ...(imported.files ? { files: imported.files } : {}),
  };
}

/** The layouts a new shape came with, by the place of their sets. */
function byPlace(asset: Asset, imported: Asset, shape: Shape): Map<UvSetId, Layout> {
  const layouts = asset.sets.flatMap((set, i) => {
    const layout = imported.sets[i] && shape.layouts.get(imported.sets[i].id);
    return layout ? [[set.id, layout] as const] : [];
  });
  return new Map(layouts);
}

const optional = <T extends object>(values: T): Partial<T> =>
  Object.fromEntries(Object.entries(values).filter(([, v]) => v !== undefined)) as Partial<T>;

/** Images stay with the set they were mapped by, as long as their material is still there. */
const keptTextures = (asset: Asset, imported: Asset, materials: Asset["materials"]): Asset["materials"] =>
  materials.map((m) => {
    const was = asset.materials.find((o) => o.name === m.name)?.texture;
    return withLaid(m, ({ image, set }) => {
      const index = imported.sets.findIndex((s) => s.id === set);
      return { image, set: was?.set ?? (asset.sets[index] ?? asset.sets[0]!).id };
    });
  });

/** Which old part each imported one was: by name, then by a mesh joined alike, then by being the only one left. */
function pairUp(asset: Asset, imported: Asset): Map<string, Part> {
  const out = new Map<string, Part>();
  const free = new Set(asset.parts);
  const take = (id: string, part: Part | undefined) => {
    if (!part) return;
    out.set(id, part);
    free.delete(part);
  };
  for (const p of imported.parts)
    take(
      p.id,
      [...free].find((q) => q.name === p.name),
    );
  for (const p of imported.parts)
    if (!out.has(p.id))
      take(
        p.id,
        [...free].find((q) => alike(shapeOf(asset, q).mesh, shapeOf(imported, p).mesh)),
      );
  const left = imported.parts.filter((p) => !out.has(p.id));
  if (left.length === 1 && free.size === 1) take(left[0]!.id, [...free][0]);
  return out;
}

const alike = (a: PolyMesh, b: PolyMesh): boolean =>
  a.faceStart.length === b.faceStart.length && matchMeshes(a, b) !== null;
