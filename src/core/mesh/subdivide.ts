import type { Edge } from "./indices";
import { cornerCount, faceCount, NONE, type PolyMesh, vertexCount } from "./poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf } from "./topology";

/** What becomes of borders: they stay as they are, are rounded but for their corners, or are rounded whole. */
export const BORDER_RULES = ["sharp", "corners", "round"] as const;
export type BorderRule = (typeof BORDER_RULES)[number];

/** Catmull-Clark makes four-cornered faces of any; Loop makes four triangles of each, and takes triangles only. */
export const SCHEMES = ["catmull-clark", "loop"] as const;
export type Scheme = (typeof SCHEMES)[number];

/** Faces of a mesh as points that are smoothed: its vertices in space, or the points of a layout. */
export interface Patch {
  readonly mesh: PolyMesh;
  readonly points: number;
  /** So many numbers a point. */
  readonly values: Float64Array;
  readonly dimensions: 2 | 3;
}

/**
 * One step of smoothing: old points moved, then one point for each edge, then, by Catmull and Clark, one for each face.
 * Linear time.
 *
 * @returns values of (points + edges + faces) points; those of faces are none by Loop
 * Source: Catmull, Clark, Recursively generated B-spline surfaces on arbitrary topological meshes (1978); Loop, Smooth
 * subdivision surfaces based on triangles (1987); borders of both as the cubic B-spline along them.
 */
export function smoothedPoints(patch: Patch, rule: BorderRule, scheme: Scheme = "catmull-clark"): Float64Array {
  const { mesh, points, values, dimensions: d } = patch;
  const t = topologyOf(mesh);
  const out = new Float64Array(d * (points + t.edgeCount + (scheme === "loop" ? 0 : faceCount(mesh))));
  const edges = out.subarray(d * points, d * (points + t.edgeCount));
  const middles = out.subarray(d * (points + t.edgeCount));
  if (scheme === "loop") loopEdges(patch, t, edges);
  else {
    middleOfFaces(patch, middles);
    edgesBetween(patch, t, middles, edges);
  }
  const sums = sumsAbout(mesh, t, points, values, middles, d);
  for (let p = 0; p < points; p++) placePoint(p, sums, values, out, d, rule, scheme);
  return out;
}

function middleOfFaces({ mesh, values, dimensions: d }: Patch, out: Float64Array): void {
  for (let f = 0; f < faceCount(mesh); f++) {
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < to; c++)
      for (let k = 0; k < d; k++) out[d * f + k]! += values[d * mesh.cornerVertex[c]! + k]! / (to - from);
  }
}

/** Points of edges: in the middle of their ends and the middles of both faces, on a border of the ends alone. */
function edgesBetween({ values, dimensions: d }: Patch, t: Topology, middles: Float64Array, out: Float64Array): void {
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
    const inner = edgeFaceCount(t, e) === 2;
    const [f, g] = inner ? [0, 1].map((side) => t.cornerFace[edgeCorner(t, e, side)]!) : [];
    for (let k = 0; k < d; k++) {
      const ends = values[d * a + k]! + values[d * b + k]!;
      out[d * e + k] = inner ? (ends + middles[d * f! + k]! + middles[d * g! + k]!) / 4 : ends / 2;
    }
  }
}

/** Points of the edges of triangles: three eighths of their ends, one eighth of what lies across; on a border as above. */
function loopEdges({ mesh, values, dimensions: d }: Patch, t: Topology, out: Float64Array): void {
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
    const inner = edgeFaceCount(t, e) === 2;
    const across = (side: number) => mesh.cornerVertex[t.cornerNext[t.cornerNext[edgeCorner(t, e, side)]!]!]!;
    const [p, q] = inner ? [across(0), across(1)] : [a, b];
    for (let k = 0; k < d; k++)
      out[d * e + k] = inner
        ? (3 * (values[d * a + k]! + values[d * b + k]!) + values[d * p + k]! + values[d * q + k]!) / 8
        : (values[d * a + k]! + values[d * b + k]!) / 2;
  }
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
    for (let k = 0; middles.length && k < d; k++) sums.faces[d * p + k]! += middles[d * t.cornerFace[c]! + k]!;
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

function placePoint(
  p: number,
  s: Sums,
  values: Float64Array,
  out: Float64Array,
  d: number,
  rule: BorderRule,
  scheme: Scheme,
): void {
  const [n, border] = [s.edgeCount[p]!, s.borderCount[p]!];
  // Where borders meet, and at points without faces, there is nothing to be smoothed along.
  const isCorner = border !== 2 || (rule === "corners" && s.faceCount[p] === 1);
  const beta = n === 3 ? 3 / 16 : 3 / (8 * n);
  for (let k = d * p; k < d * (p + 1); k++) {
    const own = values[k]!;
    if (border || !n) out[k] = rule === "sharp" || isCorner ? own : (s.borderEnds[k]! + 6 * own) / 8;
    else if (scheme === "loop") out[k] = (1 - n * beta) * own + beta * s.ends[k]!;
    else {
      const [faces, middles] = [s.faces[k]! / s.faceCount[p]!, (s.ends[k]! / n + own) / 2];
      out[k] = (faces + 2 * middles + (n - 3) * own) / n;
    }
  }
}

/** The faces that come of one step of smoothing, and what they come of. */
export interface Refined {
  /** Corners of each. */
  readonly size: 3 | 4;
  /** The point of every corner, by the numbers of `smoothedPoints`. */
  readonly points: Uint32Array;
  /** The face that each comes of. */
  readonly face: Uint32Array;
  /** For every old corner the new ones at which the nearer halves of its edge, and of the edge before it, begin. */
  readonly halves: Uint32Array;
}

/** @param points how many points the mesh has: its vertices, or those of a layout */
export function refined(mesh: PolyMesh, points: number, scheme: Scheme): Refined {
  const t = topologyOf(mesh);
  const isLoop = scheme === "loop";
  const size = isLoop ? 3 : 4;
  const count = isLoop ? 4 * faceCount(mesh) : cornerCount(mesh);
  const out = {
    size,
    points: new Uint32Array(size * count),
    face: new Uint32Array(count),
    halves: new Uint32Array(2 * cornerCount(mesh)),
  } as const;
  const edge = (c: number) => points + t.cornerEdge[c]!;
  for (let f = 0; f < faceCount(mesh); f++) {
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < to; c++) {
      const before = c === from ? to - 1 : c - 1;
      const own = isLoop ? 4 * f + c - from : c;
      const middle = isLoop ? [] : [points + t.edgeCount + f];
      out.points.set([mesh.cornerVertex[c]!, edge(c), ...middle, edge(before)], size * own);
      out.face[own] = f;
      out.halves[2 * c] = size * own;
      out.halves[2 * c + 1] = size * own + size - 1;
    }
    if (!isLoop) continue;
    out.points.set([edge(from), edge(from + 1), edge(from + 2)], 3 * (4 * f + 3));
    out.face[4 * f + 3] = f;
  }
  return out;
}

/** A mesh smoothed by one step; borders keep their corners. @param own as of `refined` for its vertices */
export function subdividedMesh(
  mesh: PolyMesh,
  scheme: Scheme,
  own = refined(mesh, vertexCount(mesh), scheme),
): PolyMesh {
  const points = vertexCount(mesh);
  const positions = smoothedPoints({ mesh, points, values: mesh.positions, dimensions: 3 }, "corners", scheme);
  const pick = (list: Uint32Array) => Uint32Array.from(own.face, (f) => list[f]!);
  const vertex = new Uint32Array(positions.length / 3).fill(NONE);
  vertex.set(mesh.origin.vertex.subarray(0, points));
  return {
    positions,
    faceStart: Uint32Array.from({ length: own.face.length + 1 }, (_, f) => own.size * f),
    cornerVertex: own.points,
    faceMaterial: pick(mesh.faceMaterial),
    faceGroup: pick(mesh.faceGroup),
    groups: mesh.groups,
    origin: { vertex, face: pick(mesh.origin.face) },
  };
}
