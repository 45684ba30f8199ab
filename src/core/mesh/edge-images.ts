import type { PolyMesh } from "./poly-mesh";
import { topologyOf } from "./topology";
import { vertexGraph } from "./walks";

/** The edge between the images of every edge's ends; -1 where there is none. @param vertex image of every vertex, -1 for none */
export function edgeImages(mesh: PolyMesh, vertex: Int32Array): Int32Array {
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  const { start, to, link } = vertexGraph(mesh);
  const out = new Int32Array(edgeCount).fill(-1);
  for (let e = 0; e < edgeCount; e++) {
    const a = vertex[edgeVertices[2 * e]!]!;
    const b = vertex[edgeVertices[2 * e + 1]!]!;
    if (a < 0 || b < 0) continue;
    for (let k = start[a]!; k < start[a + 1]!; k++) if (to[k] === b) out[e] = link[k]!;
  }
  return out;
}
