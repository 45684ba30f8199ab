import { facesOfShell, type Layout, structureOf } from "../layout/layout";
import type { Edge, Shell } from "../mesh/indices";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf, windsAlike } from "../mesh/topology";
import { trianglesOf } from "../mesh/triangulate";
import { iota } from "../numeric/iota";

/** The triangles of one shell over its own points, one point per wedge: what unfolding works on. */
export interface ShellMesh {
  /** Wedge of every point. */
  readonly wedges: Uint32Array;
  /** 3 points per triangle, wound as the faces are. */
  readonly triangles: Uint32Array;
  /** 3 per point, world space. */
  readonly positions: Float64Array;
}

/**
 * @param world 3 per vertex of the mesh, world space
 * @param scratch one Int32Array of the wedge count filled with -1, handed back as it came; made when not given
 */
export function shellMesh(
  mesh: PolyMesh,
  world: Float64Array,
  set: Pick<Layout, "cut" | "mapped">,
  shell: Shell,
  scratch?: Int32Array,
): ShellMesh {
  const s = structureOf(mesh, set);
  const t = trianglesOf(mesh);
  const faces = facesOfShell(s, shell);
  const local = scratch ?? new Int32Array(s.wedgeCount).fill(-1);
  let count = 0;
  for (const f of faces) count += t.faceStart[f + 1]! - t.faceStart[f]!;
  const triangles = new Uint32Array(3 * count);
  const wedges: number[] = [];
  let at = 0;
  for (const f of faces) {
    for (let k = 3 * t.faceStart[f]!; k < 3 * t.faceStart[f + 1]!; k++) {
      const w = s.cornerWedge[t.corners[k]!]!;
      if (local[w] === -1) {
        local[w] = wedges.length;
        wedges.push(w);
      }
      triangles[at++] = local[w]!;
    }
  }
  const positions = new Float64Array(3 * wedges.length);
  for (let i = 0; i < wedges.length; i++) {
    const v = 3 * s.wedgeVertex[wedges[i]!]!;
    positions[3 * i] = world[v]!;
    positions[3 * i + 1] = world[v + 1]!;
    positions[3 * i + 2] = world[v + 2]!;
    local[wedges[i]!] = -1;
  }
  return { wedges: Uint32Array.from(wedges), triangles, positions };
}

/** A shell's triangles as a mesh of their own, for connectivity. A cut that separates nothing is whole again here. */
export function asMesh(shell: Pick<ShellMesh, "positions" | "triangles">): PolyMesh {
  const faces = shell.triangles.length / 3;
  const none = new Uint32Array(faces).fill(NONE);
  return {
    positions: shell.positions,
    faceStart: iota(faces + 1, 3),
    cornerVertex: shell.triangles,
    faceMaterial: none,
    faceGroup: none,
    groups: [],
    origin: { vertex: new Uint32Array(0), face: new Uint32Array(0) },
  };
}

export interface ShellForm {
  /** Border loops as lists of points, in the direction of the faces; the longest first. */
  readonly loops: number[][];
  /** Handles: 0 for a sphere with holes. */
  readonly genus: number;
  /** Edges at which two faces wind against each other, or more than two faces meet. */
  readonly faults: number;
  readonly isDisk: boolean;
}

/** What kind of surface a shell is: V - E + F = 2 - 2 genus - loops. */
export function formOf(shell: ShellMesh): ShellForm {
  const mesh = asMesh(shell);
  const t = topologyOf(mesh);
  let faults = 0;
  const next = new Int32Array(shell.wedges.length).fill(-1);
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const count = edgeFaceCount(t, e);
    const c = edgeCorner(t, e);
    if (count === 1) next[mesh.cornerVertex[c]!] = mesh.cornerVertex[t.cornerNext[c]!]!;
    else if (count > 2 || !windsAlike(mesh, t, c, edgeCorner(t, e, 1))) faults++;
  }
  const loops = collectLoops(next);
  const euler = shell.wedges.length - t.edgeCount + shell.triangles.length / 3;
  const genus = Math.max(0, Math.round((2 - loops.length - euler) / 2));
  return { loops, genus, faults, isDisk: loops.length === 1 && euler === 1 && faults === 0 };
}

function collectLoops(next: Int32Array): number[][] {
  const loops: number[][] = [];
  const done = new Uint8Array(next.length);
  for (let v = 0; v < next.length; v++) {
    if (next[v] === -1 || done[v]) continue;
    const loop: number[] = [];
    for (let p = v; p !== -1 && !done[p]; p = next[p]!) {
      done[p] = 1;
      loop.push(p);
    }
    loops.push(loop);
  }
  return loops.sort((a, b) => b.length - a.length);
}

/** Corners of border edges: edges with one triangle. */
export function borderCorners(t: Topology): number[] {
  const corners: number[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) if (edgeFaceCount(t, e) === 1) corners.push(edgeCorner(t, e));
  return corners;
}
