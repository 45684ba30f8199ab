import type { Asset, Part, PartBody, PartId, PartRecord } from "./asset";
import { withParts } from "./asset";
import type { UvSet } from "./uv-set";

/** Everything about an asset but its parts' records, shapes and layouts. */
export interface AssetHead extends Pick<Asset, "unit" | "up" | "sets" | "materials" | "images" | "source"> {
  readonly order: readonly PartId[];
}

/** A part that is new or changed; without a body it keeps the one the receiver has. */
export interface PartChange {
  readonly record: PartRecord;
  readonly body?: PartBody;
}

/** A new layout, or none where there was one; the set is an index of the asset as changed. */
export interface LayoutChangeOrNone {
  readonly part: PartId;
  readonly set: number;
  readonly layout: UvSet | null;
}

/** What leads from one asset to another. It holds what differs and nothing else. */
export interface AssetDelta {
  readonly head?: AssetHead;
  readonly parts: readonly PartChange[];
  readonly layouts: readonly LayoutChangeOrNone[];
}

export const headOf = (asset: Asset): AssetHead => ({
  unit: asset.unit,
  up: asset.up,
  sets: asset.sets,
  materials: asset.materials,
  images: asset.images,
  source: asset.source,
  order: asset.parts.map((p) => p.id),
});

/** The record of a part, its keys always in the same order. */
export const recordOf = (p: Part): PartRecord => ({
  id: p.id,
  name: p.name,
  path: p.path,
  transform: p.transform,
  ...(p.instanceOf !== undefined ? { instanceOf: p.instanceOf } : {}),
  ...(p.sourceIndex !== undefined ? { sourceIndex: p.sourceIndex } : {}),
  ...(p.label !== undefined ? { label: p.label } : {}),
  ...(p.status !== undefined ? { status: p.status } : {}),
  ...(p.locked !== undefined ? { locked: p.locked } : {}),
  ...(p.pivot !== undefined ? { pivot: p.pivot } : {}),
});

export const bodyOf = (p: Part): PartBody => ({
  mesh: p.mesh,
  ...(p.merged ? { merged: p.merged } : {}),
  ...(p.split ? { split: p.split } : {}),
});

const alike = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** What differs between two states of an asset; arrays are compared by identity, the rest by value. */
export function deltaBetween(before: Asset, after: Asset): AssetDelta {
  const old = new Map(before.parts.map((p) => [p.id, p]));
  const parts: PartChange[] = [];
  const layouts: LayoutChangeOrNone[] = [];
  const oldSet = after.sets.map((s) => before.sets.findIndex((b) => b.id === s.id));
  for (const part of after.parts) {
    const was = old.get(part.id);
    if (was === part && before.sets === after.sets) continue;
    const own = part.instanceOf === undefined;
    const sameBody =
      !own ||
      (was?.instanceOf === undefined &&
        was?.mesh === part.mesh &&
        was.merged === part.merged &&
        was.split === part.split);
    if (!was || !sameBody || !alike(recordOf(was), recordOf(part)))
      parts.push({ record: recordOf(part), ...(sameBody ? {} : { body: bodyOf(part) }) });
    if (!own) continue;
    after.sets.forEach((_, set) => {
      const layout = part.uvSets[set];
      const from = was?.instanceOf === undefined && oldSet[set]! >= 0 ? was?.uvSets[oldSet[set]!] : undefined;
      if (layout !== from) layouts.push({ part: part.id, set, layout: layout ?? null });
    });
  }
  const head = headOf(after);
  return { ...(alike(headOf(before), head) ? {} : { head }), parts, layouts };
}

/** The asset changed as told. @throws when the delta names parts that are not there */
export function withDelta(asset: Asset, delta: AssetDelta): Asset {
  const head = delta.head ?? headOf(asset);
  const old = new Map(asset.parts.map((p) => [p.id, p]));
  const changed = new Map(delta.parts.map((p) => [p.record.id, p]));
  const from = head.sets.map((s) => asset.sets.findIndex((b) => b.id === s.id));
  const sameSets = head.sets.length === asset.sets.length && from.every((f, i) => f === i);
  const byPart = new Map<PartId, LayoutChangeOrNone[]>();
  for (const l of delta.layouts) byPart.set(l.part, [...(byPart.get(l.part) ?? []), l]);
  const parts = head.order.map((id): Part => {
    const was = old.get(id);
    const change = changed.get(id);
    const own = byPart.get(id);
    if (was && !change && !own && sameSets) return was;
    if (!was && !change) throw new Error(`The change names part ${id}, which is not there.`);
    const record = change?.record ?? recordOf(was!);
    const owner = record.instanceOf === undefined ? undefined : old.get(record.instanceOf);
    // An instance takes both from its owner below; until then it holds what is at hand.
    const body = change?.body ?? (was ? bodyOf(was) : owner ? bodyOf(owner) : changed.get(record.instanceOf!)?.body);
    if (!body) throw new Error(`The change lacks the shape of part ${id}.`);
    const uvSets = from.map((f) => (f < 0 ? undefined : was?.uvSets[f]));
    for (const l of own ?? []) uvSets[l.set] = l.layout ?? undefined;
    return { ...record, ...body, uvSets };
  });
  const { order: _, ...rest } = head;
  return withParts({ ...asset, ...rest }, parts);
}
