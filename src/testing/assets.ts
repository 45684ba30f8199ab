import type { Asset, PlacedShape, ShapeId } from "../core/layout/asset";
import { shapesOf } from "../core/layout/asset";
import { emptyLayout, type Layout } from "../core/layout/layout";
import { newAsset } from "../core/layout/new-asset";
import type { PolyMesh } from "../core/mesh/poly-mesh";
import { IDENTITY, type Mat4 } from "../core/mesh/transform";
import type { Context, Scope, SelectionKind } from "../core/operations/operation";
import { runEdit } from "../core/operations/run";
import { everything } from "../core/operations/scope";

// What many tests need: small assets, and edits in one line.

export const quiet: Context = { progress: () => {} };

/** An asset of one part, "p1" of shape "p1", in one UV set, "s1". */
export const assetOf = (mesh: PolyMesh, layout: Layout = emptyLayout(mesh), transform: Mat4 = IDENTITY): Asset =>
  newAsset({ id: "a", name: "Test", unit: "cm", source: { name: "t.made", format: "made" } }, [
    { id: "p1", name: "Part", mesh, transform, layouts: [layout] },
  ]);

/** The shape of a place in the list of shapes. */
export const shapeAt = (asset: Asset, i = 0): PlacedShape => shapesOf(asset)[i]!;

/** The layout of a shape in a UV set, both by place. */
export const layoutAt = (asset: Asset, i = 0, set = 0): Layout => shapeAt(asset, i).layouts.get(asset.sets[set]!.id)!;

export const edit = async (
  asset: Asset,
  id: string,
  options: unknown = {},
  scope: Scope = everything(asset),
): Promise<Asset> => (await runEdit(asset, id, options, scope, quiet)).asset;

/** Everything visible, with some elements of one shape picked. */
export const picking = (
  asset: Asset,
  kind: SelectionKind,
  items: Iterable<number>,
  shape: ShapeId = shapeAt(asset).id,
): Scope => ({
  ...everything(asset),
  selection: { kind, items: new Map([[shape, Uint32Array.from(items)]]) },
});

/** Everything visible, with some parts picked in the list. */
export const pickingParts = (asset: Asset, parts: readonly string[]): Scope => ({
  ...everything(asset),
  picked: parts,
});

/** A layout made quickly, for tests to which its quality is of no concern: every face has coordinates, nothing is packed. */
export async function laidOut(asset: Asset): Promise<Asset> {
  const creased = await edit(asset, "creased", { angle: 40 });
  const opened = await edit(creased, "open-up").catch((error: Error) => {
    if (/open already/.test(error.message)) return creased;
    throw error;
  });
  return edit(opened, "unfold", { passes: 1 });
}

const models = new Map<() => Asset, Promise<Asset>>();

/** The same of a model of the demo, made once for all files of tests in a process: assets are never changed. */
export function laidOutModel(model: () => Asset): Promise<Asset> {
  const made = models.get(model) ?? laidOut(model());
  models.set(model, made);
  return made;
}
