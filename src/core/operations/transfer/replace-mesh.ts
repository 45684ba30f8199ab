import { z } from "zod";
import { wholeParts } from "../../layout/assembly";
import { type Asset, freshId, type Part, withParts } from "../../layout/asset";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { carryOver } from "../../transfer/carry-over";
import { matchMeshes } from "../../transfer/match";
import type { EditOperation, Note } from "../operation";
import { count } from "../words";
import { broughtAsset } from "./brought";

/** Puts a newer file under the asset: what holds of the layout is kept, what does not is picked. */
export const replaceMesh: EditOperation<Record<string, never>> = {
  id: "replace-mesh",
  title: "Replace the mesh",
  about:
    "Puts a newer version of the file under the asset. Layouts are kept where the faces are as they were; the others are laid by the nearest surface and picked.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  needs: "file",
  big: true,
  options: z.object({}),
  run(before, _, __, context) {
    const asset = wholeParts(before);
    const brought = broughtAsset(context);
    const old = pairUp(asset, brought);
    const notes: Note[] = [];
    const pick = new Map<string, Uint32Array>();
    const sums = { kept: 0, moved: 0, fresh: 0, gone: 0 };
    const ids = new Map(brought.parts.map((p) => [p.id, old.get(p.id)?.id ?? freshId("p")]));
    const parts = brought.parts.map((p, i): Part => {
      context.progress(i / brought.parts.length);
      const was = old.get(p.id);
      const own = {
        ...p,
        id: ids.get(p.id)!,
        ...(p.instanceOf !== undefined ? { instanceOf: ids.get(p.instanceOf)! } : {}),
      };
      if (!was) {
        notes.push({ words: `${p.name} is new.`, shells: [] });
        return { ...own, uvSets: asset.sets.map((_set, k) => p.uvSets[k]) };
      }
      const { label, status, locked, path } = was;
      const named = { ...own, path: path.length ? path : own.path, ...optional({ label, status, locked }) };
      if (p.instanceOf !== undefined) return named;
      const carried = carryOver(was, p.mesh);
      for (const key of ["kept", "gone"] as const) sums[key] += carried[key];
      for (const key of ["moved", "fresh"] as const) sums[key] += carried[key].length;
      const affected = Uint32Array.from([...carried.moved, ...carried.fresh]).sort();
      if (affected.length) pick.set(named.id, affected);
      return { ...named, uvSets: carried.uvSets };
    });
    const there = new Set(ids.values());
    for (const p of asset.parts)
      if (!there.has(p.id)) notes.push({ words: `${p.name} is no longer there.`, shells: [] });
    const { source, materials, images } = brought;
    const next = withParts({ ...asset, source, images, materials: keptTextures(asset, brought, materials) }, parts);
    const told = [
      `${count(sums.kept, "face")} kept`,
      ...(sums.moved ? [`${count(sums.moved, "face")} of another shape`] : []),
      ...(sums.fresh ? [`${count(sums.fresh, "face")} new`] : []),
      ...(sums.gone ? [`${count(sums.gone, "face")} gone`] : []),
    ];
    return {
      asset: next,
      words: `Replace the mesh by ${source.name}: ${told.join(", ")}`,
      notes,
      ...(pick.size ? { pick: { kind: "faces" as const, items: pick } } : {}),
      ...(brought.files ? { files: brought.files } : {}),
    };
  },
};

const optional = <T extends object>(values: T): Partial<T> =>
  Object.fromEntries(Object.entries(values).filter(([, v]) => v !== undefined)) as Partial<T>;

/** Images laid by a set keep to the set they were laid by, where the material is there still. */
const keptTextures = (asset: Asset, brought: Asset, materials: Asset["materials"]): Asset["materials"] =>
  materials.map((m) => {
    if (!m.texture) return m;
    const was = asset.materials.find((o) => o.name === m.name)?.texture;
    const index = brought.sets.findIndex((s) => s.id === m.texture!.set);
    return { ...m, texture: { ...m.texture, set: was?.set ?? (asset.sets[index] ?? asset.sets[0]!).id } };
  });

/** Which part each brought one was: by name, then by a mesh joined alike, then by being the only one left. */
function pairUp(asset: Asset, brought: Asset): Map<string, Part> {
  const out = new Map<string, Part>();
  const free = new Set(asset.parts);
  const take = (id: string, part: Part | undefined) => {
    if (!part) return;
    out.set(id, part);
    free.delete(part);
  };
  for (const p of brought.parts)
    take(
      p.id,
      [...free].find((q) => q.name === p.name && !q.instanceOf === !p.instanceOf),
    );
  for (const p of brought.parts)
    if (!out.has(p.id))
      take(
        p.id,
        [...free].find((q) => alike(q.mesh, p.mesh)),
      );
  const left = brought.parts.filter((p) => !out.has(p.id));
  if (left.length === 1 && free.size === 1) take(left[0]!.id, [...free][0]);
  return out;
}

const alike = (a: PolyMesh, b: PolyMesh): boolean =>
  a.faceStart.length === b.faceStart.length && matchMeshes(a, b) !== null;
