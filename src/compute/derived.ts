import type { Asset, ShapeId, UvSetId } from "../core/layout/asset";
import {
  emptyLayout,
  type Layout,
  type Structure,
  seedEmptyLayout,
  seedStructure,
  structureOf,
} from "../core/layout/layout";
import { seedTopology, type Topology, topologyOf } from "../core/mesh/topology";
import { seedTriangles, type Triangles, trianglesOf } from "../core/mesh/triangulate";
import { share } from "./share";

// What follows from a shape and its layouts, worked out once by the host. Where memory is shared the page is handed the
// same arrays; where it is not, it works them out itself when they are asked for.

interface Derived {
  readonly shape: ShapeId;
  readonly topology?: Topology;
  readonly triangles?: Triangles;
  readonly layouts: ReadonlyArray<{ readonly set: UvSetId; readonly bare?: Layout; readonly structure: Structure }>;
}
export type DerivedList = readonly Derived[];

const sharedObjects = new WeakMap<object, object>();

/** An object whose arrays all threads see; itself where they do already, so that what is kept by it stays known. */
export function shareAll<T extends object>(value: T): T {
  let shared = sharedObjects.get(value) as T | undefined;
  if (!shared) {
    const entries = Object.entries(value).map(([k, v]) => [k, ArrayBuffer.isView(v) ? share(v as Uint32Array) : v]);
    shared = entries.every(([k, v]) => value[k as keyof T] === v) ? value : (Object.fromEntries(entries) as T);
    sharedObjects.set(value, shared);
  }
  return shared;
}

/** What drawing and picking ask of some shapes in some sets, in memory that the page sees. */
export function derive(
  asset: Asset,
  changed: ReadonlyMap<ShapeId, { mesh: boolean; sets: readonly UvSetId[] }>,
): Derived[] {
  const out: Derived[] = [];
  for (const [id, { mesh: withMesh, sets }] of changed) {
    const shape = asset.shapes.get(id);
    if (!shape) continue;
    const { mesh } = shape;
    out.push({
      shape: id,
      ...(withMesh ? { topology: shareAll(topologyOf(mesh)), triangles: shareAll(trianglesOf(mesh)) } : {}),
      layouts: sets.map((set) => {
        const layout = shape.layouts.get(set);
        const bare = layout ? undefined : shareAll(emptyLayout(mesh));
        return { set, structure: shareAll(structureOf(mesh, layout ?? bare!)), ...(bare ? { bare } : {}) };
      }),
    });
  }
  return out;
}

/** Puts what was worked out elsewhere where it will be looked for. */
export function seedDerived(asset: Asset, derived: DerivedList): void {
  for (const d of derived) {
    const shape = asset.shapes.get(d.shape);
    if (!shape) continue;
    if (d.topology) seedTopology(shape.mesh, d.topology);
    if (d.triangles) seedTriangles(shape.mesh, d.triangles);
    for (const { set, bare, structure } of d.layouts) {
      if (bare) seedEmptyLayout(shape.mesh, bare);
      seedStructure(shape.mesh, shape.layouts.get(set) ?? bare!, structure);
    }
  }
}
