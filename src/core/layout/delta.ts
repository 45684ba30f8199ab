import {
  type Asset,
  type Part,
  type PartId,
  type Shape,
  type ShapeBody,
  type ShapeId,
  type UvSetId,
  withParts,
} from "./asset";
import type { Layout } from "./layout";

/** Everything about an asset but its parts, shapes and layouts. */
export interface AssetHead
  extends Pick<
    Asset,
    | "unit"
    | "up"
    | "sets"
    | "tiles"
    | "rules"
    | "selections"
    | "seamLocks"
    | "views"
    | "plots"
    | "shellMarks"
    | "materials"
    | "images"
    | "source"
  > {
  /** The parts, in the order of the list. */
  readonly order: readonly PartId[];
}

/** A shape that is new or has another mesh. Its layouts are listed separately. */
export interface ShapeChange {
  readonly id: ShapeId;
  readonly body: ShapeBody;
}

/** A new layout, or none where there was one. */
export interface LayoutChangeOrNone {
  readonly shape: ShapeId;
  readonly set: UvSetId;
  readonly layout: Layout | null;
}

/** What leads from one asset to another. It holds what differs and nothing else. */
export interface AssetDelta {
  readonly head?: AssetHead;
  readonly parts: readonly Part[];
  readonly shapes: readonly ShapeChange[];
  readonly layouts: readonly LayoutChangeOrNone[];
}

export const headOf = (asset: Asset): AssetHead => ({
  unit: asset.unit,
  up: asset.up,
  sets: asset.sets,
  tiles: asset.tiles,
  rules: asset.rules,
  selections: asset.selections,
  seamLocks: asset.seamLocks,
  views: asset.views,
  plots: asset.plots,
  shellMarks: asset.shellMarks,
  materials: asset.materials,
  images: asset.images,
  source: asset.source,
  order: asset.parts.map((p) => p.id),
});

/** A part with its keys always in the same order and nothing beside them. */
export const partRecord = (p: Part): Part => ({
  id: p.id,
  shape: p.shape,
  name: p.name,
  path: p.path,
  transform: p.transform,
  ...(p.sourceIndex !== undefined ? { sourceIndex: p.sourceIndex } : {}),
  ...(p.label !== undefined ? { label: p.label } : {}),
  ...(p.up !== undefined ? { up: p.up } : {}),
  ...(p.status !== undefined ? { status: p.status } : {}),
  ...(p.locked !== undefined ? { locked: p.locked } : {}),
  ...(p.pivot !== undefined ? { pivot: p.pivot } : {}),
});

export const bodyOf = (s: ShapeBody): ShapeBody => ({
  mesh: s.mesh,
  ...(s.merged ? { merged: s.merged } : {}),
  ...(s.split ? { split: s.split } : {}),
});

const alike = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

const sameBody = (a: ShapeBody, b: ShapeBody): boolean =>
  a.mesh === b.mesh && a.merged === b.merged && a.split === b.split;

/** What differs between two states of an asset; arrays are compared by identity, the rest by value. */
export function deltaBetween(before: Asset, after: Asset): AssetDelta {
  const old = new Map(before.parts.map((p) => [p.id, p]));
  const parts = after.parts.filter((p) => {
    const was = old.get(p.id);
    return was !== p && !(was && alike(partRecord(was), partRecord(p)));
  });
  const shapes: ShapeChange[] = [];
  const layouts: LayoutChangeOrNone[] = [];
  const setIds = new Set(after.sets.map((s) => s.id));
  const hadSet = new Set(before.sets.map((s) => s.id));
  for (const shape of after.shapes.values()) {
    const was = before.shapes.get(shape.id);
    if (was === shape && before.sets === after.sets) continue;
    if (!was || !sameBody(was, shape)) shapes.push({ id: shape.id, body: bodyOf(shape) });
    for (const set of setIds) {
      const now = shape.layouts.get(set);
      const then = hadSet.has(set) ? was?.layouts.get(set) : undefined;
      if (now !== then) layouts.push({ shape: shape.id, set, layout: now ?? null });
    }
  }
  const head = headOf(after);
  return {
    ...(alike(headOf(before), head) ? {} : { head }),
    parts: parts.map(partRecord),
    shapes,
    layouts,
  };
}

/** Applies a change to an asset. @throws when the delta names parts or shapes that are not there */
export function withDelta(asset: Asset, delta: AssetDelta): Asset {
  const { order, ...head } = delta.head ?? headOf(asset);
  const parts = new Map(asset.parts.map((p) => [p.id, p]));
  for (const part of delta.parts) parts.set(part.id, part);
  const shapes = new Map(asset.shapes);
  const touched = new Map<ShapeId, Shape>();
  for (const { id, body } of delta.shapes)
    touched.set(id, { ...body, id, layouts: shapes.get(id)?.layouts ?? new Map() });
  for (const { shape: id, set, layout } of delta.layouts) {
    const shape = touched.get(id) ?? shapes.get(id);
    if (!shape) throw new Error(`The change names shape ${id}, which is not there.`);
    const layouts = new Map(shape.layouts);
    if (layout) layouts.set(set, layout);
    else layouts.delete(set);
    touched.set(id, { ...shape, layouts });
  }
  const next = order.map((id) => {
    const part = parts.get(id);
    if (!part) throw new Error(`The change names part ${id}, which is not there.`);
    return part;
  });
  const gone = asset.sets.filter((s) => !head.sets.some((h) => h.id === s.id)).map((s) => s.id);
  const changed = withParts({ ...asset, ...head }, next, touched.values());
  return gone.length ? withoutSets(changed, gone) : changed;
}

/** Drops the layouts of sets that are no longer there. */
export function withoutSets(asset: Asset, gone: readonly UvSetId[]): Asset {
  const shapes = new Map<ShapeId, Shape>();
  for (const [id, shape] of asset.shapes) {
    const layouts = new Map([...shape.layouts].filter(([set]) => !gone.includes(set)));
    shapes.set(id, layouts.size === shape.layouts.size ? shape : { ...shape, layouts });
  }
  return { ...asset, shapes };
}
