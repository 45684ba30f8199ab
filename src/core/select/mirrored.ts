import type { Layout } from "../layout/layout";
import type { SelectionKind } from "../layout/selection-kind";
import { type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { symmetryOf } from "../transfer/symmetry";
import { symmetryByConnectivity } from "../transfer/symmetry-by-connectivity";
import { converted } from "./convert";

/** What tells which elements are images of each other: their places, or how faces are joined. */
export const SYMMETRY_BY = ["position", "connectivity"] as const;
export type SymmetryBy = (typeof SYMMETRY_BY)[number];

/**
 * The mirror image of what is picked. Elements without one are left out.
 *
 * @param flags 1 per picked element; of shells, at their names
 * @param axis 0, 1 or 2: the plane is across it
 */
export function mirroredFlags(
  mesh: PolyMesh,
  layout: Layout,
  kind: SelectionKind,
  flags: Uint8Array,
  axis: number,
  by: SymmetryBy = "position",
): Uint8Array {
  const { vertex, face } = by === "position" ? symmetryOf(mesh, axis) : symmetryByConnectivity(mesh, axis);
  if (kind === "vertices") return mappedFlags(flags, vertex);
  if (kind === "faces") return mappedFlags(flags, face);
  if (kind === "edges") return mirroredEdges(mesh, flags, vertex);
  // A shell's image is the shells that the images of its faces lie in.
  const faces = converted(mesh, layout, "shells", flags, "faces", "touching");
  return converted(mesh, layout, "faces", mappedFlags(faces, face), "shells", "touching");
}

function mappedFlags(flags: Uint8Array, image: Int32Array): Uint8Array {
  const out = new Uint8Array(flags.length);
  for (let i = 0; i < flags.length; i++) if (flags[i] && image[i]! >= 0) out[image[i]!] = 1;
  return out;
}

/** Edges whose ends are the images of a picked edge's ends. */
function mirroredEdges(mesh: PolyMesh, flags: Uint8Array, vertex: Int32Array): Uint8Array {
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  // One number for a pair of ends: below 2^53 for any mesh that fits in memory.
  const wanted = new Set<number>();
  const key = (a: number, b: number) => Math.min(a, b) * vertexCount(mesh) + Math.max(a, b);
  for (let e = 0; e < edgeCount; e++) {
    const a = vertex[edgeVertices[2 * e]!]!;
    const b = vertex[edgeVertices[2 * e + 1]!]!;
    if (flags[e] && a >= 0 && b >= 0) wanted.add(key(a, b));
  }
  const out = new Uint8Array(edgeCount);
  for (let e = 0; e < edgeCount; e++) if (wanted.has(key(edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!))) out[e] = 1;
  return out;
}
