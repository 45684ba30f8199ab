import type { Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, topologyOf } from "../mesh/topology";
import { isHard } from "./creased";

/** What edges may be the border of. */
export type BorderOf = "materials" | "groups" | "normals";

/** Edges between two faces of different materials or groups, or on whose sides the file's normals differ; ascending. */
export function borderEdges(mesh: PolyMesh, of: BorderOf): Edge[] {
  const t = topologyOf(mesh);
  const list = of === "materials" ? mesh.faceMaterial : mesh.faceGroup;
  const differ = (e: Edge) => list[t.cornerFace[edgeCorner(t, e)]!] !== list[t.cornerFace[edgeCorner(t, e, 1)]!];
  const out: Edge[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++)
    if (edgeFaceCount(t, e) === 2 && (of === "normals" ? isHard(mesh, t, e) : differ(e))) out.push(e);
  return out;
}
