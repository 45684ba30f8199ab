import { type Bits, getBit } from "../layout/bits";
import { edgeEnds } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf } from "../mesh/topology";
import { trianglesOf } from "../mesh/triangulate";
import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";
import type { ShellMesh } from "../unfold/shell-mesh";

/** A part's mesh with what seam work needs of it. */
export interface Source {
  readonly mesh: PolyMesh;
  /** 3 per vertex, world space. */
  readonly world: Float64Array;
  readonly topology: Topology;
  /** What a seam along each edge costs. */
  readonly cost: Float64Array;
  /** One per corner, for marking; filled with -1 whenever nobody works on it. */
  readonly scratch: Int32Array;
}

export const sourceOf = (mesh: PolyMesh, world: Float64Array, cost: Float64Array): Source => ({
  mesh,
  world,
  topology: topologyOf(mesh),
  cost,
  scratch: new Int32Array(mesh.cornerVertex.length).fill(-1),
});

/** Some faces of a part cut out as a mesh of their own: vertices are split where edges are cut. World space. */
export interface Piece {
  readonly mesh: PolyMesh;
  /** Corner of the part's mesh for every corner here. */
  readonly corner: Uint32Array;
  /** Face of the part's mesh for every face here. */
  readonly face: Uint32Array;
}

/** Cuts faces out along the edges whose bit is set (and along edges without exactly two faces). */
export function extractPiece(source: Source, faces: Uint32Array, cut: Bits): Piece {
  const { mesh, topology: t, scratch } = source;
  const faceStart = new Uint32Array(faces.length + 1);
  for (let i = 0; i < faces.length; i++)
    faceStart[i + 1] = faceStart[i]! + mesh.faceStart[faces[i]! + 1]! - mesh.faceStart[faces[i]!]!;
  const count = faceStart[faces.length]!;
  const corner = new Uint32Array(count);
  for (let i = 0, at = 0; i < faces.length; i++)
    for (let c = mesh.faceStart[faces[i]!]!; c < mesh.faceStart[faces[i]! + 1]!; c++) {
      scratch[c] = at;
      corner[at++] = c;
    }
  const parent = iota(count);
  for (let i = 0; i < count; i++) {
    const e = t.cornerEdge[corner[i]!]!;
    if (edgeFaceCount(t, e) !== 2 || getBit(cut, e) || edgeCorner(t, e) !== corner[i]) continue;
    const [a0, a1, b0, b1] = edgeEnds(mesh, t, e);
    if (scratch[b0] === -1) continue;
    unite(parent, scratch[a0]!, scratch[b0]!);
    unite(parent, scratch[a1]!, scratch[b1]!);
  }
  const cornerVertex = new Uint32Array(count);
  const positions: number[] = [];
  for (let i = 0; i < count; i++) {
    const root = rootOf(parent, i);
    if (root === i) {
      cornerVertex[i] = positions.length / 3;
      const v = 3 * mesh.cornerVertex[corner[i]!]!;
      positions.push(source.world[v]!, source.world[v + 1]!, source.world[v + 2]!);
    } else cornerVertex[i] = cornerVertex[root]!;
  }
  for (let i = 0; i < count; i++) scratch[corner[i]!] = -1;
  const none = new Uint32Array(faces.length).fill(NONE);
  const piece: PolyMesh = {
    positions: Float64Array.from(positions),
    faceStart,
    cornerVertex,
    faceMaterial: none,
    faceGroup: none,
    groups: [],
    origin: { vertex: new Uint32Array(0), face: new Uint32Array(0) },
  };
  return { mesh: piece, corner, face: faces };
}

/** The piece as triangles to unfold, triangulated as the part is. */
export function pieceShell(source: Source, piece: Piece): ShellMesh {
  const t = trianglesOf(source.mesh);
  const triangles: number[] = [];
  for (let i = 0; i < piece.face.length; i++) {
    const f = piece.face[i]!;
    const shift = piece.mesh.faceStart[i]! - source.mesh.faceStart[f]!;
    for (let k = 3 * t.faceStart[f]!; k < 3 * t.faceStart[f + 1]!; k++)
      triangles.push(piece.mesh.cornerVertex[t.corners[k]! + shift]!);
  }
  const points = piece.mesh.positions.length / 3;
  return {
    wedges: iota(points),
    triangles: Uint32Array.from(triangles),
    positions: piece.mesh.positions,
  };
}

/** Edge of the part for every edge of the piece. */
export function partEdges(source: Source, piece: Piece): Uint32Array {
  const t = topologyOf(piece.mesh);
  const out = new Uint32Array(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++) out[e] = source.topology.cornerEdge[piece.corner[edgeCorner(t, e as Edge)]!]!;
  return out;
}

/** Faces grouped by what is still joined within them. */
export function joinedFaces(source: Source, faces: Uint32Array, cut: Bits): Uint32Array[] {
  const { mesh, topology: t, scratch } = source;
  // The first corner of a face carries its mark: -1 outside, -2 waiting.
  for (const f of faces) scratch[mesh.faceStart[f]!] = -2;
  const groups: Uint32Array[] = [];
  for (const seed of faces) {
    if (scratch[mesh.faceStart[seed]!] !== -2) continue;
    scratch[mesh.faceStart[seed]!] = groups.length;
    const group = [seed];
    for (let i = 0; i < group.length; i++) {
      for (let c = mesh.faceStart[group[i]!]!; c < mesh.faceStart[group[i]! + 1]!; c++) {
        const e = t.cornerEdge[c]!;
        if (edgeFaceCount(t, e) !== 2 || getBit(cut, e)) continue;
        const start = t.edgeCornerStart[e]!;
        const mate = t.edgeCorners[start] === c ? t.edgeCorners[start + 1]! : t.edgeCorners[start]!;
        const other = t.cornerFace[mate]!;
        if (scratch[mesh.faceStart[other]!] !== -2) continue;
        scratch[mesh.faceStart[other]!] = groups.length;
        group.push(other);
      }
    }
    groups.push(Uint32Array.from(group).sort());
  }
  for (const f of faces) scratch[mesh.faceStart[f]!] = -1;
  return groups;
}
