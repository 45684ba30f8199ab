import {
  type Corner,
  type Edge,
  type Face,
  type Indices,
  indices,
  type Shell,
  type Vertex,
  type Wedge,
} from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology } from "../mesh/topology";
import { type Bits, getBit } from "./bits";
import type { ShapeId } from "./ids";

/** A UV layout of one mesh as an immutable value. */
export interface Layout {
  /** One bit per edge: the seam. The only truth about seams. */
  readonly cut: Bits;
  /** One bit per face; an unmapped face has no coordinates. */
  readonly mapped: Bits;
  /** 2 per wedge, in tile units, v up. Points of unmapped wedges mean nothing. */
  readonly uv: Float64Array;
  /** One bit per wedge. */
  readonly pinned: Bits;
}

/**
 * What cut and mapped bits make of a mesh.
 * A wedge is the corners around one vertex that reach each other without crossing a cut, a border, an edge that has
 * not exactly two faces, or the line between mapped and unmapped faces. A shell is faces reachable in the same way.
 */
export interface Structure {
  readonly wedgeCount: number;
  readonly cornerWedge: Indices<Wedge>;
  readonly wedgeVertex: Indices<Vertex>;
  readonly shellCount: number;
  readonly faceShell: Indices<Shell>;
  /** Faces of shell s: shellFaces[shellStart[s] .. shellStart[s + 1] - 1], ascending. */
  readonly shellStart: Uint32Array;
  readonly shellFaces: Indices<Face>;
}

/** Whether layout ends at edge e: faces on its two sides are not joined there. */
export function isBarrier(t: Topology, set: Pick<Layout, "cut" | "mapped">, e: Edge): boolean {
  if (edgeFaceCount(t, e) !== 2 || getBit(set.cut, e)) return true;
  const a = edgeCorner(t, e);
  const b = edgeCorner(t, e, 1);
  return getBit(set.mapped, t.cornerFace[a]!) !== getBit(set.mapped, t.cornerFace[b]!);
}

/**
 * Corners that stand at the two ends of a two-sided edge, on either side: [a0, a1, b0, b1], a0 and b0 at the first
 * vertex of the edge's first corner, whatever the winding of the second face.
 */
export function edgeEnds(mesh: PolyMesh, t: Topology, e: Edge): [Corner, Corner, Corner, Corner] {
  const a0 = edgeCorner(t, e);
  const other = edgeCorner(t, e, 1);
  const a1 = t.cornerNext[a0]!;
  const same = mesh.cornerVertex[other] === mesh.cornerVertex[a0];
  return same ? [a0, a1, other, t.cornerNext[other]!] : [a0, a1, t.cornerNext[other]!, other];
}

/** The same into four places, for hot loops. */
export function edgeEndsInto(mesh: PolyMesh, t: Topology, e: Edge, out: Uint32Array): void {
  const start = t.edgeCornerStart[e]!;
  const a = t.edgeCorners[start]!;
  const b = t.edgeCorners[start + 1]!;
  const same = mesh.cornerVertex[b] === mesh.cornerVertex[a];
  out[0] = a;
  out[1] = t.cornerNext[a]!;
  out[same ? 2 : 3] = b;
  out[same ? 3 : 2] = t.cornerNext[b]!;
}

/** @throws RangeError for a shell that is not there: a subarray from nothing to nothing would be all faces */
export function facesOfShell(s: Structure, shell: Shell): Indices<Face> {
  if (!(shell >= 0 && shell < s.shellCount)) throw new RangeError(`There is no shell ${shell} of ${s.shellCount}.`);
  return indices(s.shellFaces.subarray(s.shellStart[shell]!, s.shellStart[shell + 1]!));
}

/**
 * A shell by its name, which is its least face: it stays when other shells are cut or joined, and a shell that is cut
 * in two keeps it in the half with that face.
 */
export interface ShellRef {
  readonly shape: ShapeId;
  readonly face: number;
}

/** The name of a shell: its least face. */
export const shellName = (s: Structure, shell: Shell): Face => s.shellFaces[s.shellStart[shell]!]!;

/** The shell of a name, in constant time; null when no shell has that least face any more. */
export function shellNamed(s: Structure, name: number): Shell | null {
  const shell = s.faceShell[name];
  return shell !== undefined && shellName(s, shell) === name ? shell : null;
}

/** Faces by shell, ascending. */
export function listFaces(faceShell: Indices<Shell>, shellCount: number) {
  const shellStart = new Uint32Array(shellCount + 1);
  for (let f = 0; f < faceShell.length; f++) shellStart[faceShell[f]! + 1]!++;
  for (let s = 0; s < shellCount; s++) shellStart[s + 1]! += shellStart[s]!;
  const fill = shellStart.slice(0, -1);
  const shellFaces = new Uint32Array(faceShell.length);
  for (let f = 0; f < faceShell.length; f++) shellFaces[fill[faceShell[f]!]!++] = f;
  return { shellCount, faceShell, shellStart, shellFaces: indices<Face>(shellFaces) };
}
