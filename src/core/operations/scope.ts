import {
  type Asset,
  type Part,
  type PlacedShape,
  partById,
  placedShape,
  type Shape,
  type ShapeId,
  shapesOf,
  type UvSet,
  type UvSetId,
} from "../layout/asset";
import { emptyLayout, type Layout, shellNamed, structureOf } from "../layout/layout";
import { UserError } from "../layout/user-error";
import { type Edge, type Indices, indices, type Shell } from "../mesh/indices";
import { faceCount } from "../mesh/poly-mesh";
import { iota } from "../numeric/iota";
import { ElementSet } from "../select/element-set";
import { elementCount } from "../select/grow";
import { facesOfElements } from "../select/stand-for";
import type { Scope, Selection } from "./operation";

/** The layout of a shape in a set; one without seams and coordinates where it has none. */
export const layoutOf = (shape: Pick<Shape, "mesh" | "layouts">, set: UvSetId): Layout =>
  shape.layouts.get(set) ?? emptyLayout(shape.mesh);

/** The UV set worked on. @throws UserError when it is no longer there */
export function targetSet(asset: Asset, scope: Scope): UvSet {
  const set = asset.sets.find((s) => s.id === scope.set);
  if (!set) throw new UserError("The UV set worked on is no longer there.");
  return set;
}

/** Parts that the scope means: those picked in the list, else the first of each shape with something picked, else all visible. */
export function partsInScope(asset: Asset, scope: Scope): Part[] {
  if (scope.picked) return scope.picked.map((id) => partById(asset, id));
  if (scope.selection) return [...scope.selection.items.keys()].map((id) => placedShape(asset, id).parts[0]!);
  const visible = new Set(scope.parts);
  return asset.parts.filter((p) => visible.has(p.id));
}

/** Shapes that the scope means, each once, in the order of the list. */
export function shapesInScope(asset: Asset, scope: Scope): PlacedShape[] {
  const ids = scope.selection
    ? new Set<ShapeId>(scope.selection.items.keys())
    : new Set(partsInScope(asset, scope).map((p) => p.shape));
  for (const id of ids) placedShape(asset, id);
  return shapesOf(asset).filter((s) => ids.has(s.id));
}

interface Picked {
  readonly kind: Selection["kind"];
  readonly items: Uint32Array;
}

/**
 * What is picked of a shape; nothing means all of it.
 *
 * @throws UserError for an element that is not there: a selection made before the shape was changed
 */
function pickedOf(scope: Scope, shape: PlacedShape): Picked | null {
  const items = scope.selection?.items.get(shape.id);
  if (!scope.selection || !items) return null;
  const { kind } = scope.selection;
  const count = elementCount(shape.mesh, kind);
  for (const i of items)
    if (i >= count) throw new UserError(`What was picked of ${shape.name} is no longer there; pick again.`);
  return { kind, items };
}

/** Shells the scope means, by shape, ascending. Picked points, edges and faces stand for the shells they lie in. */
export function shellsInScope(
  asset: Asset,
  scope: Scope,
): Array<{ shape: PlacedShape; layout: Layout; shells: Indices<Shell> }> {
  return shapesInScope(asset, scope).map((shape) => {
    const layout = layoutOf(shape, scope.set);
    const s = structureOf(shape.mesh, layout);
    const picked = pickedOf(scope, shape);
    if (!picked) return { shape, layout, shells: indices<Shell>(iota(s.shellCount)) };
    const shells = new Set<Shell>();
    if (picked.kind === "shells") {
      for (const name of picked.items) {
        const shell = shellNamed(s, name);
        if (shell === null) throw new UserError(`A picked shell of ${shape.name} is no longer there; pick again.`);
        shells.add(shell);
      }
    } else for (const f of facesTouched(shape, layout, picked)) shells.add(s.faceShell[f]!);
    return { shape, layout, shells: indices<Shell>(Uint32Array.from(shells).sort()) };
  });
}

/** Edges the scope means, by shape. @throws UserError when no edges are picked */
export function edgesInScope(
  asset: Asset,
  scope: Scope,
): Array<{ shape: PlacedShape; layout: Layout; edges: Indices<Edge> }> {
  if (scope.selection?.kind !== "edges") throw new UserError("Pick edges first.");
  return shapesInScope(asset, scope).map((shape) => ({
    shape,
    layout: layoutOf(shape, scope.set),
    edges: indices<Edge>(pickedOf(scope, shape)?.items ?? new Uint32Array(0)),
  }));
}

/** Faces the scope means, by shape, ascending: picked ones, those of picked shells, those that picked edges and vertices touch; or all. */
export function facesInScope(asset: Asset, scope: Scope): Array<{ shape: PlacedShape; faces: Uint32Array }> {
  return shapesInScope(asset, scope).map((shape) => {
    const picked = pickedOf(scope, shape);
    if (!picked) return { shape, faces: iota(faceCount(shape.mesh)) };
    if (picked.kind === "faces") return { shape, faces: picked.items.slice().sort() };
    const layout = layoutOf(shape, scope.set);
    if (picked.kind !== "shells") return { shape, faces: facesTouched(shape, layout, picked) };
    const s = structureOf(shape.mesh, layout);
    const wanted = new Set(shellsInScope(asset, scope).find((w) => w.shape.id === shape.id)!.shells);
    return { shape, faces: iota(s.faceShell.length).filter((f) => wanted.has(s.faceShell[f]!)) };
  });
}

/** Faces that some elements are part of, ascending. */
function facesTouched({ mesh }: Shape, layout: Layout, { kind, items }: Picked): Uint32Array {
  return facesOfElements(mesh, layout, ElementSet.of(elementCount(mesh, kind), items), kind).items();
}

/** Everything in the asset, in its first UV set unless another is named, as the command line means it. */
export const everything = (asset: Asset, set: UvSetId = asset.sets[0]!.id): Scope => ({
  set,
  parts: asset.parts.map((p) => p.id),
});
