import { byRatio, commonDensity, shellAreas } from "../../density/level";
import {
  type Asset,
  METRES,
  type Part,
  type Shape,
  type ShapeId,
  shapesOf,
  type UvSetId,
  withLaid,
  withLayouts,
  withParts,
} from "../../layout/asset";
import { withPoints } from "../../layout/layout";
import type { EditContext, EditResult, Scope } from "../operation";
import { layoutOf } from "../scope";
import { importedAsset } from "../transfer/imported-asset";
import { count } from "../words";

/** Adds the parts of another file; their shells are parked beside the layout at its density. */
export function run(asset: Asset, scope: Scope, _: unknown, context: EditContext): EditResult {
  const imported = importedAsset(context);
  const materials = asset.materials.length;
  const ids = new Map([...imported.shapes.keys()].map((id) => [id, context.freshId("m")]));
  const factor = toUnit(asset, imported);
  const parts = imported.parts.map(
    ({ sourceIndex: _index, ...part }): Part => ({
      ...part,
      id: context.freshId("p"),
      shape: ids.get(part.shape)!,
      transform: part.transform.map((x, i) => (i % 4 < 3 ? x * factor : x)),
    }),
  );
  // Their sets go to those of the same place.
  const shapes = [...imported.shapes.values()].map((shape): Shape => {
    const faceMaterial = shape.mesh.faceMaterial.map((m) => (m < imported.materials.length ? m + materials : m));
    const layouts = asset.sets.flatMap((set, i) => {
      const layout = imported.sets[i] && shape.layouts.get(imported.sets[i].id);
      return layout ? [[set.id, layout] as const] : [];
    });
    return { id: ids.get(shape.id)!, mesh: { ...shape.mesh, faceMaterial }, layouts: new Map(layouts) };
  });
  const grown = withParts(
    {
      ...asset,
      materials: [
        ...asset.materials,
        ...imported.materials.map((m) => withLaid(m, ({ image }) => ({ image, set: scope.set }))),
      ],
      images: [...asset.images, ...imported.images.filter((i) => !asset.images.some((a) => a.key === i.key))],
    },
    [...asset.parts, ...parts],
    shapes,
  );
  return {
    asset: parked(asset, grown, new Set(ids.values()), scope.set),
    words: `Add ${count(parts.length, "part")} of ${imported.source.name}`,
    notes: [],
    files: Object.fromEntries(
      imported.images.flatMap((i) => (imported.files?.[i.key] ? [[i.key, imported.files[i.key]!]] : [])),
    ),
  };
}

/** glTF is in metres by its standard; other files are taken to be in the asset's own unit. */
const toUnit = (asset: Asset, imported: Asset): number =>
  imported.source.format === "glb" || imported.source.format === "gltf" ? METRES.m / METRES[asset.unit] : 1;

/** Scales the layout of the added shapes to the density of what was there, and lays it beside it. */
function parked(before: Asset, grown: Asset, added: ReadonlySet<ShapeId>, set: UvSetId): Asset {
  const own = shapesOf(before).flatMap((s) => shellAreas(s, layoutOf(s, set), byRatio(before, set, s.id)));
  const fresh = shapesOf(grown).filter((s) => added.has(s.id) && s.layouts.has(set));
  const theirs = fresh.flatMap((s) => shellAreas(s, layoutOf(s, set)));
  if (!own.length || !theirs.length) return grown;
  const scale = commonDensity(own) / commonDensity(theirs);
  let right = 1;
  for (const s of shapesOf(before)) {
    const { uv } = layoutOf(s, set);
    for (let i = 0; i < uv.length; i += 2) right = Math.max(right, uv[i]!);
  }
  let [u0, v0] = [Infinity, Infinity];
  for (const s of fresh)
    layoutOf(s, set).uv.forEach((x, i) => {
      if (i % 2) v0 = Math.min(v0, x);
      else u0 = Math.min(u0, x);
    });
  const left = Math.ceil(right) + 0.05;
  const changes = fresh.map((s) => {
    const layout = layoutOf(s, set);
    const uv = layout.uv.map((x, i) => (i % 2 ? (x - v0) * scale : (x - u0) * scale + left));
    return { shape: s.id, set, layout: withPoints(layout, uv) };
  });
  return withLayouts(grown, changes);
}
