import { type Asset, type Part, type PartId, type ShapeId, shapesOf } from "../layout/asset";
import type { Corner, Edge } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf, windsAlike } from "../mesh/topology";
import { determinant, isIdentity, type Mat4 } from "../mesh/transform";
import { trianglesOf } from "../mesh/triangulate";
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
  const { of } = weldExact(mesh.positions);
  const manyFaced: number[] = [];
  const winding: number[] = [];
  const borders: number[] = [];
  const byPlace = new Map<number, number[]>();
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const n = edgeFaceCount(t, e);
    if (n > 2) manyFaced.push(e);
    else if (n === 1) {
      borders.push(e);
      const [a, b] = [of[t.edgeVertices[2 * e]!]!, of[t.edgeVertices[2 * e + 1]!]!];
      const key = Math.min(a, b) * of.length + Math.max(a, b);
      const list = byPlace.get(key);
      if (list) list.push(e);
      else byPlace.set(key, [e]);
    } else {
      const first = edgeCorner(t, e);
      if (!alikeWound(mesh, t, first, edgeCorner(t, e, 1))) winding.push(e);
    }
  }
  const cracks = [...byPlace.values()].filter((l) => l.length > 1).flat();
  return { manyFaced, winding, borders, cracks: cracks.sort((a, b) => a - b) };
}

const alikeWound = (mesh: PolyMesh, t: Topology, a: Corner, b: Corner): boolean =>
  t.edgeVertices[2 * t.cornerEdge[a]!] === t.edgeVertices[2 * t.cornerEdge[a]! + 1] || windsAlike(mesh, t, a, b);

/** Below this share of the square of its longest side, a face's doubled area counts as none. */
const NO_AREA = 1e-9;
/** A triangle whose height is below this share of its longest side is a needle. */
const NEEDLE = 0.01;

function faceFaults(mesh: PolyMesh) {
  const t = trianglesOf(mesh);
  const p = mesh.positions;
  const flat: number[] = [];
  const polygons: number[] = [];
  const concave: number[] = [];
  const needles: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    const list = mesh.cornerVertex.subarray(from, to);
    const { area, longest } = faceMeasure(p, list);
    if (new Set(list).size < list.length || area <= NO_AREA * longest * longest) {
      flat.push(f);
      continue;
    }
    if (to - from > 4) polygons.push(f);
    if (to - from > 3 && isConcave(p, list)) concave.push(f);
    for (let k = t.faceStart[f]!; k < t.faceStart[f + 1]!; k++) {
      const tri = [0, 1, 2].map((i) => mesh.cornerVertex[t.corners[3 * k + i]!]!);
      const m = faceMeasure(p, tri);
      if (m.area < NEEDLE * m.longest * m.longest) {
        needles.push(f);
        break;
      }
    }
  }
  return { flat, polygons, concave, needles };
}

/** Doubled area by the vector sum of its corners' products, and the longest side. */
function faceMeasure(p: Float64Array, list: ArrayLike<number>): { area: number; longest: number } {
  const [x, y, z] = doubledArea(p, list);
  let longest = 0;
  for (let i = 0; i < list.length; i++) {
    const [a, b] = [3 * list[i]!, 3 * list[(i + 1) % list.length]!];
    longest = Math.max(longest, Math.hypot(p[a]! - p[b]!, p[a + 1]! - p[b + 1]!, p[a + 2]! - p[b + 2]!));
  }
  return { area: Math.hypot(x, y, z), longest };
}

function doubledArea(p: Float64Array, list: ArrayLike<number>): [number, number, number] {
  const sum: [number, number, number] = [0, 0, 0];
  const o = 3 * list[0]!;
  for (let i = 1; i + 1 < list.length; i++) {
    const [a, b] = [3 * list[i]!, 3 * list[i + 1]!];
    const [ax, ay, az] = [p[a]! - p[o]!, p[a + 1]! - p[o + 1]!, p[a + 2]! - p[o + 2]!];
    const [bx, by, bz] = [p[b]! - p[o]!, p[b + 1]! - p[o + 1]!, p[b + 2]! - p[o + 2]!];
    sum[0] += ay * bz - az * by;
    sum[1] += az * bx - ax * bz;
    sum[2] += ax * by - ay * bx;
  }
  return sum;
}

/** Whether a corner turns against the face's normal by more than what rounding does. */
function isConcave(p: Float64Array, list: ArrayLike<number>): boolean {
  const normal = doubledArea(p, list);
  const size = Math.hypot(...normal);
  for (let i = 0; i < list.length; i++) {
    const corner = [list[(i + list.length - 1) % list.length]!, list[i]!, list[(i + 1) % list.length]!];
    const turn = doubledArea(p, corner);
    if (turn[0] * normal[0] + turn[1] * normal[1] + turn[2] * normal[2] < -1e-6 * size * size) return true;
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
