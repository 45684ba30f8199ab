import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { getBit, setBit } from "./bits";
import { edgeEnds, facesOfShell, structureOf, type UvSet, withBits } from "./uv-set";

/** New points for one shell: 2 per entry of `wedges`. */
export interface ShellPoints {
  readonly shell: number;
  readonly wedges: Uint32Array;
  readonly uv: Float64Array;
}

/**
 * The layout with new points for some shells. Shells that had no coordinates are mapped; where they touched the mapped
 * part of the mesh without a seam, a seam is set, since their points do not meet.
 */
export function withShellPoints(mesh: PolyMesh, set: UvSet, changes: readonly ShellPoints[]): UvSet {
  const s = structureOf(mesh, set);
  const uv = set.uv.slice();
  for (const { wedges, uv: points } of changes) {
    for (let i = 0; i < wedges.length; i++) {
      uv[2 * wedges[i]!] = points[2 * i]!;
      uv[2 * wedges[i]! + 1] = points[2 * i + 1]!;
    }
  }
  const moved = { ...set, uv };
  const fresh = changes.filter(({ shell }) => !getBit(set.mapped, facesOfShell(s, shell)[0]!));
  if (!fresh.length) return moved;
  const mapped = set.mapped.slice();
  for (const { shell } of fresh) for (const f of facesOfShell(s, shell)) setBit(mapped, f);
  const cut = set.cut.slice();
  const t = topologyOf(mesh);
  for (let e = 0; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    const [a, , b] = edgeEnds(mesh, t, e);
    const was = getBit(set.mapped, t.cornerFace[a]!) !== getBit(set.mapped, t.cornerFace[b]!);
    const is = getBit(mapped, t.cornerFace[a]!) !== getBit(mapped, t.cornerFace[b]!);
    if (was && !is) setBit(cut, e);
  }
  return withBits(mesh, moved, cut, mapped);
}

/** Wedges of one shell, each once, in the order of its corners. */
export function wedgesOfShell(mesh: PolyMesh, set: UvSet, shell: number): Uint32Array {
  const s = structureOf(mesh, set);
  const seen = new Set<number>();
  for (const f of facesOfShell(s, shell))
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) seen.add(s.cornerWedge[c]!);
  return Uint32Array.from(seen);
}

export const isMapped = (mesh: PolyMesh, set: UvSet, shell: number): boolean =>
  getBit(set.mapped, facesOfShell(structureOf(mesh, set), shell)[0]!);

/** Whether any face of the layout has coordinates. */
export const hasPoints = (mesh: PolyMesh, set: UvSet): boolean => {
  for (let f = 0; f < faceCount(mesh); f++) if (getBit(set.mapped, f)) return true;
  return false;
};
