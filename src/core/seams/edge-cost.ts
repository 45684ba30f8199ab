import type { Edge } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf, windsAlike } from "../mesh/topology";
import { writeVectorArea } from "../mesh/vector-area";
import { length3 } from "../numeric/length";

/** Unit normal of every face (3 each) by Newell's sum, world space; 0 where a face has no area. */
export function faceNormals(mesh: PolyMesh, world: Float64Array): Float64Array {
  const out = new Float64Array(3 * faceCount(mesh));
  writeFaceNormals(mesh, world, out, 0, faceCount(mesh));
  return out;
}

const area = new Float64Array(3);

/** Writes the unit normals of faces `from` to `to`; zero for faces without area. @param out 3 per face */
export function writeFaceNormals(
  mesh: PolyMesh,
  world: Float64Array,
  out: Float64Array,
  from: number,
  to: number,
): void {
  for (let f = from; f < to; f++) {
    writeVectorArea(world, mesh.cornerVertex, mesh.faceStart[f]!, mesh.faceStart[f + 1]!, area);
    const length = length3(area[0]!, area[1]!, area[2]!) || 1;
    out[3 * f] = area[0]! / length;
    out[3 * f + 1] = area[1]! / length;
    out[3 * f + 2] = area[2]! / length;
  }
}

/** Angle between the faces of every two-sided edge, radians: 0 flat, pi folded back; 0 on other edges. */
export function edgeAngles(mesh: PolyMesh, world: Float64Array): Float64Array {
  const t = topologyOf(mesh);
  const normals = faceNormals(mesh, world);
  const out = new Float64Array(t.edgeCount);
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    const c = edgeCorner(t, e);
    const mate = edgeCorner(t, e, 1);
    const a = 3 * t.cornerFace[c]!;
    const b = 3 * t.cornerFace[mate]!;
    const sign = windsAlike(mesh, t, c, mate) ? 1 : -1;
    const dot =
      sign * (normals[a]! * normals[b]! + normals[a + 1]! * normals[b + 1]! + normals[a + 2]! * normals[b + 2]!);
    out[e] = Math.acos(Math.min(1, Math.max(-1, dot)));
  }
  return out;
}

export function edgeLengths(mesh: PolyMesh, world: Float64Array): Float64Array {
  const t = topologyOf(mesh);
  const out = new Float64Array(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++) {
    const a = 3 * t.edgeVertices[2 * e]!;
    const b = 3 * t.edgeVertices[2 * e + 1]!;
    out[e] = length3(world[a]! - world[b]!, world[a + 1]! - world[b + 1]!, world[a + 2]! - world[b + 2]!);
  }
  return out;
}

/** How openly edges are seen: as the more open of their faces. @param seen per face, 0 to 1 */
export function edgesSeen(t: Topology, seen: Float32Array): Float32Array {
  const out = new Float32Array(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++)
    for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++)
      out[e] = Math.max(out[e]!, seen[t.cornerFace[t.edgeCorners[k]!]!]!);
  return out;
}

/** What a seam costs by the angle of its edge, radians: 1 where it is flat, a quarter on a crease. */
export const creaseShare = (angle: number): number => 1 - 0.75 * Math.min(1, angle / (Math.PI / 3));

/**
 * What a seam along each edge costs: its length, less where it hides (little seen from outside) or runs along a
 * crease, where shading breaks anyway.
 *
 * @param visibility per face, 0 to 1; all open when not given
 */
export function seamCosts(mesh: PolyMesh, world: Float64Array, visibility?: Float32Array): Float64Array {
  const t = topologyOf(mesh);
  const cost = edgeLengths(mesh, world);
  const angles = edgeAngles(mesh, world);
  const seen = visibility && edgesSeen(t, visibility);
  for (let e = 0; e < t.edgeCount; e++) {
    cost[e]! *= creaseShare(angles[e]!) * (0.25 + 0.75 * (seen ? seen[e]! : 1));
  }
  return cost;
}
