import { type Layout, shellName, shellNamed, structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import type { SelectionKind } from "../layout/selection-kind";
import type { Shell } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";

/** How many elements of a kind a mesh has; shells go by the number of a face, UV points by that of a corner, their least. */
export function elementCount(mesh: PolyMesh, kind: SelectionKind): number {
  if (kind === "vertices") return mesh.positions.length / 3;
  if (kind === "points") return mesh.cornerVertex.length;
  return kind === "edges" ? topologyOf(mesh).edgeCount : faceCount(mesh);
}

/**
 * Elements that are flagged, and those beside them: vertices and UV points along edges, edges and faces that share a
 * vertex, shells across a seam. In linear time.
 *
 * @param flags 1 per element that is picked; of shells and UV points, at their names
 */
export function grown(mesh: PolyMesh, layout: Layout, kind: SelectionKind, flags: Uint8Array): Uint8Array {
  if (kind === "shells") return grownShells(mesh, layout, flags);
  if (kind === "points") return grownPoints(mesh, layout, flags);
  const t = topologyOf(mesh);
  const out = flags.slice();
  if (kind === "vertices") {
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
      if (flags[a]) out[b] = 1;
      if (flags[b]) out[a] = 1;
    }
    return out;
  }
  const touched = new Uint8Array(mesh.positions.length / 3);
  if (kind === "edges") {
    for (let e = 0; e < t.edgeCount; e++)
      if (flags[e]) touched[t.edgeVertices[2 * e]!] = touched[t.edgeVertices[2 * e + 1]!] = 1;
    for (let e = 0; e < t.edgeCount; e++)
      if (touched[t.edgeVertices[2 * e]!] || touched[t.edgeVertices[2 * e + 1]!]) out[e] = 1;
    return out;
  }
  // Only faces that are picked touch anything, and a face is taken at its first vertex that is touched.
  const { cornerVertex, faceStart } = mesh;
  for (let f = 0; f < flags.length; f++)
    if (flags[f]) for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) touched[cornerVertex[c]!] = 1;
  for (let f = 0; f < flags.length; f++) {
    if (flags[f]) continue;
    for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++)
      if (touched[cornerVertex[c]!]) {
        out[f] = 1;
        break;
      }
  }
  return out;
}

function grownShells(mesh: PolyMesh, layout: Layout, flags: Uint8Array): Uint8Array {
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const picked = new Uint8Array(s.shellCount);
  const next = new Uint8Array(s.shellCount);
  flags.forEach((on, face) => {
    const shell = on ? shellNamed(s, face) : null;
    if (shell !== null) picked[shell] = next[shell] = 1;
  });
  for (let e = 0; e < t.edgeCount; e++) {
    const first = t.edgeCornerStart[e]!;
    const last = t.edgeCornerStart[e + 1]!;
    let any = false;
    for (let k = first; k < last; k++) any ||= picked[s.faceShell[t.cornerFace[t.edgeCorners[k]!]!]!] === 1;
    if (any) for (let k = first; k < last; k++) next[s.faceShell[t.cornerFace[t.edgeCorners[k]!]!]!] = 1;
  }
  const out = new Uint8Array(flags.length);
  for (let k = 0 as Shell; k < s.shellCount; k++) if (next[k]) out[shellName(s, k)] = 1;
  return out;
}

function grownPoints(mesh: PolyMesh, layout: Layout, flags: Uint8Array): Uint8Array {
  const { cornerNext } = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const names = pointNames(s);
  const out = flags.slice();
  for (let c = 0; c < flags.length; c++) {
    const a = names[s.cornerWedge[c]!]!;
    const b = names[s.cornerWedge[cornerNext[c]!]!]!;
    if (flags[a]) out[b] = 1;
    if (flags[b]) out[a] = 1;
  }
  return out;
}

/** Elements that are flagged and have none beside them that is not. */
export function shrunk(mesh: PolyMesh, layout: Layout, kind: SelectionKind, flags: Uint8Array): Uint8Array {
  const isName = namesAmong(mesh, layout, kind);
  const others = flags.map((on, i) => (on || !isName(i) ? 0 : 1));
  const lost = grown(mesh, layout, kind, others);
  return flags.map((on, i) => (on && !lost[i] ? 1 : 0));
}

/** Which numbers stand for an element: of faces only those that name a shell do, of corners those that name a point. */
function namesAmong(mesh: PolyMesh, layout: Layout, kind: SelectionKind): (i: number) => boolean {
  if (kind !== "shells" && kind !== "points") return () => true;
  const s = structureOf(mesh, layout);
  if (kind === "shells") return (i) => shellNamed(s, i) !== null;
  const names = pointNames(s);
  return (i) => names[s.cornerWedge[i]!] === i;
}

/**
 * Faces that can be reached from flagged ones along edges with two faces.
 *
 * @param passes whether it goes on across an edge; across all when not given
 */
export function connectedFaces(
  mesh: PolyMesh,
  flags: Uint8Array,
  passes: (edge: number) => boolean = () => true,
): Uint8Array {
  const t = topologyOf(mesh);
  const out = flags.slice();
  const stack: number[] = [];
  flags.forEach((on, f) => {
    if (on) stack.push(f);
  });
  for (let f = stack.pop(); f !== undefined; f = stack.pop())
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const e = t.cornerEdge[c]!;
      if (edgeFaceCount(t, e) !== 2 || !passes(e)) continue;
      for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
        const other = t.cornerFace[t.edgeCorners[k]!]!;
        if (out[other]) continue;
        out[other] = 1;
        stack.push(other);
      }
    }
  return out;
}

/** The places of all flags. */
export function placesOf(flags: Uint8Array): Uint32Array {
  let count = 0;
  for (const on of flags) count += on;
  const out = new Uint32Array(count);
  let at = 0;
  flags.forEach((on, i) => {
    if (on) out[at++] = i;
  });
  return out;
}

/** Flags at the given places. */
export function flagsAt(places: Uint32Array, count: number): Uint8Array {
  const out = new Uint8Array(count);
  for (const i of places) out[i] = 1;
  return out;
}
