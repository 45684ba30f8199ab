import type { SelectionKind } from "../layout/selection-kind";
import { type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { edgeCorner, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";

/**
 * Picked edges that meet at vertices, or picked faces that meet at edges, as the groups they make: a stray is a group of
 * its own. Of vertices and shells each is one. In time linear in the mesh.
 *
 * @param flags 1 per picked element
 * @returns the elements of each group, ascending; the smallest groups first
 */
export function groupsOf(mesh: PolyMesh, kind: SelectionKind, flags: Uint8Array): Uint32Array[] {
  const { parent, nodeOf } = joined(mesh, kind, flags);
  const lists = new Map<number, number[]>();
  for (let i = 0; i < flags.length; i++) {
    if (!flags[i]) continue;
    const root = rootOf(parent, nodeOf(i));
    const list = lists.get(root);
    if (list) list.push(i);
    else lists.set(root, [i]);
  }
  return [...lists.values()].sort((a, b) => a.length - b.length || a[0]! - b[0]!).map((l) => Uint32Array.from(l));
}

/** What hangs together as one tree of nodes: vertices for edges, else the elements themselves. */
function joined(mesh: PolyMesh, kind: SelectionKind, flags: Uint8Array) {
  const t = topologyOf(mesh);
  if (kind === "edges") {
    const parent = iota(vertexCount(mesh));
    for (let e = 0; e < flags.length; e++)
      if (flags[e]) unite(parent, t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!);
    return { parent, nodeOf: (e: number) => t.edgeVertices[2 * e]! };
  }
  const parent = iota(flags.length);
  if (kind === "faces")
    for (let c = 0; c < t.cornerFace.length; c++) {
      const f = t.cornerFace[c]!;
      const first = t.cornerFace[edgeCorner(t, t.cornerEdge[c]!)]!;
      if (flags[f] && flags[first]) unite(parent, f, first);
    }
  return { parent, nodeOf: (i: number) => i };
}
