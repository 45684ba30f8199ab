import { getBit } from "../layout/bits";
import { type Layout, shellName, shellNamed, structureOf } from "../layout/layout";
import { cornerPoints } from "../layout/point-names";
import type { SelectionKind } from "../layout/selection-kind";
import type { Shell } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { elementCount } from "./grow";

/** Which elements of the other kind are meant: those that touch something picked, or those that lie wholly in it. */
export const CONVERSIONS = ["touching", "contained"] as const;
export type Conversion = (typeof CONVERSIONS)[number];

/** The pairs of elements of two kinds that belong together, as two lists; a pair may stand there more than once. */
interface Incidences {
  readonly from: Uint32Array;
  readonly to: Uint32Array;
}

/**
 * Elements of another kind for those that are picked; linear in the corners of the mesh.
 *
 * @param flags 1 per picked element of `kind`; of shells and UV points, at their names
 * @returns 1 per element of `to` that touches one of them, or whose own elements of `kind` are all picked
 */
export function converted(
  mesh: PolyMesh,
  layout: Layout,
  kind: SelectionKind,
  flags: Uint8Array,
  to: SelectionKind,
  how: Conversion,
): Uint8Array {
  if (kind === to) return flags.slice();
  const { from, to: target } = incidences(mesh, layout, kind, to);
  const out = new Uint8Array(elementCount(mesh, to));
  const missing = new Uint8Array(how === "contained" ? out.length : 0);
  for (let i = 0; i < from.length; i++) {
    if (flags[from[i]!]) out[target[i]!] = 1;
    else if (how === "contained") missing[target[i]!] = 1;
  }
  if (how === "contained") for (let i = 0; i < out.length; i++) if (missing[i]) out[i] = 0;
  return to === "points" ? onlyMapped(mesh, layout, out) : out;
}

/** UV points of faces that have coordinates: others are nowhere. */
function onlyMapped(mesh: PolyMesh, layout: Layout, points: Uint8Array): Uint8Array {
  const { cornerFace } = topologyOf(mesh);
  return points.map((on, c) => (on && getBit(layout.mapped, cornerFace[c]!) ? 1 : 0));
}

function incidences(mesh: PolyMesh, layout: Layout, kind: SelectionKind, to: SelectionKind): Incidences {
  const pair = [kind, to];
  if (pair.includes("vertices") && pair.includes("edges")) {
    const { edgeVertices } = topologyOf(mesh);
    const edges = edgeVertices.map((_, i) => i >> 1);
    return kind === "edges" ? { from: edges, to: edgeVertices } : { from: edgeVertices, to: edges };
  }
  if (pair.includes("points") && pair.includes("edges")) {
    const { cornerEdge, cornerNext } = topologyOf(mesh);
    const at = cornerPoints(structureOf(mesh, layout));
    // Each side of an edge has a point at both of its ends.
    const edges = new Uint32Array(2 * at.length);
    const points = new Uint32Array(2 * at.length);
    for (let c = 0; c < at.length; c++) {
      edges[2 * c] = edges[2 * c + 1] = cornerEdge[c]!;
      points[2 * c] = at[c]!;
      points[2 * c + 1] = at[cornerNext[c]!]!;
    }
    return kind === "edges" ? { from: edges, to: points } : { from: points, to: edges };
  }
  // Everything else meets at the corners of faces.
  return { from: atCorners(mesh, layout, kind), to: atCorners(mesh, layout, to) };
}

/** The element of a kind at every corner: its vertex or UV point, the edge that leaves it, its face, or the name of its shell. */
function atCorners(mesh: PolyMesh, layout: Layout, kind: SelectionKind): Uint32Array {
  const t = topologyOf(mesh);
  if (kind === "vertices") return mesh.cornerVertex;
  if (kind === "points") return cornerPoints(structureOf(mesh, layout));
  if (kind === "edges") return t.cornerEdge;
  if (kind === "faces") return t.cornerFace;
  const s = structureOf(mesh, layout);
  const names = Uint32Array.from({ length: s.shellCount }, (_, k) => shellName(s, k as Shell));
  return t.cornerFace.map((f) => names[s.faceShell[f]!]!);
}

/**
 * The rim of what is picked, as edges: those with a picked face on one side and none on another, and open borders of
 * picked faces; of shells, the seams and borders round all that are picked.
 *
 * @param flags 1 per picked face, or at the names of picked shells
 */
export function rimEdges(mesh: PolyMesh, layout: Layout, kind: "faces" | "shells", flags: Uint8Array): Uint8Array {
  const t = topologyOf(mesh);
  let faces = flags;
  if (kind === "shells") {
    const s = structureOf(mesh, layout);
    const picked = new Uint8Array(s.shellCount);
    flags.forEach((on, name) => {
      const shell = on ? shellNamed(s, name) : null;
      if (shell !== null) picked[shell] = 1;
    });
    faces = new Uint8Array(faceCount(mesh)).map((_, f) => picked[s.faceShell[f]!]!);
  }
  const out = new Uint8Array(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++) {
    const first = t.edgeCornerStart[e]!;
    const last = t.edgeCornerStart[e + 1]!;
    let inside = 0;
    for (let k = first; k < last; k++) inside += faces[t.cornerFace[t.edgeCorners[k]!]!]!;
    if (inside && (inside < last - first || inside === 1)) out[e] = 1;
  }
  return out;
}
