import { type Asset, type Part, type PartId, type ShapeId, shapesOf } from "../layout/asset";
import type { Corner, Edge } from "../mesh/indices";
import { faceCount, type PolyMesh, repeatsVertex } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf, windsAlike } from "../mesh/topology";
import { determinant, isIdentity, type Mat4 } from "../mesh/transform";
import { trianglesOf } from "../mesh/triangulate";
import { writeVectorArea } from "../mesh/vector-area";
import { weldExact } from "../mesh/weld-exact";

/** Kinds of fault that make a mesh unsuitable for UV work, and what of it they are found on. */
export const FAULTS = {
  manyFaced: { on: "edges", title: "Edges with three or more faces" },
  winding: { on: "edges", title: "Edges whose faces are wound against each other" },
  cracks: { on: "edges", title: "Inner gaps: open edges lying on one another" },
  doubled: { on: "vertices", title: "Doubled vertices" },
  stray: { on: "vertices", title: "Stray vertices that no face uses" },
  flat: { on: "faces", title: "Faces without area or with a vertex twice" },
  concave: { on: "faces", title: "Concave faces" },
  polygons: { on: "faces", title: "Faces of more than four corners" },
  needles: { on: "faces", title: "Needle faces" },
  borders: { on: "edges", title: "Open borders" },
  turned: { on: "parts", title: "Parts with a rotation that is not applied" },
  uneven: { on: "parts", title: "Parts with uneven scale" },
  mirrored: { on: "parts", title: "Parts with a mirrored scale" },
} as const;
export type FaultKind = keyof typeof FAULTS;

/** Faults worth knowing but no hindrance: a border or a pentagon is often meant. */
export const HARMLESS: readonly FaultKind[] = ["borders", "polygons", "turned"];

/** Culprits by kind and shape; for faults of transforms by part, with an empty list. */
export type Faults = ReadonlyMap<FaultKind, ReadonlyMap<ShapeId | PartId, Uint32Array>>;

/** Everything about the meshes of an asset that hinders UV work, in time linear in their corners. */
export function findFaults(asset: Asset, only?: ReadonlySet<ShapeId>): Faults {
  const out = new Map<FaultKind, Map<string, Uint32Array>>();
  const note = (kind: FaultKind, of: ShapeId | PartId, items: readonly number[], always = false) => {
    if (!items.length && !always) return;
    const map = out.get(kind) ?? new Map<string, Uint32Array>();
    map.set(of, Uint32Array.from(items));
    out.set(kind, map);
  };
  for (const shape of shapesOf(asset)) {
    if (only && !only.has(shape.id)) continue;
    const edges = edgeFaults(shape.mesh);
    const faces = faceFaults(shape.mesh);
    for (const kind of ["manyFaced", "winding", "borders", "cracks"] as const) note(kind, shape.id, edges[kind]);
    for (const kind of ["flat", "polygons", "concave", "needles"] as const) note(kind, shape.id, faces[kind]);
    note("stray", shape.id, strayVertices(shape.mesh));
    note("doubled", shape.id, doubledVertices(shape.mesh));
  }
  for (const part of asset.parts) {
    if (only && !only.has(part.shape)) continue;
    for (const kind of transformFaults(part)) note(kind, part.id, [], true);
  }
  return out;
}

function edgeFaults(mesh: PolyMesh) {
  const t = topologyOf(mesh);
  const manyFaced: number[] = [];
  const winding: number[] = [];
  const borders: number[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const n = edgeFaceCount(t, e);
    if (n > 2) manyFaced.push(e);
    else if (n === 1) {
      borders.push(e);
    } else if (!alikeWound(mesh, t, edgeCorner(t, e), edgeCorner(t, e, 1))) winding.push(e);
  }
  return { manyFaced, winding, borders, cracks: doubledEdges(mesh, borders) };
}

/** Of some edges, those whose ends lie where another's do. */
function doubledEdges(mesh: PolyMesh, edges: readonly number[]): number[] {
  const { edgeVertices } = topologyOf(mesh);
  const { of } = weldExact(mesh.positions);
  // One number for the pair of places: below 2^53 for any mesh that fits in memory.
  const places = Float64Array.from(edges, (e) => {
    const a = of[edgeVertices[2 * e]!]!;
    const b = of[edgeVertices[2 * e + 1]!]!;
    return Math.min(a, b) * of.length + Math.max(a, b);
  });
  const sorted = places.slice().sort();
  const doubled = new Set<number>();
  for (let i = 1; i < sorted.length; i++) if (sorted[i] === sorted[i - 1]) doubled.add(sorted[i]!);
  return edges.filter((_, i) => doubled.has(places[i]!));
}

const alikeWound = (mesh: PolyMesh, t: Topology, a: Corner, b: Corner): boolean =>
  t.edgeVertices[2 * t.cornerEdge[a]!] === t.edgeVertices[2 * t.cornerEdge[a]! + 1] || windsAlike(mesh, t, a, b);

/** Below this share of the square of its longest side, a face's doubled area counts as none. */
const NO_AREA = 1e-9;
/** A triangle whose height is below this share of its longest side is a needle. */
const NEEDLE = 0.01;

function faceFaults(mesh: PolyMesh) {
  const t = trianglesOf(mesh);
  const { cornerVertex } = mesh;
  const flat: number[] = [];
  const polygons: number[] = [];
  const concave: number[] = [];
  const needles: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    const from = mesh.faceStart[f]!;
    const to = mesh.faceStart[f + 1]!;
    const longest = longestSide(mesh, from, to);
    writeVectorArea(mesh.positions, cornerVertex, from, to, doubledArea);
    const area = Math.sqrt(
      doubledArea[0]! * doubledArea[0]! + doubledArea[1]! * doubledArea[1]! + doubledArea[2]! * doubledArea[2]!,
    );
    if (repeatsVertex(mesh, f) || area <= NO_AREA * longest * longest) {
      flat.push(f);
      continue;
    }
    if (to - from > 4) polygons.push(f);
    if (to - from > 3 && isConcave(mesh, from, to, area)) concave.push(f);
    for (let k = t.faceStart[f]!; k < t.faceStart[f + 1]!; k++)
      if (isNeedle(mesh, t.corners, 3 * k)) {
        needles.push(f);
        break;
      }
  }
  return { flat, polygons, concave, needles };
}

function distance(p: Float64Array, v: number, w: number): number {
  const x = p[3 * v]! - p[3 * w]!;
  const y = p[3 * v + 1]! - p[3 * w + 1]!;
  const z = p[3 * v + 2]! - p[3 * w + 2]!;
  return Math.sqrt(x * x + y * y + z * z);
}

function longestSide({ positions, cornerVertex }: PolyMesh, from: number, to: number): number {
  let longest = 0;
  for (let c = from; c < to; c++)
    longest = Math.max(longest, distance(positions, cornerVertex[c]!, cornerVertex[c + 1 < to ? c + 1 : from]!));
  return longest;
}

/** Scratch: doubled area of the vertices last looked at, as a vector along their normal. */
const doubledArea = new Float64Array(3);

/** Scratch: the vertices of a triangle. */
const triangle = new Uint32Array(3);

function isNeedle({ positions: p, cornerVertex }: PolyMesh, corners: Uint32Array, at: number): boolean {
  for (let i = 0; i < 3; i++) triangle[i] = cornerVertex[corners[at + i]!]!;
  const longest = Math.max(
    distance(p, triangle[0]!, triangle[1]!),
    distance(p, triangle[1]!, triangle[2]!),
    distance(p, triangle[2]!, triangle[0]!),
  );
  writeVectorArea(p, triangle, 0, 3, doubledArea);
  const square =
    doubledArea[0]! * doubledArea[0]! + doubledArea[1]! * doubledArea[1]! + doubledArea[2]! * doubledArea[2]!;
  return Math.sqrt(square) < NEEDLE * longest * longest;
}

/** Whether a corner turns against the face's normal by more than what rounding does. @param area doubled area of the face */
function isConcave({ positions: p, cornerVertex }: PolyMesh, from: number, to: number, area: number): boolean {
  writeVectorArea(p, cornerVertex, from, to, doubledArea);
  const x = doubledArea[0]!;
  const y = doubledArea[1]!;
  const z = doubledArea[2]!;
  for (let c = from; c < to; c++) {
    triangle[0] = cornerVertex[c > from ? c - 1 : to - 1]!;
    triangle[1] = cornerVertex[c]!;
    triangle[2] = cornerVertex[c + 1 < to ? c + 1 : from]!;
    writeVectorArea(p, triangle, 0, 3, doubledArea);
    if (doubledArea[0]! * x + doubledArea[1]! * y + doubledArea[2]! * z < -1e-6 * area * area) return true;
  }
  return false;
}

function strayVertices(mesh: PolyMesh): number[] {
  const used = new Uint8Array(mesh.positions.length / 3);
  for (const v of mesh.cornerVertex) used[v] = 1;
  const out: number[] = [];
  used.forEach((u, v) => {
    if (!u) out.push(v);
  });
  return out;
}

/** Vertices that share their exact position with another that some face uses. */
function doubledVertices(mesh: PolyMesh): number[] {
  const { of, count } = weldExact(mesh.positions);
  if (count === of.length) return [];
  const used = new Uint8Array(of.length);
  for (const v of mesh.cornerVertex) used[v] = 1;
  const at = new Uint32Array(count);
  for (let v = 0; v < of.length; v++) if (used[v]) at[of[v]!]!++;
  const out: number[] = [];
  for (let v = 0; v < of.length; v++) if (used[v] && at[of[v]!]! > 1) out.push(v);
  return out;
}

function transformFaults({ transform }: Part): FaultKind[] {
  if (isIdentity(transform)) return [];
  const out: FaultKind[] = [];
  if (determinant(transform) < 0) out.push("mirrored");
  const s = columnLengths(transform);
  if (Math.max(...s) - Math.min(...s) > 1e-4 * Math.max(...s)) out.push("uneven");
  const straight = [0, 1, 2].every((c) => Math.abs(Math.abs(transform[5 * c]!) - s[c]!) <= 1e-6 * s[c]!);
  if (!straight) out.push("turned");
  return out;
}

const columnLengths = (m: Mat4): number[] => [0, 4, 8].map((c) => Math.hypot(m[c]!, m[c + 1]!, m[c + 2]!));
