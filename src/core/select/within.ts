import { type Bits, getBit } from "../layout/bits";
import { type Layout, shellName, structureOf } from "../layout/layout";
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

/**
 * Elements that lie within a region whole, seen or not: vertices by themselves, edges by both ends, faces by all of their
 * corners; of shells those with a face that does. In linear time.
 *
 * @param flags 1 per vertex, or per wedge where `layout` has coordinates that are meant
 */
export function elementsWithin(
  mesh: PolyMesh,
  layout: Layout,
  kind: SelectionKind,
  flags: Uint8Array,
  by: "vertex" | "wedge",
): ElementSet {
  const s = structureOf(mesh, layout);
  const of = by === "wedge" ? s.cornerWedge : mesh.cornerVertex;
  // What has no coordinates is nowhere in Sheet.
  const mapped = by === "wedge" ? layout.mapped : null;
  if (kind === "vertices" || kind === "edges") return cornersWithin(mesh, kind, flags, of, mapped);
  const whole = facesWithin(mesh, flags, of, mapped);
  if (kind === "faces") return ElementSet.flagged(whole);
  const shells = new Uint8Array(s.shellCount);
  for (let f = 0; f < whole.length; f++) if (whole[f]) shells[s.faceShell[f]!] = 1;
  const out = new Uint8Array(whole.length);
  for (let k = 0 as Shell; k < s.shellCount; k++) if (shells[k]) out[shellName(s, k)] = 1;
  return ElementSet.flagged(out);
}

/** 1 for every face all of whose corners are flagged. */
function facesWithin(mesh: PolyMesh, flags: Uint8Array, of: Uint32Array, mapped: Bits | null): Uint8Array {
  const { faceStart } = mesh;
  const out = new Uint8Array(faceStart.length - 1);
  for (let f = 0; f < out.length; f++) {
    const end = faceStart[f + 1]!;
    let c = faceStart[f]!;
    while (c < end && flags[of[c]!] === 1) c++;
    if (c === end && (!mapped || getBit(mapped, f))) out[f] = 1;
  }
  return out;
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
