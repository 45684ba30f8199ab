import { type Bits, clearBit, getBit, makeBits, setBit } from "../layout/bits";
import { edgeEnds } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import { type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf, windsAlike } from "../mesh/topology";
import { vertexGraph } from "../mesh/walks";
import { iota } from "../numeric/iota";
import { edgeAngles } from "./edge-cost";

/** Edges whose faces meet at `angle` (radians) or more. */
export function creasedEdges(mesh: PolyMesh, world: Float64Array, angle: number): Bits {
  const t = topologyOf(mesh);
  const angles = edgeAngles(mesh, world);
  const bits = makeBits(t.edgeCount);
  for (let e = 0 as Edge; e < t.edgeCount; e++) if (edgeFaceCount(t, e) === 2 && angles[e]! >= angle) setBit(bits, e);
  return bits;
}

/** Two-sided edges at which the faces wind against each other: no shell can lie flat across them. */
export function unwoundEdges(mesh: PolyMesh): number[] {
  const t = topologyOf(mesh);
  const out: number[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    const c = edgeCorner(t, e);
    if (!windsAlike(mesh, t, c, edgeCorner(t, e, 1))) out.push(e);
  }
  return out;
}

/**
 * Leaves out seams that end in the middle of the surface: edges with an end where no other seam and no border goes on,
 * again and again. What is left separates shells or runs from border to border.
 */
export function withoutLooseEnds(mesh: PolyMesh, seams: Bits): Bits {
  const t = topologyOf(mesh);
  const bits = seams.slice();
  const isLine = (e: Edge) => edgeFaceCount(t, e) !== 2 || getBit(bits, e);
  const degree = new Uint32Array(vertexCount(mesh));
  // The sum of a vertex's seams: where only one is left, the sum is that one.
  const sum = new Float64Array(vertexCount(mesh));
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (!isLine(e)) continue;
    for (let k = 2 * e; k < 2 * e + 2; k++) {
      degree[t.edgeVertices[k]!]!++;
      sum[t.edgeVertices[k]!]! += e;
    }
  }
  const loose: number[] = [];
  for (let v = 0; v < degree.length; v++) if (degree[v] === 1) loose.push(v);
  for (let v = loose.pop(); v !== undefined; v = loose.pop()) {
    const e = sum[v]! as Edge;
    // A border stays, and an edge that is loose at both ends is taken once.
    if (degree[v] !== 1 || edgeFaceCount(t, e) !== 2) continue;
    clearBit(bits, e);
    for (let k = 2 * e; k < 2 * e + 2; k++) {
      const w = t.edgeVertices[k]!;
      sum[w]! -= e;
      if (--degree[w]! === 1) loose.push(w);
    }
  }
  return bits;
}

/** Edges of some lines with all weaker ones that go on from them, edge to edge. @param weak has the strong ones too */
export function goingOn(mesh: PolyMesh, strong: Bits, weak: Bits): Bits {
  const t = topologyOf(mesh);
  const { start, link } = vertexGraph(mesh);
  const out = strong.slice();
  const queue = Array.from(iota(t.edgeCount).filter((e) => getBit(strong, e)));
  for (let e = queue.pop(); e !== undefined; e = queue.pop())
    for (const v of [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!])
      for (let k = start[v]!; k < start[v + 1]!; k++) {
        const next = link[k]!;
        if (!getBit(weak, next) || getBit(out, next)) continue;
        setBit(out, next);
        queue.push(next);
      }
  return out;
}

/** Of a normal's length: by how much two may differ and be the same one, as files round them. */
const SAME_NORMAL = 1e-3;

/** Whether the file's normals differ on the two sides of an edge of two faces, at one of its ends. */
export function isHard(mesh: PolyMesh, t: Topology, e: Edge): boolean {
  const { cornerNormal: normals } = mesh;
  if (!normals) return false;
  const [a0, a1, b0, b1] = edgeEnds(mesh, t, e);
  const differ = (c: number, d: number) =>
    [0, 1, 2].some((k) => !(Math.abs(normals[3 * c + k]! - normals[3 * d + k]!) <= SAME_NORMAL));
  return differ(a0, b0) || differ(a1, b1);
}
