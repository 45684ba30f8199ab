import type { Edge } from "../mesh/indices";
import { faceCount } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, topologyOf, windsAlike } from "../mesh/topology";
import { type Graph, graphOf } from "../numeric/heap";
import { iota } from "../numeric/iota";
import { length3 } from "../numeric/length";
import { rootOf, unite } from "../numeric/union-find";
import { type Piece, partEdges, type Source } from "./piece";

/** A piece as a graph of its vertices along edges, with what the edges cost. */
export interface PieceGraph {
  readonly graph: Graph;
  readonly edges: number;
  readonly faces: number;
  /** 2 per edge. */
  readonly ends: Uint32Array;
  /** The two faces of every inner edge; -1 beyond a border. */
  readonly left: Int32Array;
  readonly right: Int32Array;
  readonly cost: Float64Array;
  readonly length: Float64Array;
  /** Edge of the part. */
  readonly partEdge: Uint32Array;
  /** Border loop of every vertex, or -1; loops are numbered from 0. */
  readonly loopOf: Int32Array;
  readonly loops: number;
  /** Edges at which faces wind against each other. */
  readonly faults: readonly number[];
}

export function pieceGraph(source: Source, piece: Piece): PieceGraph {
  const { mesh } = piece;
  const t = topologyOf(mesh);
  const partEdge = partEdges(source, piece);
  const vertices = mesh.positions.length / 3;
  const a = new Int32Array(t.edgeCount);
  const b = new Int32Array(t.edgeCount);
  const left = new Int32Array(t.edgeCount).fill(-1);
  const right = new Int32Array(t.edgeCount).fill(-1);
  const cost = new Float64Array(t.edgeCount);
  const length = new Float64Array(t.edgeCount);
  const parent = iota(vertices);
  const onBorder = new Uint8Array(vertices);
  const faults: number[] = [];
  const p = mesh.positions;
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    a[e] = t.edgeVertices[2 * e]!;
    b[e] = t.edgeVertices[2 * e + 1]!;
    const [i, j] = [3 * a[e]!, 3 * b[e]!];
    length[e] = length3(p[i]! - p[j]!, p[i + 1]! - p[j + 1]!, p[i + 2]! - p[j + 2]!);
    const first = edgeCorner(t, e);
    left[e] = t.cornerFace[first]!;
    if (edgeFaceCount(t, e) === 2) {
      const mate = edgeCorner(t, e, 1);
      right[e] = t.cornerFace[mate]!;
      cost[e] = source.cost[partEdge[e]!]!;
      if (!windsAlike(mesh, t, first, mate)) faults.push(e);
    } else {
      onBorder[a[e]!] = 1;
      onBorder[b[e]!] = 1;
      unite(parent, a[e]!, b[e]!);
    }
  }
  const { loopOf, loops } = numberLoops(parent, onBorder);
  return {
    graph: graphOf(vertices, a, b),
    edges: t.edgeCount,
    faces: faceCount(mesh),
    ends: t.edgeVertices,
    left,
    right,
    cost,
    length,
    partEdge,
    loopOf,
    loops,
    faults,
  };
}

function numberLoops(parent: Uint32Array, onBorder: Uint8Array): { loopOf: Int32Array; loops: number } {
  const loopOf = new Int32Array(parent.length).fill(-1);
  const number = new Map<number, number>();
  for (let v = 0; v < parent.length; v++) {
    if (!onBorder[v]) continue;
    const r = rootOf(parent, v);
    if (!number.has(r)) number.set(r, number.size);
    loopOf[v] = number.get(r)!;
  }
  return { loopOf, loops: number.size };
}

/** Angle defect of every vertex (2 pi less the angles about it), 0 on borders: positive on tips, negative in saddles. */
export function angleDefects(piece: Piece, loopOf: Int32Array): Float64Array {
  const { mesh } = piece;
  const { positions: p } = mesh;
  const t = topologyOf(mesh);
  const defect = Float64Array.from(loopOf, (l) => (l < 0 ? 2 * Math.PI : 0));
  for (let c = 0; c < mesh.cornerVertex.length; c++) {
    const v = mesh.cornerVertex[c]!;
    if (loopOf[v]! >= 0) continue;
    const f = t.cornerFace[c]!;
    const before = c === mesh.faceStart[f]! ? mesh.faceStart[f + 1]! - 1 : c - 1;
    const [o, i, j] = [3 * v, 3 * mesh.cornerVertex[t.cornerNext[c]!]!, 3 * mesh.cornerVertex[before]!];
    const [ax, ay, az] = [p[i]! - p[o]!, p[i + 1]! - p[o + 1]!, p[i + 2]! - p[o + 2]!];
    const [bx, by, bz] = [p[j]! - p[o]!, p[j + 1]! - p[o + 1]!, p[j + 2]! - p[o + 2]!];
    const cross = length3(ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx);
    defect[v]! -= Math.atan2(cross, ax * bx + ay * by + az * bz);
  }
  return defect;
}

/** World area of a piece, by fans. */
export function pieceArea(piece: Piece): number {
  const { mesh } = piece;
  const { positions: p } = mesh;
  let area = 0;
  for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
    const o = 3 * mesh.cornerVertex[mesh.faceStart[f]!]!;
    for (let c = mesh.faceStart[f]! + 1; c + 1 < mesh.faceStart[f + 1]!; c++) {
      const [i, j] = [3 * mesh.cornerVertex[c]!, 3 * mesh.cornerVertex[c + 1]!];
      const [ax, ay, az] = [p[i]! - p[o]!, p[i + 1]! - p[o + 1]!, p[i + 2]! - p[o + 2]!];
      const [bx, by, bz] = [p[j]! - p[o]!, p[j + 1]! - p[o + 1]!, p[j + 2]! - p[o + 2]!];
      area += length3(ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx) / 2;
    }
  }
  return area;
}
