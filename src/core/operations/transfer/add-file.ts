import { z } from "zod";
import { commonDensity, shellAreas } from "../../density/level";
import { type Asset, freshId, layoutParts, type Part, withParts } from "../../layout/asset";
import { withPoints } from "../../layout/uv-set";
import type { EditOperation } from "../operation";
import { layoutOf } from "../scope";
import { count } from "../words";
import { broughtAsset } from "./brought";

/** Adds the parts of another file; their shells are parked beside the layout at its density. */
export const addFile: EditOperation<Record<string, never>> = {
  id: "add-file",
  title: "Add a file",
  about:
    "Adds the parts of another file. Their shells lie beside the layout at its density; what is laid stays where it is.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  needs: "file",
  big: true,
  locked: "may",
  options: z.object({}),
  run(asset, scope, _, context) {
    const brought = broughtAsset(context);
    const materials = asset.materials.length;
    const ids = new Map(brought.parts.map((p) => [p.id, freshId("p")]));
    const factor = toUnit(asset, brought);
    const added = brought.parts.map((p): Part => {
      const { sourceIndex: _index, instanceOf, ...rest } = p;
      const faceMaterial = p.mesh.faceMaterial.map((m) => (m < brought.materials.length ? m + materials : m));
      return {
        ...rest,
        id: ids.get(p.id)!,
        ...(instanceOf !== undefined ? { instanceOf: ids.get(instanceOf)! } : {}),
        transform: p.transform.map((x, i) => (i % 4 < 3 ? x * factor : x)),
        mesh: { ...p.mesh, faceMaterial },
        uvSets: asset.sets.map((_set, i) => p.uvSets[i]),
      };
    });
    const grown = withParts(
      {
        ...asset,
        materials: [
          ...asset.materials,
          ...brought.materials.map((m) =>
            m.texture ? { ...m, texture: { ...m.texture, set: asset.sets[scope.set]!.id } } : m,
          ),
        ],
        images: [...asset.images, ...brought.images.filter((i) => !asset.images.some((a) => a.key === i.key))],
      },
      [...asset.parts, ...added],
    );
    return {
      asset: parked(asset, grown, new Set(ids.values()), scope.set),
      words: `Add ${count(added.length, "part")} of ${brought.source.name}`,
      notes: [],
      files: Object.fromEntries(
        brought.images.flatMap((i) => (brought.files?.[i.key] ? [[i.key, brought.files[i.key]!]] : [])),
      ),
    };
  },
};

const METRES = { m: 1, cm: 0.01, mm: 0.001, in: 0.0254 } as const;

/** glTF is in metres by its standard; other files are taken to be in the asset's own unit. */
const toUnit = (asset: Asset, brought: Asset): number =>
  brought.source.format === "glb" || brought.source.format === "gltf" ? METRES.m / METRES[asset.unit] : 1;

/** Scales the layout of the added parts to the density of what was there, and lays it beside it. */
function parked(before: Asset, grown: Asset, added: ReadonlySet<string>, set: number): Asset {
  const own = layoutParts(before).flatMap((p) => shellAreas(before, p, layoutOf(p, set)));
  const fresh = layoutParts(grown).filter((p) => added.has(p.id) && p.uvSets[set]);
  const theirs = fresh.flatMap((p) => shellAreas(grown, p, layoutOf(p, set)));
  if (!own.length || !theirs.length) return grown;
  const scale = commonDensity(own) / commonDensity(theirs);
  let right = 1;
  for (const p of layoutParts(before))
    for (let i = 0; i < layoutOf(p, set).uv.length; i += 2) right = Math.max(right, layoutOf(p, set).uv[i]!);
  let [u0, v0] = [Infinity, Infinity];
  for (const p of fresh)
    p.uvSets[set]!.uv.forEach((x, i) => {
      if (i % 2) v0 = Math.min(v0, x);
      else u0 = Math.min(u0, x);
    });
  const left = Math.ceil(right) + 0.05;
  return withParts(
    grown,
    grown.parts.map((p) => {
      const layout = p.uvSets[set];
      if (!fresh.includes(p) || !layout) return p;
      const uv = layout.uv.map((x, i) => (i % 2 ? (x - v0) * scale : (x - u0) * scale + left));
      return { ...p, uvSets: p.uvSets.map((s, i) => (i === set ? withPoints(layout, uv) : s)) };
    }),
  );
}
