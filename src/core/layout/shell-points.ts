import { Derived } from "../mesh/derived";
import { type Edge, type Indices, indices, type Shell, type Wedge } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { type Bits, getBit, setBit } from "./bits";
import { edgeEnds, facesOfShell, type Layout, type Structure, structureOf, withBits } from "./layout";

/** New points for one shell: 2 per entry of `wedges`. */
export interface ShellPoints {
  readonly shell: Shell;
  readonly wedges: Uint32Array;
  readonly uv: Float64Array;
}

/**
 * The layout with new points for some shells. Shells that had no coordinates are mapped; where they touched the mapped
 * part of the mesh without a seam, a seam is set, since their points do not meet.
 */
export function withShellPoints(mesh: PolyMesh, set: Layout, changes: readonly ShellPoints[]): Layout {
  const s = structureOf(mesh, set);
  const uv = set.uv.slice();
  for (const { wedges, uv: points } of changes) {
    for (let i = 0; i < wedges.length; i++) {
      uv[2 * wedges[i]!] = points[2 * i]!;
      uv[2 * wedges[i]! + 1] = points[2 * i + 1]!;
    }
  }
  const moved = { ...set, uv };
  const fresh = changes.filter(({ shell }) => !getBit(set.mapped, facesOfShell(s, shell)[0]!));
  if (!fresh.length) return moved;
  const mapped = set.mapped.slice();
  for (const { shell } of fresh) for (const f of facesOfShell(s, shell)) setBit(mapped, f);
  const cut = set.cut.slice();
  const t = topologyOf(mesh);
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    const [a, , b] = edgeEnds(mesh, t, e);
    const was = getBit(set.mapped, t.cornerFace[a]!) !== getBit(set.mapped, t.cornerFace[b]!);
    const is = getBit(mapped, t.cornerFace[a]!) !== getBit(mapped, t.cornerFace[b]!);
    if (was && !is) setBit(cut, e);
  }
  return withBits(mesh, moved, cut, mapped);
}

interface ShellWedges {
  readonly shellOf: Uint32Array;
  /** Wedges of shell s: wedges[start[s] .. start[s + 1] - 1]. */
  readonly start: Uint32Array;
  readonly wedges: Uint32Array;
}

const wedgeLists = new Derived<Structure, ShellWedges>("wedges by shell");

/** The shell of every wedge. */
export const wedgeShells = (mesh: PolyMesh, s: Structure): Uint32Array => shellWedges(mesh, s).shellOf;

/** Wedges by shell, for all shells at once in linear time; kept with the structure. */
function shellWedges(mesh: PolyMesh, s: Structure): ShellWedges {
  let lists = wedgeLists.get(s);
  if (lists) return lists;
  const { cornerFace } = topologyOf(mesh);
  const shellOf = new Uint32Array(s.wedgeCount);
  for (let c = 0; c < s.cornerWedge.length; c++) shellOf[s.cornerWedge[c]!] = s.faceShell[cornerFace[c]!]!;
  const start = new Uint32Array(s.shellCount + 1);
  for (const shell of shellOf) start[shell + 1]!++;
  for (let k = 0; k < s.shellCount; k++) start[k + 1]! += start[k]!;
  const fill = start.slice(0, -1);
  const wedges = new Uint32Array(s.wedgeCount);
  for (let w = 0; w < shellOf.length; w++) wedges[fill[shellOf[w]!]!++] = w;
  lists = { shellOf, start, wedges };
  wedgeLists.set(s, lists);
  return lists;
}

/** Wedges of one shell, ascending, which is the order of its corners. Not to be written to. */
export function wedgesOfShell(mesh: PolyMesh, set: Layout, shell: Shell): Indices<Wedge> {
  const s = structureOf(mesh, set);
  const { start, wedges } = shellWedges(mesh, s);
  facesOfShell(s, shell); // refuses a shell that is not there
  return indices(wedges.subarray(start[shell]!, start[shell + 1]!));
}

/** Whether any bit is set, by the bits themselves: they are asked for with every shell. */
const anySet = new WeakMap<Bits, boolean>();

/** Whether any point of a shell is pinned: such a shell may not be moved as a whole. */
export function hasPins(mesh: PolyMesh, layout: Layout, shell: Shell): boolean {
  let any = anySet.get(layout.pinned);
  if (any === undefined) {
    any = layout.pinned.some(Boolean);
    anySet.set(layout.pinned, any);
  }
  if (!any) return false;
  return wedgesOfShell(mesh, layout, shell).some((w) => getBit(layout.pinned, w));
}

/** Whether all of a shell is pinned: nothing moves any of it. */
export function isFrozen(mesh: PolyMesh, layout: Layout, shell: Shell): boolean {
  return hasPins(mesh, layout, shell) && wedgesOfShell(mesh, layout, shell).every((w) => getBit(layout.pinned, w));
}

/** The pinned points as they are marked: all of them, but of a shell that is pinned whole the one nearest to its middle. */
export function markedPins(mesh: PolyMesh, layout: Layout): Uint32Array {
  const { start, wedges } = shellWedges(mesh, structureOf(mesh, layout));
  const { uv, pinned } = layout;
  const out: number[] = [];
  for (let shell = 0; shell + 1 < start.length; shell++) {
    const own = wedges.subarray(start[shell]!, start[shell + 1]!);
    const held = own.filter((w) => getBit(pinned, w));
    if (!held.length) continue;
    if (held.length < own.length) {
      for (const w of held) out.push(w);
      continue;
    }
    const [u, v] = [0, 1].map((d) => own.reduce((sum, w) => sum + uv[2 * w + d]!, 0) / own.length) as [number, number];
    const away = (w: number) => (uv[2 * w]! - u) ** 2 + (uv[2 * w + 1]! - v) ** 2;
    out.push(own.reduce((best, w) => (away(w) < away(best) ? w : best)));
  }
  return Uint32Array.from(out);
}

export const isMapped = (mesh: PolyMesh, set: Layout, shell: Shell): boolean =>
  getBit(set.mapped, facesOfShell(structureOf(mesh, set), shell)[0]!);

/** Whether any face of the layout has coordinates. */
export const hasPoints = (mesh: PolyMesh, set: Layout): boolean => {
  for (let f = 0; f < faceCount(mesh); f++) if (getBit(set.mapped, f)) return true;
  return false;
};
