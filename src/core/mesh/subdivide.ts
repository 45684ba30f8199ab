import type { Edge } from "./indices";
import { cornerCount, faceCount, NONE, type PolyMesh, vertexCount } from "./poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf } from "./topology";

/** What becomes of borders: they stay as they are, are rounded but for their corners, or are rounded whole. */
export const BORDER_RULES = ["sharp", "corners", "round"] as const;
export type BorderRule = (typeof BORDER_RULES)[number];

/** Faces of a mesh as points that are smoothed: its vertices in space, or the points of a layout. */
export interface Patch {
  readonly mesh: PolyMesh;
  readonly points: number;
  /** So many numbers a point. */
  readonly values: Float64Array;
  readonly dimensions: 2 | 3;
}

/**
 * One step of smoothing: old points moved, then one point for each edge, then one for each face. Linear time.
 *
 * @returns values of (points + edges + faces) points
 * Source: Catmull, Clark, Recursively generated B-spline surfaces on arbitrary topological meshes (1978); borders as the
 * cubic B-spline along them.
 */
export function smoothedPoints({ mesh, points, values, dimensions: d }: Patch, rule: BorderRule): Float64Array {
  const t = topologyOf(mesh);
  const faces = faceCount(mesh);
  const out = new Float64Array(d * (points + t.edgeCount + faces));
  const edgesAt = d * points;
  const facesAt = edgesAt + d * t.edgeCount;
  for (let f = 0; f < faces; f++) {
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < to; c++)
      for (let k = 0; k < d; k++) out[facesAt + d * f + k]! += values[d * mesh.cornerVertex[c]! + k]! / (to - from);
  }
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
    const inner = edgeFaceCount(t, e) === 2;
    const [f, g] = inner ? [0, 1].map((side) => t.cornerFace[edgeCorner(t, e, side)]!) : [];
    for (let k = 0; k < d; k++) {
      const ends = values[d * a + k]! + values[d * b + k]!;
      out[edgesAt + d * e + k] = inner
        ? (ends + out[facesAt + d * f! + k]! + out[facesAt + d * g! + k]!) / 4
        : ends / 2;
    }
  }
  const sums = sumsAbout(mesh, t, points, values, out.subarray(facesAt), d);
  for (let p = 0; p < points; p++) placePoint(p, sums, values, out, d, rule);
  return out;
}

/** What lies about every point, summed up. */
interface Sums {
  /** Of the middles of faces, and how many there are. */
  readonly faces: Float64Array;
  readonly faceCount: Uint32Array;
  /** Of the other ends of edges, and how many there are. */
  readonly ends: Float64Array;
  readonly edgeCount: Uint32Array;
  /** The same of border edges alone. */
  readonly borderEnds: Float64Array;
  readonly borderCount: Uint32Array;
}

function sumsAbout(
  mesh: PolyMesh,
  t: Topology,
  points: number,
  values: Float64Array,
  middles: Float64Array,
  d: number,
): Sums {
  const sums: Sums = {
    faces: new Float64Array(d * points),
    faceCount: new Uint32Array(points),
    ends: new Float64Array(d * points),
    edgeCount: new Uint32Array(points),
    borderEnds: new Float64Array(d * points),
    borderCount: new Uint32Array(points),
  };
  for (let c = 0; c < mesh.cornerVertex.length; c++) {
    const p = mesh.cornerVertex[c]!;
    sums.faceCount[p]!++;
    for (let k = 0; k < d; k++) sums.faces[d * p + k]! += middles[d * t.cornerFace[c]! + k]!;
  }
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const isBorder = edgeFaceCount(t, e) !== 2;
    for (const side of [0, 1]) {
      const [p, q] = [t.edgeVertices[2 * e + side]!, t.edgeVertices[2 * e + 1 - side]!];
      sums.edgeCount[p]!++;
      if (isBorder) sums.borderCount[p]!++;
      for (let k = 0; k < d; k++) {
        sums.ends[d * p + k]! += values[d * q + k]!;
        if (isBorder) sums.borderEnds[d * p + k]! += values[d * q + k]!;
      }
    }
  }
  return sums;
}

function placePoint(p: number, s: Sums, values: Float64Array, out: Float64Array, d: number, rule: BorderRule): void {
  const [n, border] = [s.edgeCount[p]!, s.borderCount[p]!];
  // Where borders meet, and at points without faces, there is nothing to be smoothed along.
  const isCorner = border !== 2 || (rule === "corners" && s.faceCount[p] === 1);
  for (let k = d * p; k < d * (p + 1); k++) {
    const own = values[k]!;
    if (!border && n) {
      const [faces, middles] = [s.faces[k]! / s.faceCount[p]!, (s.ends[k]! / n + own) / 2];
      out[k] = (faces + 2 * middles + (n - 3) * own) / n;
    } else out[k] = rule === "sharp" || isCorner ? own : (s.borderEnds[k]! + 6 * own) / 8;
  }
}

/** The points of the four corners of the face that comes of each corner, by the numbers of `smoothedPoints`. */
export function quadPoints(mesh: PolyMesh, points: number): Uint32Array {
  const t = topologyOf(mesh);
  const out = new Uint32Array(4 * cornerCount(mesh));
  for (let f = 0; f < faceCount(mesh); f++) {
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < to; c++) {
      const before = c === from ? to - 1 : c - 1;
      const quad = [
        mesh.cornerVertex[c]!,
        points + t.cornerEdge[c]!,
        points + t.edgeCount + f,
        points + t.cornerEdge[before]!,
      ];
      out.set(quad, 4 * c);
    }
  }
  return out;
}

/** A mesh smoothed by one step: its face number c is that at corner c of the mesh it comes of. Borders keep their corners. */
export function subdividedMesh(mesh: PolyMesh): PolyMesh {
  const points = vertexCount(mesh);
  const { cornerFace } = topologyOf(mesh);
  const count = cornerCount(mesh);
  const positions = smoothedPoints({ mesh, points, values: mesh.positions, dimensions: 3 }, "corners");
  const pick = (list: Uint32Array) => Uint32Array.from(cornerFace, (f) => list[f]!);
  const vertex = new Uint32Array(positions.length / 3).fill(NONE);
  vertex.set(mesh.origin.vertex.subarray(0, points));
  return {
    positions,
    faceStart: Uint32Array.from({ length: count + 1 }, (_, f) => 4 * f),
    cornerVertex: quadPoints(mesh, points),
    faceMaterial: pick(mesh.faceMaterial),
    faceGroup: pick(mesh.faceGroup),
    groups: mesh.groups,
    origin: { vertex, face: pick(mesh.origin.face) },
  };
}
