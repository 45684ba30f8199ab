import { withKernels } from "../kernels/kernels";
import { type Bits, getBit, makeBits, setBit } from "../layout/bits";
import type { Edge } from "../mesh/indices";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { length3 } from "../numeric/length";
import { coarsened, type TakenOut } from "../unfold/coarsened";
import { creaseShare, edgeAngles, edgeLengths } from "./edge-cost";
import { extractPiece, type Piece, partEdges, pieceShell, type Source, sourceOf } from "./piece";
import type { SeamField } from "./seam-field";

/** Faces of a part as a mesh of far fewer triangles, on which seams are found, with the way back. */
export interface CoarseTwin {
  readonly source: Source;
  /** Of every vertex of the twin its point of the piece. */
  readonly points: Uint32Array;
  readonly piece: Piece;
  /** Points that were taken out, in order. */
  readonly taken: readonly TakenOut[];
}

/**
 * The coarse twin of some faces of a part.
 *
 * @param cut borders of the faces besides those of the mesh @param left how many points it is to have
 * @param look called between its steps; throws to stop
 */
export function coarseTwin(
  field: SeamField,
  faces: Uint32Array,
  cut: Bits,
  left: number,
  look: () => void,
): CoarseTwin {
  const piece = extractPiece(field, faces, cut);
  look();
  const { triangles, taken } = withKernels((kernels) => coarsened(kernels, pieceShell(field, piece), left));
  look();
  const numberOf = new Map<number, number>();
  const polygons: number[][] = [];
  for (let t = 0; t < triangles.length; t += 3)
    polygons.push(
      [0, 1, 2].map((k) => {
        const point = triangles[t + k]!;
        if (!numberOf.has(point)) numberOf.set(point, numberOf.size);
        return numberOf.get(point)!;
      }),
    );
  const points = Uint32Array.from(numberOf.keys());
  const places = new Float64Array(3 * points.length);
  for (const [i, p] of points.entries()) places.set(piece.mesh.positions.subarray(3 * p, 3 * p + 3), 3 * i);
  const mesh = meshFromPolygons(places, polygons);
  return { source: sourceOf(mesh, places, twinCosts(field, piece, points, mesh)), points, piece, taken };
}

/** What seams cost on a twin: by its own creases, and by how openly what lies about its vertices is seen. */
function twinCosts(field: SeamField, piece: Piece, points: Uint32Array, mesh: Source["mesh"]): Float64Array {
  const fine = topologyOf(piece.mesh);
  const edges = partEdges(field, piece);
  const sum = new Float64Array(piece.mesh.positions.length / 3);
  const count = new Uint32Array(sum.length);
  for (let e = 0; e < fine.edgeCount; e++) {
    const own = edges[e]!;
    const bare = field.length[own]! * creaseShare(field.angle[own]!);
    if (!(bare > 0)) continue;
    for (const k of [0, 1]) {
      sum[fine.edgeVertices[2 * e + k]!]! += field.cost[own]! / bare;
      count[fine.edgeVertices[2 * e + k]!]!++;
    }
  }
  const openness = points.map((p) => 1000 * (count[p] ? sum[p]! / count[p]! : 1));
  const angles = edgeAngles(mesh, mesh.positions);
  const { edgeVertices } = topologyOf(mesh);
  return edgeLengths(mesh, mesh.positions).map(
    (length, e) =>
      (length * creaseShare(angles[e]!) * (openness[edgeVertices[2 * e]!]! + openness[edgeVertices[2 * e + 1]!]!)) /
      2000,
  );
}

/**
 * Seams of a twin as seams of the part. Points are put back one by one, the last first: seams that went to a point from
 * the side where one is put back go on from that one, so that at every step they part the surface just as before, and each
 * point that is put back onto a seam moves to the shorter side. Limbs and holes come through.
 *
 * @param cut of the twin @returns edges of the part
 */
export function ledBack(field: SeamField, twin: CoarseTwin, cut: Bits): number[] {
  const lines = new Lines(twin.piece.mesh.positions);
  const coarse = topologyOf(twin.source.mesh);
  for (let e = 0 as Edge; e < coarse.edgeCount; e++)
    if (getBit(cut, e) && edgeFaceCount(coarse, e) === 2)
      lines.add(twin.points[coarse.edgeVertices[2 * e]!]!, twin.points[coarse.edgeVertices[2 * e + 1]!]!);
  const { piece } = twin;
  const fine = topologyOf(piece.mesh);
  const onBorder = new Uint8Array(piece.mesh.positions.length / 3);
  for (let e = 0 as Edge; e < fine.edgeCount; e++)
    if (edgeFaceCount(fine, e) !== 2) for (const k of [0, 1]) onBorder[fine.edgeVertices[2 * e + k]!] = 1;
  for (let i = twin.taken.length - 1; i >= 0; i--) lines.putBack(twin.taken[i]!, onBorder);
  return edgesAlong(field, piece, lines);
}

/** Edges of a part along lines from point to point; diagonals of polygons are gone about. */
function edgesAlong(field: SeamField, piece: Piece, lines: Lines): number[] {
  const t = topologyOf(piece.mesh);
  const edges = partEdges(field, piece);
  const found = makeBits(field.topology.edgeCount);
  const out: number[] = [];
  const take = (e: number) => {
    if (edgeFaceCount(t, e as Edge) !== 2 || getBit(found, edges[e]!)) return;
    setBit(found, edges[e]!);
    out.push(edges[e]!);
  };
  for (let e = 0; e < t.edgeCount; e++) if (lines.remove(t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!)) take(e);
  // What is left runs across polygons.
  const { faceStart, cornerVertex } = piece.mesh;
  for (let f = 0; f + 1 < faceStart.length; f++) {
    const [from, size] = [faceStart[f]!, faceStart[f + 1]! - faceStart[f]!];
    if (size < 4) continue;
    for (let i = 0; i < size; i++)
      for (let j = i + 2; j < size; j++) {
        if (!lines.remove(cornerVertex[from + i]!, cornerVertex[from + j]!)) continue;
        const [start, steps] = j - i <= size / 2 ? [i, j - i] : [j, size - j + i];
        for (let k = 0; k < steps; k++) take(t.cornerEdge[from + ((start + k) % size)]!);
      }
  }
  return out;
}

/** Seams from point to point of a surface that gets finer. */
class Lines {
  private readonly at = new Map<number, Set<number>>();

  constructor(private readonly places: Float64Array) {}

  add(a: number, b: number): void {
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const) {
      const ends = this.at.get(from);
      if (ends) ends.add(to);
      else this.at.set(from, new Set([to]));
    }
  }

  /** @returns whether there was one */
  remove(a: number, b: number): boolean {
    if (!this.at.get(a)?.delete(b)) return false;
    this.at.get(b)!.delete(a);
    return true;
  }

  private degree(p: number): number {
    return this.at.get(p)?.size ?? 0;
  }

  putBack({ point, ring, onBorder: isOpen, onto }: TakenOut, onBorder: Uint8Array): void {
    const target = ring[onto]!;
    let moved = 0;
    for (const [i, w] of ring.entries()) {
      // Beside the edge that it was drawn along there are two edges again, and what went to the target stays there.
      const apart = Math.abs(i - onto);
      if (apart < 2 || (!isOpen && apart === ring.length - 1)) continue;
      if (!this.remove(target, w)) continue;
      this.add(point, w);
      moved++;
    }
    if (!moved) return;
    const bothOnBorder = onBorder[target] && isOpen;
    if (!bothOnBorder && (this.degree(target) > 0 || onBorder[target])) this.add(point, target);
    if (!isOpen) this.straighten(point, ring, onBorder);
  }

  /** Moves a seam that passes a point to the ring about it, where that is shorter and free. */
  private straighten(point: number, ring: Uint32Array, onBorder: Uint8Array): void {
    if (this.degree(point) !== 2) return;
    const [a, b] = [...this.at.get(point)!] as [number, number];
    const [i, j] = [ring.indexOf(a), ring.indexOf(b)];
    if (i < 0 || j < 0) return;
    const now = this.distance(a, point) + this.distance(point, b);
    for (const [from, to] of [
      [i, j],
      [j, i],
    ] as const) {
      const way: number[] = [];
      for (let k = from; ; k = (k + 1) % ring.length) {
        way.push(ring[k]!);
        if (k === to) break;
      }
      const isFree =
        way.slice(1, -1).every((v) => this.degree(v) === 0 && !onBorder[v]) && !this.at.get(way[0]!)!.has(way[1]!);
      let length = 0;
      for (let k = 0; k + 1 < way.length; k++) length += this.distance(way[k]!, way[k + 1]!);
      if (!isFree || length >= now) continue;
      this.remove(point, a);
      this.remove(point, b);
      for (let k = 0; k + 1 < way.length; k++) this.add(way[k]!, way[k + 1]!);
      return;
    }
  }

  private distance(a: number, b: number): number {
    const p = this.places;
    return length3(p[3 * a]! - p[3 * b]!, p[3 * a + 1]! - p[3 * b + 1]!, p[3 * a + 2]! - p[3 * b + 2]!);
  }
}
