import { type Bits, getBit } from "../layout/bits";
import { Derived } from "../mesh/derived";
import type { Edge } from "../mesh/indices";
import { faceCount, type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { edgeFaceCount, type Topology, topologyOf } from "../mesh/topology";
import { vertexGraph } from "../mesh/walks";

/** Edges whose faces meet at this angle or more, radians, are creases: seams may turn onto them and end on them. */
export const CREASE = Math.PI / 6;

const tables = new Derived<PolyMesh, Int32Array>("straight edges");

/**
 * The flow of a mesh: for every edge, at its first and at its second vertex, the edge that goes straight on there, or -1.
 * Of four edges it is the one that shares no face; of three about one face of more than four corners the other one on
 * that face, so that loops run round caps; of two the other. In linear time, kept by mesh.
 *
 * @returns 2 per edge
 */
export function straightEdges(mesh: PolyMesh): Int32Array {
  let table = tables.get(mesh);
  if (!table) {
    table = findStraight(mesh);
    tables.set(mesh, table);
  }
  return table;
}

function findStraight(mesh: PolyMesh): Int32Array {
  const t = topologyOf(mesh);
  const graph = vertexGraph(mesh);
  const out = new Int32Array(2 * t.edgeCount).fill(-1);
  const pair = (v: number, a: number, b: number) => {
    out[2 * a + (t.edgeVertices[2 * a] === v ? 0 : 1)] = b;
    out[2 * b + (t.edgeVertices[2 * b] === v ? 0 : 1)] = a;
  };
  for (let v = 0; v < vertexCount(mesh); v++) {
    const at = graph.start[v]!;
    const count = graph.start[v + 1]! - at;
    if (count < 2 || count > 4) continue;
    let inner = true;
    for (let k = at; k < at + count; k++) if (edgeFaceCount(t, graph.link[k]! as Edge) !== 2) inner = false;
    if (!inner) continue;
    const edge = (k: number) => graph.link[at + k]!;
    if (count === 2) pair(v, edge(0), edge(1));
    else if (count === 4) {
      const across = [1, 2, 3].filter((k) => !shareFace(t, edge(0), edge(k)));
      if (across.length !== 1) continue;
      const others = [1, 2, 3].filter((k) => k !== across[0]);
      pair(v, edge(0), edge(across[0]!));
      pair(v, edge(others[0]!), edge(others[1]!));
    } else pairAboutCap(mesh, t, v, [edge(0), edge(1), edge(2)], pair);
  }
  return out;
}

const facesOf = (t: Topology, e: number): readonly number[] => {
  const k = t.edgeCornerStart[e]!;
  return [t.cornerFace[t.edgeCorners[k]!]!, t.cornerFace[t.edgeCorners[k + 1]!]!];
};
const shareFace = (t: Topology, a: number, b: number): boolean => facesOf(t, a).some((f) => facesOf(t, b).includes(f));

/** Of three edges the two on the one face with more than four corners. */
function pairAboutCap(
  mesh: PolyMesh,
  t: Topology,
  v: number,
  edges: readonly number[],
  pair: (v: number, a: number, b: number) => void,
): void {
  const large = (f: number) => mesh.faceStart[f + 1]! - mesh.faceStart[f]! > 4;
  const caps = [...new Set(edges.flatMap((e) => facesOf(t, e)))].filter(large);
  const on = edges.filter((e) => facesOf(t, e).includes(caps[0]!));
  if (caps.length === 1 && on.length === 2) pair(v, on[0]!, on[1]!);
}

/** The edge straight on from an edge at one of its vertices, or -1. */
export const straightAt = (t: Topology, straight: Int32Array, e: number, v: number): number =>
  straight[2 * e + (t.edgeVertices[2 * e] === v ? 0 : 1)]!;

/** The share of inner vertices where some edge goes straight on: near 1 on a mesh that flows, near 0 on one of triangles. */
export function flowShare(mesh: PolyMesh): number {
  const straight = straightEdges(mesh);
  const t = topologyOf(mesh);
  const graph = vertexGraph(mesh);
  let inner = 0;
  let regular = 0;
  for (let v = 0; v < vertexCount(mesh); v++) {
    const at = graph.start[v]!;
    const count = graph.start[v + 1]! - at;
    let open = count === 0;
    let goesOn = false;
    for (let k = at; k < at + count; k++) {
      const e = graph.link[k]! as Edge;
      if (edgeFaceCount(t, e) !== 2) open = true;
      if (straightAt(t, straight, e, v) >= 0) goesOn = true;
    }
    if (open) continue;
    inner++;
    if (goesOn) regular++;
  }
  return inner ? regular / inner : faceCount(mesh) ? 1 : 0;
}

/** What seams look like against the flow. */
export interface FlowFigures {
  /** The share of their length that lies on creases, borders of materials, or on whole runs along the flow, 0 to 1. */
  readonly along: number;
  /** Vertices with a way straight on where a seam turns off it or stops. */
  readonly turns: number;
}

/**
 * How far seams keep to the flow of a mesh. A run is followed straight on from edge to edge; it is whole when it ends only
 * where other seams meet it, where no way goes straight on, or at a border.
 *
 * @param length per edge @param angle per edge, radians
 */
export function flowFigures(mesh: PolyMesh, cut: Bits, length: Float64Array, angle: Float64Array): FlowFigures {
  const t = topologyOf(mesh);
  const straight = straightEdges(mesh);
  const isSeam = (e: number) => getBit(cut, e) && edgeFaceCount(t, e as Edge) === 2;
  const isCrease = (e: number) => {
    if (angle[e]! >= CREASE) return true;
    const [f, g] = facesOf(t, e);
    return mesh.faceMaterial[f!] !== mesh.faceMaterial[g!];
  };
  const degree = new Int32Array(vertexCount(mesh));
  /** Of a vertex's seams, their numbers by exclusive or: of two, the one that is not the other. */
  const mixed = new Int32Array(vertexCount(mesh));
  for (let e = 0; e < t.edgeCount; e++) {
    if (!isSeam(e)) continue;
    for (const v of [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!]) {
      degree[v]!++;
      mixed[v]! ^= e;
    }
  }
  /** Whether a seam that does not go straight on there turns or stops without a reason. */
  const spoils = (e: number, v: number) =>
    degree[v] === 1 || (degree[v] === 2 && !(isCrease(e) && isCrease(mixed[v]! ^ e)));
  const done = new Uint8Array(t.edgeCount);
  let whole = 0;
  let all = 0;
  let turns = 0;
  for (let first = 0; first < t.edgeCount; first++) {
    if (done[first] || !isSeam(first)) continue;
    done[first] = 1;
    const run = [first];
    let spoilt = 0;
    for (const end of [0, 1]) {
      let e = first;
      let v = t.edgeVertices[2 * first + end]!;
      for (;;) {
        const next = straightAt(t, straight, e, v);
        if (next < 0) break;
        if (!isSeam(next)) {
          if (spoils(e, v)) spoilt++;
          break;
        }
        if (done[next]) break;
        done[next] = 1;
        run.push(next);
        v = t.edgeVertices[2 * next]! === v ? t.edgeVertices[2 * next + 1]! : t.edgeVertices[2 * next]!;
        e = next;
      }
    }
    turns += spoilt;
    for (const e of run) {
      all += length[e]!;
      if (!spoilt || isCrease(e)) whole += length[e]!;
    }
  }
  return { along: all ? whole / all : 1, turns };
}
