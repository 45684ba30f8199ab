import { type Asset, layoutParts, type Part, type PartId, partById } from "../layout/asset";
import { UserError } from "../layout/user-error";
import { emptyLayout, structureOf, type UvSet } from "../layout/uv-set";
import { topologyOf } from "../mesh/topology";
import type { Scope } from "./operation";

/** The layout of a part in the set worked on; one without seams and coordinates where the part lacks it. */
export const layoutOf = (part: Part, set: number): UvSet => part.uvSets[set] ?? emptyLayout(part.mesh);

/** Visible parts that own a layout; instances stand for the part they repeat. */
export function partsInScope(asset: Asset, scope: Scope): Part[] {
  const ids = new Set(scope.selection ? scope.selection.items.keys() : scope.parts);
  for (const id of [...ids]) ids.add(partById(asset, id).instanceOf ?? id);
  return layoutParts(asset).filter((p) => ids.has(p.id));
}

/** Shells the scope means, by part, ascending. Picked vertices, edges and faces stand for the shells they lie in. */
export function shellsInScope(asset: Asset, scope: Scope): Array<{ part: Part; layout: UvSet; shells: Uint32Array }> {
  return partsInScope(asset, scope).map((part) => {
    const layout = layoutOf(part, scope.set);
    const s = structureOf(part.mesh, layout);
    const items = scope.selection?.items.get(part.id);
    if (!scope.selection || !items)
      return { part, layout, shells: Uint32Array.from({ length: s.shellCount }, (_, i) => i) };
    const shells = new Set<number>();
    const t = topologyOf(part.mesh);
    if (scope.selection.kind === "vertices") {
      const picked = new Set(items);
      for (let c = 0; c < part.mesh.cornerVertex.length; c++)
        if (picked.has(part.mesh.cornerVertex[c]!)) shells.add(s.faceShell[t.cornerFace[c]!]!);
    } else {
      for (const i of items) {
        if (scope.selection.kind === "shells") shells.add(i);
        else if (scope.selection.kind === "faces") shells.add(s.faceShell[i]!);
        else
          for (let k = t.edgeCornerStart[i]!; k < t.edgeCornerStart[i + 1]!; k++)
            shells.add(s.faceShell[t.cornerFace[t.edgeCorners[k]!]!]!);
      }
    }
    return { part, layout, shells: Uint32Array.from(shells).sort() };
  });
}

/** Edges the scope means, by part. @throws UserError when no edges are picked */
export function edgesInScope(asset: Asset, scope: Scope): Array<{ part: Part; layout: UvSet; edges: Uint32Array }> {
  if (scope.selection?.kind !== "edges") throw new UserError("Pick edges first.");
  const out = partsInScope(asset, scope).map((part) => ({
    part,
    layout: layoutOf(part, scope.set),
    edges: scope.selection!.items.get(part.id) ?? new Uint32Array(0),
  }));
  for (const { part, edges } of out) {
    const t = topologyOf(part.mesh);
    for (const e of edges) if (e >= t.edgeCount) throw new UserError(`${part.name} has no edge ${e}.`);
  }
  return out;
}

/** Everything in the asset, as the command line means it. */
export const everything = (asset: Asset, set = 0): Scope => ({
  set,
  parts: layoutParts(asset).map((p: Part): PartId => p.id),
});

/** Faces the scope means, by part, ascending: picked ones, those of picked shells, those that picked edges and vertices touch; or all. */
export function facesInScope(asset: Asset, scope: Scope): Array<{ part: Part; faces: Uint32Array }> {
  return partsInScope(asset, scope).map((part) => {
    const count = part.mesh.faceStart.length - 1;
    const items = scope.selection?.items.get(part.id);
    if (!scope.selection || !items) return { part, faces: Uint32Array.from({ length: count }, (_, f) => f) };
    if (scope.selection.kind === "faces") return { part, faces: items.filter((f) => f < count).sort() };
    const t = topologyOf(part.mesh);
    const picked = new Set(items);
    const faces = new Set<number>();
    if (scope.selection.kind === "shells") {
      const s = structureOf(part.mesh, layoutOf(part, scope.set));
      s.faceShell.forEach((shell, f) => {
        if (picked.has(shell)) faces.add(f);
      });
    } else {
      const of = scope.selection.kind === "edges" ? t.cornerEdge : part.mesh.cornerVertex;
      for (let c = 0; c < of.length; c++) if (picked.has(of[c]!)) faces.add(t.cornerFace[c]!);
    }
    return { part, faces: Uint32Array.from(faces).sort() };
  });
}
