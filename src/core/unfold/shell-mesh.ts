import { facesOfShell, type Layout, structureOf } from "../layout/layout";
import type { Edge, Shell } from "../mesh/indices";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology } from "../mesh/topology";
import { trianglesOf } from "../mesh/triangulate";
import { iota } from "../numeric/iota";
import { length3 } from "../numeric/length";
import { cornersAbout } from "./shell-pattern";

/** The triangles of one shell over its own points, one point per wedge: what unfolding works on. */
export interface ShellMesh {
  /** Wedge of every point. */
  readonly wedges: Uint32Array;
  /** 3 points per triangle, wound as the faces are. */
  readonly triangles: Uint32Array;
  /** 3 per point, world space. */
  readonly positions: Float64Array;
  /** What the stretch of each triangle counts, where not all are alike; 1 for as much as its area. */
  readonly weights?: Float64Array | undefined;
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

const forms = new WeakMap<Uint32Array, ShellForm>();

/** What kind of surface a shell is: V - E + F = 2 - 2 genus - loops. In linear time, once for each list of triangles. */
export function formOf({ triangles, positions }: Pick<ShellMesh, "triangles" | "positions">): ShellForm {
  const form = forms.get(triangles) ?? formFrom(triangles, positions.length / 3);
  forms.set(triangles, form);
  return form;
}

function formFrom(triangles: Uint32Array, points: number): ShellForm {
  const { start, corners } = cornersAbout(triangles, points);
  const target = new Int32Array(triangles.length);
  for (let c = 0; c < target.length; c++) target[c] = triangles[c % 3 === 2 ? c - 2 : c + 1]!;
  const goes = (from: number, to: number): boolean => {
    for (let k = start[from]!; k < start[from + 1]!; k++) if (target[corners[k]!] === to) return true;
    return false;
  };
  const next = new Int32Array(points).fill(-1);
  const stamp = new Int32Array(points).fill(-1);
  let open = 0;
  let faults = 0;
  for (let a = 0; a < points; a++)
    for (let k = start[a]!; k < start[a + 1]!; k++) {
      const b = target[corners[k]!]!;
      // The same way twice: two faces wind against each other there, or more than two meet.
      if (stamp[b] === a) faults++;
      stamp[b] = a;
      if (goes(b, a)) continue;
      open++;
      next[a] = b;
    }
  const loops = collectLoops(next);
  const euler = points - (triangles.length + open) / 2 + triangles.length / 3;
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

/** The area of a shell in space. */
export const shellArea = (shell: Pick<ShellMesh, "triangles" | "positions">): number =>
  triangleAreas(shell).reduce((sum, area) => sum + area, 0);

/** The area in space of every triangle. */
export function triangleAreas({ triangles, positions: p }: Pick<ShellMesh, "triangles" | "positions">): Float64Array {
  const out = new Float64Array(triangles.length / 3);
  for (let t = 0; t < out.length; t++) {
    const a = 3 * triangles[3 * t]!;
    const b = 3 * triangles[3 * t + 1]!;
    const c = 3 * triangles[3 * t + 2]!;
    const ux = p[b]! - p[a]!;
    const uy = p[b + 1]! - p[a + 1]!;
    const uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!;
    const vy = p[c + 1]! - p[a + 1]!;
    const vz = p[c + 2]! - p[a + 2]!;
    out[t] = length3(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
  }
  return out;
}

/** The points of a shell as they lie in a layout, 2 numbers each. */
export function pointsOf({ wedges }: Pick<ShellMesh, "wedges">, { uv }: Layout): Float64Array {
  const out = new Float64Array(2 * wedges.length);
  for (let i = 0; i < wedges.length; i++) {
    out[2 * i] = uv[2 * wedges[i]!]!;
    out[2 * i + 1] = uv[2 * wedges[i]! + 1]!;
  }
  return out;
}

/** Lengths in space of a border's edges, from each point of the loop to the next. */
export function borderLengths({ positions }: ShellMesh, loop: ArrayLike<number>): Float64Array {
  const out = new Float64Array(loop.length);
  for (let i = 0; i < loop.length; i++) {
    const [a, b] = [3 * loop[i]!, 3 * loop[(i + 1) % loop.length]!];
    out[i] = length3(
      positions[b]! - positions[a]!,
      positions[b + 1]! - positions[a + 1]!,
      positions[b + 2]! - positions[a + 2]!,
    );
  }
  return out;
}
