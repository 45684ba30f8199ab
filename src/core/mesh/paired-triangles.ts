import { length3 } from "../numeric/length";
import type { Corner, Edge } from "./indices";
import type { PolyMesh } from "./poly-mesh";
import { edgeFaceCount, mateCorner, topologyOf, windsAlike } from "./topology";

/** A mesh in which triangles that were quads are quads again. */
export interface Paired {
  readonly mesh: PolyMesh;
  /** By corner of the mesh it was made from: the corner that stands for it. */
  readonly corner: Uint32Array;
}

/**
 * Joins triangles two by two along the edge that is the diagonal of both; all other faces stay, and vertices stay what they
 * are. In linear time.
 *
 * @param diagonal by face: the corner from which its diagonal runs, -1 for none
 */
export function withTrianglesPaired(mesh: PolyMesh, diagonal: Int32Array): Paired {
  const t = topologyOf(mesh);
  const faces = mesh.faceStart.length - 1;
  const starts: number[] = [0];
  const cornerVertex: number[] = [];
  const kept: number[] = [];
  const corner = new Uint32Array(mesh.cornerVertex.length);
  const add = (own: number, f: number) => {
    corner[own] = cornerVertex.push(mesh.cornerVertex[own]!) - 1;
    if (kept.length < starts.length) kept.push(f);
  };
  const done = new Uint8Array(faces);
  for (let f = 0; f < faces; f++) {
    if (done[f]) continue;
    done[f] = 1;
    const a = diagonal[f]!;
    const mate = a >= 0 && edgeFaceCount(t, t.cornerEdge[a]! as Edge) === 2 ? mateCorner(t, a as Corner) : -1;
    const g = mate >= 0 ? t.cornerFace[mate]! : f;
    if (mate < 0 || done[g] || diagonal[g] !== mate || !windsAlike(mesh, t, a as Corner, mate as Corner)) {
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) add(c, f);
    } else {
      done[g] = 1;
      // From the end of the diagonal about the one triangle, and on about the other.
      const b = t.cornerNext[a]!;
      add(b, f);
      add(t.cornerNext[b]!, f);
      add(a, f);
      add(t.cornerNext[t.cornerNext[mate]!]!, f);
      corner[mate] = corner[b]!;
      corner[t.cornerNext[mate]!] = corner[a]!;
    }
    starts.push(cornerVertex.length);
  }
  return {
    mesh: {
      positions: mesh.positions,
      faceStart: Uint32Array.from(starts),
      cornerVertex: Uint32Array.from(cornerVertex),
      faceMaterial: Uint32Array.from(kept, (f) => mesh.faceMaterial[f]!),
      faceGroup: Uint32Array.from(kept, (f) => mesh.faceGroup[f]!),
      groups: mesh.groups,
      origin: { vertex: mesh.origin.vertex, face: Uint32Array.from(kept, (f) => mesh.origin.face[f]!) },
    },
    corner,
  };
}

/** By how much a diagonal is longer than all sides of a quad: triangles about a pole have two sides alike, and are none. */
const LONGER = 1.001;

/** By face the corner from which a triangle's longest edge runs; -1 where it is no triangle, or none is longer than both others. */
export function longestEdges({ faceStart, cornerVertex, positions: p }: PolyMesh): Int32Array {
  const out = new Int32Array(faceStart.length - 1).fill(-1);
  for (let f = 0; f < out.length; f++) {
    const start = faceStart[f]!;
    if (faceStart[f + 1]! - start !== 3) continue;
    const length = (k: number) => {
      const [a, b] = [3 * cornerVertex[start + k]!, 3 * cornerVertex[start + ((k + 1) % 3)]!];
      return length3(p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!);
    };
    const all = [length(0), length(1), length(2)] as const;
    const k = all[0] >= all[1] && all[0] >= all[2] ? 0 : all[1] >= all[2] ? 1 : 2;
    const second = Math.max(all[(k + 1) % 3]!, all[(k + 2) % 3]!);
    if (all[k]! > LONGER * second) out[f] = start + k;
  }
  return out;
}

/**
 * The ways in which triangles that lie like those of a grid can have been quads: their edges run in three ways, each
 * triangle has one edge of each, and any of the three may be that of the diagonals. However much the quads lean, so where
 * the diagonals are not the longest edges as well.
 *
 * @param faces that hang together @returns `withTrianglesPaired` may take any; that whose diagonals are longest first; none
 * where they do not lie like a grid
 */
export function latticeDiagonals(mesh: PolyMesh, faces: ArrayLike<number>): Int32Array[] {
  const t = topologyOf(mesh);
  const inside = new Uint8Array(mesh.faceStart.length - 1);
  for (let i = 0; i < faces.length; i++) inside[faces[i]!] = 1;
  // By corner: which of the three ways its edge runs.
  const way = new Int8Array(mesh.cornerVertex.length).fill(-1);
  const first = mesh.faceStart[faces[0]!]!;
  const list = [faces[0]!];
  for (let k = 0; k < 3; k++) way[first + k] = k;
  for (let i = 0; i < list.length; i++) {
    const start = mesh.faceStart[list[i]!]!;
    if (mesh.faceStart[list[i]! + 1]! - start !== 3) return [];
    for (let c = start; c < start + 3; c++) {
      const mate = edgeFaceCount(t, t.cornerEdge[c]! as Edge) === 2 ? mateCorner(t, c as Corner) : -1;
      if (mate < 0 || !inside[t.cornerFace[mate]!]) continue;
      if (!windsAlike(mesh, t, c as Corner, mate as Corner)) return [];
      const next = t.cornerNext[c]!;
      const beyond = t.cornerNext[mate]!;
      // Of the four sides about an edge those across from each other run the same way.
      const wanted = [way[c]!, way[next]!, way[t.cornerNext[next]!]!] as const;
      const corners = [mate, beyond, t.cornerNext[beyond]!] as const;
      if (way[mate]! < 0) list.push(t.cornerFace[mate]!);
      for (let k = 0; k < 3; k++) {
        if (way[corners[k]!]! >= 0 && way[corners[k]!] !== wanted[k]) return [];
        way[corners[k]!] = wanted[k]!;
      }
    }
  }
  return list.length < faces.length ? [] : byLength(mesh, list, way);
}

function byLength(
  { faceStart, cornerVertex, positions: p }: PolyMesh,
  faces: readonly number[],
  way: Int8Array,
): Int32Array[] {
  const sums = [0, 0, 0];
  const out = sums.map(() => new Int32Array(faceStart.length - 1).fill(-1));
  for (const f of faces)
    for (let k = 0; k < 3; k++) {
      const c = faceStart[f]! + k;
      const [a, b] = [3 * cornerVertex[c]!, 3 * cornerVertex[faceStart[f]! + ((k + 1) % 3)]!];
      sums[way[c]!]! += length3(p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!);
      out[way[c]!]![f] = c;
    }
  return [0, 1, 2].sort((a, b) => sums[b]! - sums[a]!).map((k) => out[k]!);
}
