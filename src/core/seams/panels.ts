import { type Bits, clearBit, getBit, makeBits, setBit } from "../layout/bits";
import type { Edge } from "../mesh/indices";
import { edgeCorner, edgeFaceCount } from "../mesh/topology";
import { withoutLooseEnds } from "./creased";
import { edgeAngles, edgeLengths, faceNormals } from "./edge-cost";
import { joinedFaces, type Source } from "./piece";
import { faceAreas } from "./seam-field";

/** Outer edges from which on a panel ends, radians. */
const RIM = Math.PI / 3;
/** Of the root of the area: what is narrower is the bottom of a groove or a bevel, and stays with a panel beside it. */
const NARROW = 0.04;

/**
 * Lines between the panels of a surface: grooves, where it folds inwards, and rims, where it folds outwards sharply. Of a
 * groove with two lines, and of a bevel, one line is left, so that its bottom belongs to a panel.
 *
 * @param angle where faces fold inwards by this much or more there is a groove, radians
 * @param cut seams that are there, on which lines may end
 */
export function panelLines(source: Source, faces: Uint32Array, cut: Bits, angle: number): Bits {
  const { mesh, world, topology: t } = source;
  const angles = edgeAngles(mesh, world);
  const normals = faceNormals(mesh, world);
  const inside = makeBits(mesh.faceStart.length - 1);
  for (const f of faces) setBit(inside, f);
  const lines = cut.slice();
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2 || angles[e]! < Math.min(angle, RIM)) continue;
    if (!getBit(inside, t.cornerFace[edgeCorner(t, e)]!) || !getBit(inside, t.cornerFace[edgeCorner(t, e, 1)]!))
      continue;
    if (angles[e]! >= (foldsIn(source, normals, e) ? angle : RIM)) setBit(lines, e);
  }
  const whole = withoutLooseEnds(mesh, lines);
  for (let i = 0; i < whole.length; i++) whole[i]! |= cut[i]!;
  joinNarrow(source, faces, cut, whole);
  return whole;
}

/** Whether the faces at an edge fold towards the side their normals point to. */
function foldsIn({ mesh, world, topology: t }: Source, normals: Float64Array, e: Edge): boolean {
  const [f, g] = [t.cornerFace[edgeCorner(t, e)]!, t.cornerFace[edgeCorner(t, e, 1)]!];
  const [from, to] = [mesh.faceStart[g]!, mesh.faceStart[g + 1]!];
  let sum = 0;
  for (let d = 0; d < 3; d++) {
    let middle = 0;
    for (let c = from; c < to; c++) middle += world[3 * mesh.cornerVertex[c]! + d]! / (to - from);
    sum += normals[3 * f + d]! * (middle - world[3 * t.edgeVertices[2 * e]! + d]!);
  }
  return sum > 0;
}

/** Takes the lines off between narrow strips and the neighbour with which each has the longest border, the narrowest first. */
function joinNarrow(source: Source, faces: Uint32Array, cut: Bits, lines: Bits): void {
  const { mesh, world, topology: t } = source;
  const areas = faceAreas(source);
  const lengths = edgeLengths(mesh, world);
  const groups = joinedFaces(source, faces, lines);
  const of = new Map<number, number>();
  groups.forEach((own, i) => {
    for (const f of own) of.set(f, i);
  });
  const all = faces.reduce((sum, f) => sum + areas[f]!, 0);
  const strips = groups.map((own, i) => {
    const borders = new Map<number, Edge[]>();
    let [area, rim] = [0, 0];
    for (const f of own) {
      area += areas[f]!;
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
        const e = t.cornerEdge[c]!;
        const isBorder = edgeFaceCount(t, e) !== 2 || getBit(lines, e);
        if (isBorder) rim += lengths[e]!;
        if (!isBorder || edgeFaceCount(t, e) !== 2 || getBit(cut, e)) continue;
        const [a, b] = [0, 1].map((k) => of.get(t.cornerFace[edgeCorner(t, e, k as 0 | 1)]!));
        const other = a === i ? b : a;
        if (other !== undefined && other !== i) borders.set(other, [...(borders.get(other) ?? []), e]);
      }
    }
    return { width: rim ? (2 * area) / rim : Infinity, borders };
  });
  const narrow = strips.map(({ width }) => width < NARROW * Math.sqrt(all));
  const length = (edges: readonly Edge[]) => edges.reduce((sum, e) => sum + lengths[e]!, 0);
  const every = lengths.reduce((sum, x) => sum + x, 0);
  const joined = new Set<number>();
  const order = strips.map((_, i) => i).filter((i) => narrow[i]);
  for (const i of order.sort((a, b) => strips[a]!.width - strips[b]!.width)) {
    // A panel rather than another strip, which would have to go to a panel itself.
    const rank = ([other, edges]: [number, Edge[]]) => length(edges) - (narrow[other] ? every : 0);
    const [best] = [...strips[i]!.borders].filter(([k]) => !joined.has(k)).sort((a, b) => rank(b) - rank(a));
    if (!best) continue;
    joined.add(i);
    for (const e of best[1]) clearBit(lines, e);
  }
}
