import { type Asset, layoutParts, type PartId } from "@/core/layout/asset";
import {
  emptyLayout,
  type Structure,
  seedEmptyLayout,
  seedStructure,
  structureOf,
  type UvSet,
} from "@/core/layout/uv-set";
import { seedTopology, type Topology, topologyOf } from "@/core/mesh/topology";
import { seedTriangles, type Triangles, trianglesOf } from "@/core/mesh/triangulate";

/** What follows from a part's shape and layouts, worked out by the worker so that the page need not. */
export interface Derived {
  readonly part: PartId;
  readonly topology: Topology;
  readonly triangles: Triangles;
  /** The layout of a set, or the bare one, and its structure. */
  readonly layouts: ReadonlyArray<{ readonly set: number; readonly bare?: UvSet; readonly structure: Structure }>;
}

/** Derives what drawing and picking ask of some parts. */
export function derive(asset: Asset, sets: readonly number[], only?: ReadonlySet<PartId>): Derived[] {
  return layoutParts(asset)
    .filter((p) => !only || only.has(p.id))
    .map((p) => ({
      part: p.id,
      topology: topologyOf(p.mesh),
      triangles: trianglesOf(p.mesh),
      layouts: sets.map((set) => {
        const layout = p.uvSets[set];
        const bare = layout ? undefined : emptyLayout(p.mesh);
        return { set, structure: structureOf(p.mesh, layout ?? bare!), ...(bare ? { bare } : {}) };
      }),
    }));
}

/** Puts what was derived elsewhere where it will be looked for. */
export function seedDerived(asset: Asset, derived: readonly Derived[]): void {
  const parts = new Map(layoutParts(asset).map((p) => [p.id, p]));
  for (const d of derived) {
    const part = parts.get(d.part);
    if (!part) continue;
    seedTopology(part.mesh, d.topology);
    seedTriangles(part.mesh, d.triangles);
    for (const { set, bare, structure } of d.layouts) {
      if (bare) seedEmptyLayout(part.mesh, bare);
      seedStructure(part.mesh, part.uvSets[set] ?? bare!, structure);
    }
  }
}
