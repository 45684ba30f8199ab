import { type Bits, getBit } from "../layout/bits";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount } from "../mesh/topology";
import type { Source } from "./piece";

/** Corners or triangles about a point from which on a face is a cap, or a vertex a pole. */
const FEWEST = 6;

/** The faces about every pole of some faces: a fan of triangles about a vertex, or one face of many corners. */
export function poleFaces({ mesh, topology: t }: Source, faces: Uint32Array, cut: Bits): number[][] {
  const { faceStart, cornerVertex } = mesh;
  const about = new Map<number, { faces: number[]; isPole: boolean }>();
  const out: number[][] = [];
  const isClosed = (e: Edge) => edgeFaceCount(t, e) === 2 && !getBit(cut, e);
  for (const f of faces) {
    const [from, to] = [faceStart[f]!, faceStart[f + 1]!];
    if (to - from >= FEWEST) out.push([f]);
    for (let c = from; c < to; c++) {
      const own = about.get(cornerVertex[c]!) ?? { faces: [], isPole: true };
      own.faces.push(f);
      own.isPole &&= to - from === 3 && isClosed(t.cornerEdge[c]!);
      about.set(cornerVertex[c]!, own);
    }
  }
  for (const { faces: fan, isPole } of about.values()) if (isPole && fan.length >= FEWEST) out.push(fan);
  return out;
}

/** Faces within so many rings about some faces, those first. A ring is all faces that touch the ones within it. */
export function ringsAbout({ mesh }: Source, faces: Uint32Array, seed: readonly number[], rings: number): number[] {
  const { faceStart, cornerVertex } = mesh;
  const cap = new Set(seed);
  for (let ring = 1; ring < rings; ring++) {
    const rim = new Set<number>();
    for (const f of cap) for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) rim.add(cornerVertex[c]!);
    for (const f of faces)
      for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) if (rim.has(cornerVertex[c]!)) cap.add(f);
  }
  return [...cap];
}

/** Edges between some faces and others of the same shell. */
export function rimOf({ topology: t, mesh }: Source, within: readonly number[], faces: Uint32Array): Edge[] {
  const cap = new Set(within);
  const all = new Set(faces);
  const out: Edge[] = [];
  for (const f of cap)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const e = t.cornerEdge[c]!;
      if (edgeFaceCount(t, e) !== 2) continue;
      const k = t.edgeCornerStart[e]!;
      const sides = [t.cornerFace[t.edgeCorners[k]!]!, t.cornerFace[t.edgeCorners[k + 1]!]!];
      const other = sides[0] === f ? sides[1]! : sides[0]!;
      if (!cap.has(other) && all.has(other)) out.push(e);
    }
  return out;
}
