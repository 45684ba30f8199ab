import { Derived } from "../mesh/derived";
import { type Edge, indices, type Shell, type Wedge } from "../mesh/indices";
import { cornerCount, faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";
import { edgeEndsInto, isBarrier, type Layout, listFaces, type Structure } from "./structure";
import { structureAfterCuts, withAdded } from "./structure-update";

export * from "./structure";

import { type Bits, getBit, makeBits, setBit } from "./bits";

/** A mesh under its bits, as that from which a structure follows. */
interface Under {
  readonly mapped: Bits;
}
/** By mesh and cut bits: meshes of one size may share their bits. */
const under = new WeakMap<PolyMesh, WeakMap<Bits, Under>>();
const structures = new Derived<Under, Structure>("structure");

/** Wedges and shells of a layout; derived once per mesh and bits, so moving points derives nothing again. */
export function structureOf(mesh: PolyMesh, set: Pick<Layout, "cut" | "mapped">): Structure {
  const of = under.get(mesh)?.get(set.cut);
  const kept = of?.mapped === set.mapped ? structures.get(of) : undefined;
  if (kept) return kept;
  const structure = deriveStructure(mesh, set);
  seedStructure(mesh, set, structure);
  return structure;
}

/** Keeps a structure, derived here or elsewhere (another thread), for a mesh and its bits. */
export function seedStructure(mesh: PolyMesh, set: Pick<Layout, "cut" | "mapped">, structure: Structure): void {
  let perMesh = under.get(mesh);
  if (!perMesh) {
    perMesh = new WeakMap();
    under.set(mesh, perMesh);
  }
  const of = { mapped: set.mapped };
  perMesh.set(set.cut, of);
  structures.set(of, structure);
}

function deriveStructure(mesh: PolyMesh, set: Pick<Layout, "cut" | "mapped">): Structure {
  const t = topologyOf(mesh);
  const corners = iota(cornerCount(mesh));
  const faces = iota(faceCount(mesh));
  const ends = new Uint32Array(4);
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (isBarrier(t, set, e)) continue;
    edgeEndsInto(mesh, t, e, ends);
    unite(corners, ends[0]!, ends[2]!);
    unite(corners, ends[1]!, ends[3]!);
    unite(faces, t.cornerFace[ends[0]!]!, t.cornerFace[ends[2]!]!);
  }
  const wedges = number(corners);
  const shells = number(faces);
  const wedgeVertex = new Uint32Array(wedges.count);
  for (let c = 0; c < corners.length; c++) wedgeVertex[wedges.of[c]!] = mesh.cornerVertex[c]!;
  const cornerWedge = indices<Wedge>(wedges.of);
  const faceShell = indices<Shell>(shells.of);
  return {
    wedgeCount: wedges.count,
    cornerWedge,
    wedgeVertex: indices(wedgeVertex),
    ...listFaces(faceShell, shells.count),
  };
}

/** Numbers the sets of a union-find in the order of their first members. */
function number(parent: Uint32Array): { count: number; of: Uint32Array } {
  const of = new Uint32Array(parent.length);
  let count = 0;
  for (let i = 0; i < parent.length; i++) {
    const root = rootOf(parent, i); // roots are the least members, so they come first
    of[i] = root === i ? count++ : of[root]!;
  }
  return { count, of };
}

const bareLayouts = new WeakMap<PolyMesh, Layout>();

/** Keeps the bare layout of a mesh that was made elsewhere (another thread). */
export const seedEmptyLayout = (mesh: PolyMesh, layout: Layout): void => void bareLayouts.set(mesh, layout);

/** The layout without coordinates and without seams; one value per mesh. */
export function emptyLayout(mesh: PolyMesh): Layout {
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
export function layoutFromCorners(mesh: PolyMesh, cornerUv: Float64Array): Layout {
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
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    edgeEndsInto(mesh, t, e, ends);
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
export function withBits(mesh: PolyMesh, set: Layout, cut: Bits, mapped: Bits = set.mapped): Layout {
  const old = structureOf(mesh, set);
  const bits = { cut, mapped };
  const quick = mapped === set.mapped ? structureAfterCuts(mesh, old, set, cut) : null;
  if (quick) seedStructure(mesh, bits, quick.structure);
  const now = structureOf(mesh, bits);
  const from = quick ? null : firstWedges(old, now);
  const uv = quick ? withAdded(set.uv, 2, quick.added) : pick(set.uv, from!);
  const pinned = makeBits(now.wedgeCount);
  if (set.pinned.some(Boolean)) {
    const origin = from ?? withAdded(iota(old.wedgeCount), 1, quick!.added);
    for (let w = 0; w < origin.length; w++) if (getBit(set.pinned, origin[w]!)) setBit(pinned, w);
  }
  return { cut, mapped, uv, pinned };
}

function pick(uv: Float64Array, from: Uint32Array): Float64Array {
  const out = new Float64Array(2 * from.length);
  for (let w = 0; w < from.length; w++) {
    out[2 * w] = uv[2 * from[w]!]!;
    out[2 * w + 1] = uv[2 * from[w]! + 1]!;
  }
  return out;
}

/** For every wedge of a structure the one that its first corner had in another of the same mesh. */
function firstWedges(old: Structure, now: Structure): Uint32Array {
  const out = new Uint32Array(now.wedgeCount);
  for (let c = now.cornerWedge.length - 1; c >= 0; c--) out[now.cornerWedge[c]!] = old.cornerWedge[c]!;
  return out;
}

/** The same cuts with other points. */
export const withPoints = (set: Layout, uv: Float64Array): Layout => ({ ...set, uv });
