import { type Graph, graphOf, PathSearch, shortestPaths } from "../numeric/heap";
import { Derived } from "./derived";
import { type Edge, type Indices, indices } from "./indices";
import type { PolyMesh } from "./poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf } from "./topology";

const graphs = new Derived<PolyMesh, Graph>("vertex graph");

/** Vertices of a mesh as a graph along its edges; links are edges. */
export function vertexGraph(mesh: PolyMesh): Graph {
  let graph = graphs.get(mesh);
  if (!graph) {
    const t = topologyOf(mesh);
    const a = t.edgeVertices.filter((_, i) => i % 2 === 0);
    const b = t.edgeVertices.filter((_, i) => i % 2 === 1);
    graph = graphOf(mesh.positions.length / 3, a, b);
    graphs.set(mesh, graph);
  }
  return graph;
}

/**
 * The ring of edges through one edge: from each face of four corners to its opposite edge, and on; it ends at any other
 * face, at borders, and where it closes.
 */
export function edgeRing(mesh: PolyMesh, edge: Edge): Indices<Edge> {
  const t = topologyOf(mesh);
  const seen = new Set([edge]);
  for (let k = t.edgeCornerStart[edge]!; k < t.edgeCornerStart[edge + 1]!; k++) {
    let corner: number | null = t.edgeCorners[k]!;
    while (corner !== null) {
      const start: number = mesh.faceStart[t.cornerFace[corner]!]!;
      if (mesh.faceStart[t.cornerFace[corner]! + 1]! - start !== 4) break;
      const opposite: number = start + ((corner - start + 2) % 4);
      const e: Edge = t.cornerEdge[opposite]!;
      if (seen.has(e)) break;
      seen.add(e);
      corner = edgeFaceCount(t, e) === 2 ? otherCorner(t, e, opposite) : null;
    }
  }
  return indices(Uint32Array.from(seen).sort());
}

/** The corner on the other side of an edge with two faces. */
function otherCorner(t: Topology, e: Edge, corner: number): number {
  const first = edgeCorner(t, e);
  return first === corner ? edgeCorner(t, e, 1) : first;
}

/** The two vertices of an edge. */
const endsOf = ({ edgeVertices }: Topology, e: Edge) => [edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!] as const;

/** Shortest paths from both ends of an edge. @param length per edge */
export const pathsFromEdge = (mesh: PolyMesh, length: Float64Array, from: Edge): PathSearch =>
  new PathSearch(vertexGraph(mesh), length, endsOf(topologyOf(mesh), from));

/** Edges of the shortest path from one edge to another, both included; only the second where none leads. */
export function edgePath(mesh: PolyMesh, search: PathSearch, from: Edge, to: Edge): Indices<Edge> {
  const [a, b] = endsOf(topologyOf(mesh), to);
  const reached = search.reach(a) && search.reach(b);
  const path = reached ? search.linksTo(search.distance[a]! <= search.distance[b]! ? a : b)! : null;
  return indices(Uint32Array.from(new Set(path ? [to, from, ...path] : [to])));
}

/**
 * Edges by which some edges are joined: from what is joined already the shortest way to the nearest that is not, again and
 * again; those that no way leads to are left. Time in proportion to the mesh for every piece that is joined.
 *
 * Source: H. Takahashi, A. Matsuyama, An approximate solution for the Steiner problem in graphs (1980).
 *
 * @param length per edge
 */
export function joiningEdges(mesh: PolyMesh, length: Float64Array, edges: Indices<Edge>): Set<Edge> {
  const t = topologyOf(mesh);
  const graph = vertexGraph(mesh);
  const out = new Set<Edge>();
  const waiting = new Set<number>();
  for (const e of edges) for (const end of [0, 1]) waiting.add(t.edgeVertices[2 * e + end]!);
  // The picked edges cost nothing: whoever reaches one end of a run has all of it.
  const cost = length.slice();
  for (const e of edges) cost[e] = 0;
  const joined = new Set<number>();
  const [first] = waiting;
  if (first === undefined) return out;
  joined.add(first);
  waiting.delete(first);
  while (waiting.size) {
    const { distance, via, before } = shortestPaths(graph, cost, joined);
    let nearest = -1;
    for (const v of waiting) {
      if (distance[v] === 0) {
        joined.add(v);
        waiting.delete(v);
      } else if (nearest < 0 || distance[v]! < distance[nearest]!) nearest = v;
    }
    if (nearest < 0) continue;
    if (!Number.isFinite(distance[nearest]!)) return out;
    for (let v = nearest; before[v]! >= 0; v = before[v]!) {
      out.add(via[v]! as Edge);
      joined.add(v);
    }
    waiting.delete(nearest);
  }
  return out;
}
