import { type Bits, getBit } from "../layout/bits";
import { type Layout, shellName, structureOf } from "../layout/layout";
import { cornerPoints } from "../layout/point-names";
import type { SelectionKind } from "../layout/selection-kind";
import type { Shell } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { ElementSet } from "./element-set";
import { elementCount } from "./grow";

/** Whether a point of a pane, in its pixels, is meant. */
export type Inside = (x: number, y: number) => boolean;

/**
 * 1 for every point that appears within a region. In linear time.
 *
 * @param points 3 a point, or 2 where `flat`
 * @param matrix 16 numbers, column-major, that take a point to pixels and depth, each times w; what has no w above zero
 * lies behind the eye
 */
export function pointsWithin(
  points: Float64Array,
  flat: boolean,
  matrix: ArrayLike<number>,
  inside: Inside,
): Uint8Array {
  const step = flat ? 2 : 3;
  const out = new Uint8Array(points.length / step);
  const m = Float64Array.from(matrix);
  for (let k = 0; k < out.length; k++) {
    const x = points[step * k]!;
    const y = points[step * k + 1]!;
    const z = flat ? 0 : points[step * k + 2]!;
    const w = m[3]! * x + m[7]! * y + m[11]! * z + m[15]!;
    if (w <= 0) continue;
    const px = (m[0]! * x + m[4]! * y + m[8]! * z + m[12]!) / w;
    const py = (m[1]! * x + m[5]! * y + m[9]! * z + m[13]!) / w;
    if (inside(px, py)) out[k] = 1;
  }
  return out;
}

/** Where a corner appears, in pixels. */
export type CornerPlace = (corner: number) => readonly [number, number];

/**
 * Whether more than half of a face lies within a region: of as many pieces as it has corners, each about the point
 * halfway from its corner to the middle. Where just half of them do, the middle decides.
 */
export function isMostlyWithin({ faceStart }: PolyMesh, face: number, place: CornerPlace, inside: Inside): boolean {
  const [from, to] = [faceStart[face]!, faceStart[face + 1]!];
  const count = to - from;
  let [mx, my] = [0, 0];
  for (let c = from; c < to; c++) {
    const [x, y] = place(c);
    mx += x / count;
    my += y / count;
  }
  let within = 0;
  for (let c = from; c < to; c++) {
    const [x, y] = place(c);
    if (inside((x + mx) / 2, (y + my) / 2)) within++;
  }
  return 2 * within === count ? inside(mx, my) : 2 * within > count;
}

/**
 * Elements that lie within a region, seen or not: vertices and UV points by themselves, edges by both ends, faces by more than half; of
 * shells those with a face that does. In linear time.
 *
 * @param flags 1 per vertex, or per wedge where `layout` has coordinates that are meant
 * @param isMostly asked of faces that lie in it with some corners and not with others
 */
export function elementsWithin(
  mesh: PolyMesh,
  layout: Layout,
  kind: SelectionKind,
  flags: Uint8Array,
  by: "vertex" | "wedge",
  isMostly: (face: number) => boolean,
): ElementSet {
  const s = structureOf(mesh, layout);
  const of = by === "wedge" ? s.cornerWedge : mesh.cornerVertex;
  // What has no coordinates is nowhere in Sheet.
  const mapped = by === "wedge" ? layout.mapped : null;
  if (kind === "vertices" || kind === "edges") return cornersWithin(mesh, kind, flags, of, mapped);
  if (kind === "points") return uvPointsWithin(mesh, layout, flags, of);
  const whole = facesWithin(mesh, flags, of, mapped, isMostly);
  if (kind === "faces") return ElementSet.flagged(whole);
  const shells = new Uint8Array(s.shellCount);
  for (let f = 0; f < whole.length; f++) if (whole[f]) shells[s.faceShell[f]!] = 1;
  const out = new Uint8Array(whole.length);
  for (let k = 0 as Shell; k < s.shellCount; k++) if (shells[k]) out[shellName(s, k)] = 1;
  return ElementSet.flagged(out);
}

/** 1 for every face all of whose corners are flagged, or some where it lies within mostly. */
function facesWithin(
  { faceStart }: PolyMesh,
  flags: Uint8Array,
  of: Uint32Array,
  mapped: Bits | null,
  isMostly: (face: number) => boolean,
): Uint8Array {
  const out = new Uint8Array(faceStart.length - 1);
  for (let f = 0; f < out.length; f++) {
    const [start, end] = [faceStart[f]!, faceStart[f + 1]!];
    let count = 0;
    for (let c = start; c < end; c++) count += flags[of[c]!]!;
    if (!count || (mapped && !getBit(mapped, f))) continue;
    if (count === end - start || isMostly(f)) out[f] = 1;
  }
  return out;
}

/** UV points at flagged vertices or wedges, as far as they have coordinates. */
function uvPointsWithin(mesh: PolyMesh, layout: Layout, flags: Uint8Array, of: Uint32Array): ElementSet {
  const { cornerFace } = topologyOf(mesh);
  const points = cornerPoints(structureOf(mesh, layout));
  const out = new Uint8Array(points.length);
  for (let c = 0; c < of.length; c++) if (flags[of[c]!] && getBit(layout.mapped, cornerFace[c]!)) out[points[c]!] = 1;
  return ElementSet.flagged(out);
}

/** Vertices that are flagged, or edges both of whose ends are. */
function cornersWithin(
  mesh: PolyMesh,
  kind: "vertices" | "edges",
  flags: Uint8Array,
  of: Uint32Array,
  mapped: Bits | null,
): ElementSet {
  const { cornerNext, cornerEdge, cornerFace } = topologyOf(mesh);
  const out = new Uint8Array(elementCount(mesh, kind));
  for (let c = 0; c < of.length; c++) {
    if (!flags[of[c]!] || (mapped && !getBit(mapped, cornerFace[c]!))) continue;
    if (kind === "vertices") out[mesh.cornerVertex[c]!] = 1;
    else if (flags[of[cornerNext[c]!]!]) out[cornerEdge[c]!] = 1;
  }
  return ElementSet.flagged(out);
}
