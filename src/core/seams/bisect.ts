import { type Graph, graphOf, shortestPaths } from "../numeric/heap";
import { length3 } from "../numeric/length";
import { minCut } from "../numeric/min-cut";
import type { Piece, Source } from "./piece";
import { type PieceGraph, pieceGraph } from "./piece-graph";

/** Share of the way between the two seeds, about its middle, within which the seam may run. */
const BAND = 0.5;

/**
 * Edges of the part to cut so that a piece falls into two: seeds are two far-apart faces, the seam the one of least
 * cost in the band half way between them. Empty for a single face.
 *
 * Source: Katz, Tal, Hierarchical mesh decomposition using fuzzy clustering and cuts (2003) for the band and its cut.
 */
export function bisect(source: Source, piece: Piece): Uint32Array {
  const g = pieceGraph(source, piece);
  if (g.faces < 2) return new Uint32Array(0);
  const dual = graphOf(g.faces, g.left, g.right);
  const stride = dualLengths(piece, g);
  const a = farthestFace(dual, stride, 0);
  const b = farthestFace(dual, stride, a);
  const fromA = shortestPaths(dual, stride, [a]).distance;
  const fromB = shortestPaths(dual, stride, [b]).distance;
  const side = new Uint8Array(g.faces);
  for (let f = 0; f < g.faces; f++) {
    const lean = (fromB[f]! - fromA[f]!) / (fromA[f]! + fromB[f]!);
    side[f] = lean > BAND ? 1 : lean < -BAND ? 2 : 0;
  }
  side[a] = 1;
  side[b] = 2;
  const least = g.cost.reduce((sum, x) => sum + x, 0) / g.edges / 100;
  const capacity = g.cost.map((c) => c + least);
  const near = minCut(dual, capacity, side);
  const cut: number[] = [];
  for (let e = 0; e < g.edges; e++)
    if (g.right[e]! >= 0 && near[g.left[e]!] !== near[g.right[e]!]) cut.push(g.partEdge[e]!);
  return Uint32Array.from(cut);
}

/** Distance between the middles of the faces on either side of each edge; longer across a crease. */
function dualLengths(piece: Piece, g: PieceGraph): Float64Array {
  const { mesh } = piece;
  const middle = new Float64Array(3 * g.faces);
  for (let f = 0; f < g.faces; f++) {
    const size = mesh.faceStart[f + 1]! - mesh.faceStart[f]!;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
      for (let d = 0; d < 3; d++) middle[3 * f + d]! += mesh.positions[3 * mesh.cornerVertex[c]! + d]! / size;
  }
  return Float64Array.from({ length: g.edges }, (_, e) => {
    if (g.right[e]! < 0) return Infinity;
    const [i, j] = [3 * g.left[e]!, 3 * g.right[e]!];
    const d = length3(middle[i]! - middle[j]!, middle[i + 1]! - middle[j + 1]!, middle[i + 2]! - middle[j + 2]!);
    // An edge that is cheap for its length lies on a crease or hidden: a natural border.
    const cheap = g.length[e]! > 0 ? 1 - Math.min(1, g.cost[e]! / g.length[e]!) : 0;
    return d * (1 + 2 * cheap);
  });
}

function farthestFace(dual: Graph, stride: Float64Array, from: number): number {
  const { distance } = shortestPaths(dual, stride, [from]);
  let best = from === 0 ? Math.min(1, dual.n - 1) : 0;
  let most = -1;
  for (let f = 0; f < dual.n; f++) {
    if (f === from || !Number.isFinite(distance[f]!) || distance[f]! <= most) continue;
    most = distance[f]!;
    best = f;
  }
  return best;
}
