import type { Edge } from "../mesh/indices";
import { faceCount, type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { edgeFaceCount, type Topology, topologyOf } from "../mesh/topology";
import type { Symmetry } from "./symmetry";

/** Edges of the line between the halves that are tried, the likeliest first. */
const MOST_TRIES = 32;

/**
 * Finds the mirror image of every vertex and face by how faces are joined, wherever they are: from an edge that lies on
 * the line between the halves both sides are walked at once, face by face, until something contradicts. The edges nearest
 * to the middle plane are tried, for every connected piece until one fits; pieces that none fits stay without an image.
 *
 * @param axis 0, 1 or 2: the plane is across it
 */
export function symmetryByConnectivity(mesh: PolyMesh, axis: number): Omit<Symmetry, "at"> {
  const t = topologyOf(mesh);
  const best = { vertex: new Int32Array(vertexCount(mesh)).fill(-1), face: new Int32Array(faceCount(mesh)).fill(-1) };
  let left = best.face.length;
  for (const edge of middleEdges(mesh, axis)) {
    if (left === 0) break;
    const [a, b] = t.edgeCorners.subarray(t.edgeCornerStart[edge]!, t.edgeCornerStart[edge]! + 2);
    // What has an image already was walked from another edge of the line.
    if (best.face[t.cornerFace[a!]!]! >= 0) continue;
    left -= walkBothSides(mesh, a!, b!, best);
  }
  return best;
}

/** Edges with two faces, those nearest to the middle plane first. */
function middleEdges(mesh: PolyMesh, axis: number): Edge[] {
  const t = topologyOf(mesh);
  const p = mesh.positions;
  let [low, high] = [Infinity, -Infinity];
  for (let i = axis; i < p.length; i += 3) {
    low = Math.min(low, p[i]!);
    high = Math.max(high, p[i]!);
  }
  const middle = (low + high) / 2;
  const away = new Float64Array(t.edgeCount);
  const all: Edge[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
    away[e] = Math.abs(p[3 * a + axis]! - middle) + Math.abs(p[3 * b + axis]! - middle);
    if (edgeFaceCount(t, e) === 2) all.push(e);
  }
  return all.sort((a, b) => away[a]! - away[b]! || a - b).slice(0, MOST_TRIES);
}

type Images = Omit<Symmetry, "at">;

/**
 * Walks from two corners of one edge, on with the one and back with the other. Takes what is found into `images` when
 * nothing contradicts. @returns how many faces have an image by it
 */
function walkBothSides(mesh: PolyMesh, a: number, b: number, images: Images): number {
  const t = topologyOf(mesh);
  const { cornerVertex: v } = mesh;
  const vertex = new Map<number, number>();
  const face = new Map<number, number>();
  const put = (map: Map<number, number>, from: number, to: number): boolean => {
    if (map.has(from)) return map.get(from) === to;
    map.set(from, to);
    return true;
  };
  // Corners whose edges are images of each other, gone in opposite ways.
  const stack: Array<[number, number]> = [[a, b]];
  if (v[a] !== v[t.cornerNext[b]!]) return 0;
  for (let pair = stack.pop(); pair; pair = stack.pop()) {
    let [c, d] = pair;
    const [f, g] = [t.cornerFace[c]!, t.cornerFace[d]!];
    if (face.has(f)) {
      if (face.get(f) !== g) return 0;
      continue;
    }
    const size = mesh.faceStart[f + 1]! - mesh.faceStart[f]!;
    if (mesh.faceStart[g + 1]! - mesh.faceStart[g]! !== size) return 0;
    face.set(f, g);
    for (let k = 0; k < size; k++) {
      if (!put(vertex, v[c]!, v[t.cornerNext[d]!]!) || !put(vertex, v[t.cornerNext[c]!]!, v[d]!)) return 0;
      const [over, back] = [acrossEdge(t, c), acrossEdge(t, d)];
      if (over < 0 !== back < 0) return 0;
      if (over >= 0) stack.push([over, back]);
      c = t.cornerNext[c]!;
      d = before(mesh, t, d);
    }
  }
  for (const [from, to] of face) images.face[from] = to;
  for (const [from, to] of vertex) images.vertex[from] = to;
  return face.size;
}

/** The corner on the other side of a corner's edge; -1 at borders and where more than two faces meet. */
function acrossEdge(t: Topology, c: number): number {
  const e = t.cornerEdge[c]!;
  if (edgeFaceCount(t, e) !== 2) return -1;
  const first = t.edgeCorners[t.edgeCornerStart[e]!]!;
  return first === c ? t.edgeCorners[t.edgeCornerStart[e]! + 1]! : first;
}

/** The corner before one, round its face. */
const before = ({ faceStart }: PolyMesh, t: Topology, c: number): number => {
  const f = t.cornerFace[c]!;
  return c === faceStart[f]! ? faceStart[f + 1]! - 1 : c - 1;
};
