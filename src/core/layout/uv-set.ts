import { cornerCount, faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, type Topology, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { type Bits, getBit, makeBits, setBit } from "./bits";

/** A UV layout of one mesh as an immutable value. */
export interface UvSet {
  /** One bit per edge: the seam. The only truth about seams. */
  readonly cut: Bits;
  /** One bit per face; an unmapped face has no coordinates. */
  readonly mapped: Bits;
  /** 2 per wedge, in tile units, v up. Points of unmapped wedges are 0 and mean nothing. */
  readonly uv: Float64Array;
  /** One bit per wedge. */
  readonly pinned: Bits;
}

/**
 * What cut and mapped bits make of a mesh.
 * A wedge is the corners around one vertex that reach each other without crossing a cut, a border, an edge that has
 * not exactly two faces, or the line between mapped and unmapped faces. A shell is faces reachable in the same way.
 */
export interface Structure {
  readonly wedgeCount: number;
  readonly cornerWedge: Uint32Array;
  readonly wedgeVertex: Uint32Array;
  readonly shellCount: number;
  readonly faceShell: Uint32Array;
  /** Faces of shell s: shellFaces[shellStart[s] .. shellStart[s + 1] - 1], ascending. */
  readonly shellStart: Uint32Array;
  readonly shellFaces: Uint32Array;
}

type Kept = { mapped: Bits; structure: Structure };
const cache = new WeakMap<PolyMesh, WeakMap<Bits, Kept>>();

/** Wedges and shells of a layout; derived once per mesh and bits, so moving points derives nothing anew. */
export function structureOf(mesh: PolyMesh, set: Pick<UvSet, "cut" | "mapped">): Structure {
  const kept = cache.get(mesh)?.get(set.cut);
  if (kept && kept.mapped === set.mapped) return kept.structure;
  const structure = deriveStructure(mesh, set);
  seedStructure(mesh, set, structure);
  return structure;
}

/** Keeps a structure, derived here or elsewhere (another thread), for a mesh and its bits. */
export function seedStructure(mesh: PolyMesh, set: Pick<UvSet, "cut" | "mapped">, structure: Structure): void {
  let perMesh = cache.get(mesh);
  if (!perMesh) {
    perMesh = new WeakMap();
    cache.set(mesh, perMesh);
  }
  perMesh.set(set.cut, { mapped: set.mapped, structure });
}

/** Whether layout ends at edge e: faces on its two sides are not joined there. */
export function isBarrier(t: Topology, set: Pick<UvSet, "cut" | "mapped">, e: number): boolean {
  if (edgeFaceCount(t, e) !== 2 || getBit(set.cut, e)) return true;
  const a = t.edgeCorners[t.edgeCornerStart[e]!]!;
  const b = t.edgeCorners[t.edgeCornerStart[e]! + 1]!;
  return getBit(set.mapped, t.cornerFace[a]!) !== getBit(set.mapped, t.cornerFace[b]!);
}

/**
 * Corners that stand at the two ends of a two-sided edge, on either side: [a0, a1, b0, b1], a0 and b0 at the first
 * vertex of the edge's first corner, whatever the winding of the second face.
 */
export function edgeEnds(mesh: PolyMesh, t: Topology, e: number): [number, number, number, number] {
  const a0 = t.edgeCorners[t.edgeCornerStart[e]!]!;
  const other = t.edgeCorners[t.edgeCornerStart[e]! + 1]!;
  const a1 = t.cornerNext[a0]!;
  const same = mesh.cornerVertex[other] === mesh.cornerVertex[a0];
  return same ? [a0, a1, other, t.cornerNext[other]!] : [a0, a1, t.cornerNext[other]!, other];
}

/** The same into four places, for hot loops. */
function endsInto(mesh: PolyMesh, t: Topology, e: number, out: Uint32Array): void {
  const start = t.edgeCornerStart[e]!;
  const a = t.edgeCorners[start]!;
  const b = t.edgeCorners[start + 1]!;
  const same = mesh.cornerVertex[b] === mesh.cornerVertex[a];
  out[0] = a;
  out[1] = t.cornerNext[a]!;
  out[same ? 2 : 3] = b;
  out[same ? 3 : 2] = t.cornerNext[b]!;
}

function find(parent: Uint32Array, i: number): number {
  while (parent[i] !== i) {
    parent[i] = parent[parent[i]!]!;
    i = parent[i]!;
  }
  return i;
}

function unite(parent: Uint32Array, a: number, b: number): void {
  const x = find(parent, a);
  const y = find(parent, b);
  if (x < y) parent[y] = x;
  else parent[x] = y;
}

function deriveStructure(mesh: PolyMesh, set: Pick<UvSet, "cut" | "mapped">): Structure {
  const t = topologyOf(mesh);
  const corners = iota(cornerCount(mesh));
  const faces = iota(faceCount(mesh));
  const ends = new Uint32Array(4);
  for (let e = 0; e < t.edgeCount; e++) {
    if (isBarrier(t, set, e)) continue;
    endsInto(mesh, t, e, ends);
    unite(corners, ends[0]!, ends[2]!);
    unite(corners, ends[1]!, ends[3]!);
    unite(faces, t.cornerFace[ends[0]!]!, t.cornerFace[ends[2]!]!);
  }
  const wedges = number(corners);
  const shells = number(faces);
  const wedgeVertex = new Uint32Array(wedges.count);
  for (let c = 0; c < corners.length; c++) wedgeVertex[wedges.of[c]!] = mesh.cornerVertex[c]!;
  const shellStart = new Uint32Array(shells.count + 1);
  for (const s of shells.of) shellStart[s + 1]!++;
  for (let s = 0; s < shells.count; s++) shellStart[s + 1]! += shellStart[s]!;
  const fill = shellStart.slice(0, -1);
  const shellFaces = new Uint32Array(faces.length);
  for (let f = 0; f < faces.length; f++) shellFaces[fill[shells.of[f]!]!++] = f;
  return {
    wedgeCount: wedges.count,
    cornerWedge: wedges.of,
    wedgeVertex,
    shellCount: shells.count,
    faceShell: shells.of,
    shellStart,
    shellFaces,
  };
}

/** Numbers the sets of a union-find in the order of their first members. */
function number(parent: Uint32Array): { count: number; of: Uint32Array } {
  const of = new Uint32Array(parent.length);
  let count = 0;
  for (let i = 0; i < parent.length; i++) {
    const root = find(parent, i); // roots are the least members, so they come first
    of[i] = root === i ? count++ : of[root]!;
  }
  return { count, of };
}

export const facesOfShell = (s: Structure, shell: number): Uint32Array =>
  s.shellFaces.subarray(s.shellStart[shell]!, s.shellStart[shell + 1]!);

const bareLayouts = new WeakMap<PolyMesh, UvSet>();

/** Keeps the bare layout of a mesh that was made elsewhere (another thread). */
export const seedEmptyLayout = (mesh: PolyMesh, layout: UvSet): void => void bareLayouts.set(mesh, layout);

/** The layout without coordinates and without seams; one value per mesh. */
export function emptyLayout(mesh: PolyMesh): UvSet {
  let layout = bareLayouts.get(mesh);
  if (!layout) {
    const bare = { cut: makeBits(topologyOf(mesh).edgeCount), mapped: makeBits(faceCount(mesh)) };
    const { wedgeCount } = structureOf(mesh, bare);
    layout = { ...bare, uv: new Float64Array(2 * wedgeCount), pinned: makeBits(wedgeCount) };
    bareLayouts.set(mesh, layout);
  }
  return layout;
}

/** Tiles from the origin beyond which a coordinate is damage: rounding would leave no texel apart there. */
export const FARTHEST_UV = 1e6;

/**
 * Reads a layout from coordinates per corner: an edge is cut where an end differs by value between its two sides.
 *
 * @param cornerUv 2 per corner; not finite (or beyond FARTHEST_UV) where a corner has none. A face with such a corner
 *   is unmapped.
 */
export function layoutFromCorners(mesh: PolyMesh, cornerUv: Float64Array): UvSet {
  const t = topologyOf(mesh);
  const mapped = makeBits(faceCount(mesh));
  for (let f = 0; f < faceCount(mesh); f++) {
    let whole = true;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
      whole &&= Math.abs(cornerUv[2 * c]!) <= FARTHEST_UV && Math.abs(cornerUv[2 * c + 1]!) <= FARTHEST_UV;
    if (whole) setBit(mapped, f);
  }
  const cut = makeBits(t.edgeCount);
  const ends = new Uint32Array(4);
  for (let e = 0; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    endsInto(mesh, t, e, ends);
    const [a0, a1, b0, b1] = [2 * ends[0]!, 2 * ends[1]!, 2 * ends[2]!, 2 * ends[3]!];
    if (!getBit(mapped, t.cornerFace[ends[0]!]!) || !getBit(mapped, t.cornerFace[ends[2]!]!)) continue;
    const differ =
      cornerUv[a0] !== cornerUv[b0] ||
      cornerUv[a0 + 1] !== cornerUv[b0 + 1] ||
      cornerUv[a1] !== cornerUv[b1] ||
      cornerUv[a1 + 1] !== cornerUv[b1 + 1];
    if (differ) setBit(cut, e);
  }
  const { cornerWedge, wedgeCount } = structureOf(mesh, { cut, mapped });
  const uv = new Float64Array(2 * wedgeCount);
  for (let c = 0; c < cornerWedge.length; c++) {
    if (!getBit(mapped, t.cornerFace[c]!)) continue;
    uv[2 * cornerWedge[c]!] = cornerUv[2 * c]! + 0; // + 0 makes -0 equal 0
    uv[2 * cornerWedge[c]! + 1] = cornerUv[2 * c + 1]! + 0;
  }
  return { cut, mapped, uv, pinned: makeBits(wedgeCount) };
}

/** The same points under other cut and mapped bits: every wedge takes the point (and pin) its first corner had. */
export function withBits(mesh: PolyMesh, set: UvSet, cut: Bits, mapped: Bits = set.mapped): UvSet {
  const old = structureOf(mesh, set);
  const now = structureOf(mesh, { cut, mapped });
  const uv = new Float64Array(2 * now.wedgeCount);
  const pinned = makeBits(now.wedgeCount);
  for (let c = cornerCount(mesh) - 1; c >= 0; c--) {
    const from = old.cornerWedge[c]!;
    const to = now.cornerWedge[c]!;
    uv[2 * to] = set.uv[2 * from]!;
    uv[2 * to + 1] = set.uv[2 * from + 1]!;
    if (getBit(set.pinned, from)) setBit(pinned, to);
  }
  return { cut, mapped, uv, pinned };
}

/** The same cuts with other points. */
export const withPoints = (set: UvSet, uv: Float64Array): UvSet => ({ ...set, uv });
