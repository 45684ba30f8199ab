import { Derived } from "./derived";
import { type Corner, type Edge, type Face, type Indices, indices } from "./indices";
import { cornerCount, faceCount, type PolyMesh, vertexCount } from "./poly-mesh";

/** Connectivity derived from a mesh. An edge may have one face (border), two (inner) or more (not manifold). */
export interface Topology {
  readonly edgeCount: number;
  /** 2 per edge, in the direction of the first corner that uses it. */
  readonly edgeVertices: Uint32Array;
  /** Edge leaving each corner, towards the next corner of its face. */
  readonly cornerEdge: Indices<Edge>;
  readonly cornerFace: Indices<Face>;
  readonly cornerNext: Indices<Corner>;
  /** Corners (and so faces) on edge e: edgeCorners[edgeCornerStart[e] .. edgeCornerStart[e + 1] - 1]. */
  readonly edgeCornerStart: Uint32Array;
  readonly edgeCorners: Indices<Corner>;
}

const cache = new Derived<PolyMesh, Topology>("topology");

/** The topology of a mesh; derived once per mesh, in linear time. */
export function topologyOf(mesh: PolyMesh): Topology {
  let topology = cache.get(mesh);
  if (!topology) {
    topology = deriveTopology(mesh);
    cache.set(mesh, topology);
  }
  return topology;
}

/** Keeps a topology that was derived elsewhere (another thread) for a mesh. */
export const seedTopology = (mesh: PolyMesh, topology: Topology): void => cache.set(mesh, topology);

function deriveTopology(mesh: PolyMesh): Topology {
  const corners = cornerCount(mesh);
  const { cornerFace, cornerNext } = cornerLinks(mesh);
  const first = firstCornerOfEdge(mesh, cornerNext);
  const cornerEdge = new Uint32Array(corners);
  let edgeCount = 0;
  for (let c = 0; c < corners; c++) cornerEdge[c] = first[c] === c ? edgeCount++ : cornerEdge[first[c]!]!;

  const edgeVertices = new Uint32Array(2 * edgeCount);
  const edgeCornerStart = new Uint32Array(edgeCount + 1);
  for (let c = 0; c < corners; c++) {
    const e = cornerEdge[c]!;
    edgeCornerStart[e + 1]!++;
    if (first[c] === c) {
      edgeVertices[2 * e] = mesh.cornerVertex[c]!;
      edgeVertices[2 * e + 1] = mesh.cornerVertex[cornerNext[c]!]!;
    }
  }
  for (let e = 0; e < edgeCount; e++) edgeCornerStart[e + 1]! += edgeCornerStart[e]!;
  const fill = edgeCornerStart.slice(0, edgeCount);
  const edgeCorners = new Uint32Array(corners);
  for (let c = 0; c < corners; c++) edgeCorners[fill[cornerEdge[c]!]!++] = c;
  return {
    edgeCount,
    edgeVertices,
    cornerEdge: indices(cornerEdge),
    cornerFace: indices(cornerFace),
    cornerNext: indices(cornerNext),
    edgeCornerStart,
    edgeCorners: indices(edgeCorners),
  };
}

function cornerLinks(mesh: PolyMesh) {
  const cornerFace = new Uint32Array(cornerCount(mesh));
  const cornerNext = new Uint32Array(cornerCount(mesh));
  for (let f = 0; f < faceCount(mesh); f++) {
    const start = mesh.faceStart[f]!;
    const end = mesh.faceStart[f + 1]!;
    for (let c = start; c < end; c++) {
      cornerFace[c] = f;
      cornerNext[c] = c + 1 === end ? start : c + 1;
    }
  }
  return { cornerFace, cornerNext };
}

/** For every corner the first corner on the same edge. Buckets by the lower vertex, then a stamp per upper vertex. */
function firstCornerOfEdge(mesh: PolyMesh, cornerNext: Uint32Array): Uint32Array {
  const { cornerVertex } = mesh;
  const corners = cornerVertex.length;
  const low = new Uint32Array(corners);
  const high = new Uint32Array(corners);
  const start = new Uint32Array(vertexCount(mesh) + 1);
  for (let c = 0; c < corners; c++) {
    const a = cornerVertex[c]!;
    const b = cornerVertex[cornerNext[c]!]!;
    low[c] = a < b ? a : b;
    high[c] = a < b ? b : a;
    start[low[c]! + 1]!++;
  }
  for (let v = 0; v + 1 < start.length; v++) start[v + 1]! += start[v]!;
  const fill = start.slice(0, -1);
  const bucket = new Uint32Array(corners);
  for (let c = 0; c < corners; c++) bucket[fill[low[c]!]!++] = c;

  const first = new Uint32Array(corners);
  const stamp = new Int32Array(vertexCount(mesh)).fill(-1);
  const seen = new Uint32Array(vertexCount(mesh));
  for (let v = 0; v + 1 < start.length; v++) {
    for (let k = start[v]!; k < start[v + 1]!; k++) {
      const c = bucket[k]!;
      const other = high[c]!;
      if (stamp[other] !== v) {
        stamp[other] = v;
        seen[other] = c;
      }
      first[c] = seen[other]!;
    }
  }
  return first;
}

/** How many faces use edge e: 1 border, 2 inner, more: not manifold. */
export const edgeFaceCount = (t: Topology, e: Edge): number => t.edgeCornerStart[e + 1]! - t.edgeCornerStart[e]!;

/** Corner `k` of those on edge e, by default the first. */
export const edgeCorner = (t: Topology, e: Edge, k = 0): Corner => t.edgeCorners[t.edgeCornerStart[e]! + k]!;

/** The corner across the edge of corner c, or -1 where the edge has not exactly two faces. */
export function mateCorner(t: Topology, c: Corner): Corner | -1 {
  const start = t.edgeCornerStart[t.cornerEdge[c]!]!;
  if (t.edgeCornerStart[t.cornerEdge[c]! + 1]! - start !== 2) return -1;
  const a = t.edgeCorners[start]!;
  return a === c ? t.edgeCorners[start + 1]! : a;
}

/** Whether the two faces of an edge run along it in opposite directions, as they do in a consistently wound mesh. */
export const windsAlike = (mesh: PolyMesh, t: Topology, c: Corner, mate: Corner): boolean =>
  mesh.cornerVertex[c] !== mesh.cornerVertex[mate] || mesh.cornerVertex[c] === mesh.cornerVertex[t.cornerNext[c]!];

/** The edges of a face, in the order of its corners. */
export const edgesOfFace = (mesh: PolyMesh, face: number): Indices<Edge> =>
  topologyOf(mesh).cornerEdge.subarray(mesh.faceStart[face]!, mesh.faceStart[face + 1]!) as Indices<Edge>;
