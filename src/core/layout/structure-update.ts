import { type Edge, indices, type Vertex, type Wedge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { type Topology, topologyOf } from "../mesh/topology";
import type { Bits } from "./bits";
import { getBit } from "./bits";
import { splitShells } from "./shell-split";
import { edgeEndsInto, isBarrier, type Layout, type Structure } from "./structure";

/** A structure after some more edges were cut, and the wedges it has more, ascending. */
export interface Updated {
  readonly structure: Structure;
  readonly added: readonly AddedWedge[];
}

export interface AddedWedge {
  /** Its number in the new structure. */
  readonly at: number;
  /** The number of the wedge that it was split off, in the old one. */
  readonly from: number;
}

type Cuts = Pick<Layout, "cut" | "mapped">;

/** With more new cuts than this share of all edges, deriving everything is as quick. */
const TOO_MANY = 0.02;

/**
 * The structure after cutting. A cut changes no more than the wedges at its ends, and parts a shell only where it closes
 * a line round some of its faces, which is found by walking from both its sides at once. The rest is renumbered in
 * one pass, since wedges and shells are numbered by their first corners and faces.
 *
 * @param old structure of the mesh under `layout`
 * @param cut all bits of `layout.cut`, and more
 * @returns null when bits were cleared, or so many set that deriving all is as quick
 */
export function structureAfterCuts(mesh: PolyMesh, old: Structure, layout: Cuts, cut: Bits): Updated | null {
  const t = topologyOf(mesh);
  const edges = newCuts(t, layout, cut);
  if (!edges || edges.length > Math.max(64, TOO_MANY * t.edgeCount)) return null;
  const after = { cut, mapped: layout.mapped };
  const groups = splitWedges(mesh, t, old, layout, after, edges);
  const { wedges, added } = addWedges(old, groups);
  return { structure: { ...wedges, ...splitShells(mesh, old, after, edges) }, added };
}

/** Edges that become barriers; null when a cut was taken away. */
function newCuts(t: Topology, layout: Cuts, cut: Bits): Edge[] | null {
  const out: Edge[] = [];
  for (let i = 0; i < cut.length; i++) {
    const was = layout.cut[i]!;
    const is = cut[i]!;
    if (was === is) continue;
    if (was & ~is) return null;
    for (let e = (8 * i) as Edge; e < Math.min(8 * i + 8, t.edgeCount); e++)
      if (getBit(cut, e) && !isBarrier(t, layout, e)) out.push(e);
  }
  return out;
}

/** Corners that leave their wedge, the least first. */
type Group = readonly number[];

/** What comes off the wedges at the ends of new cuts; the corners around the first corner of a wedge keep its place. */
function splitWedges(
  mesh: PolyMesh,
  t: Topology,
  old: Structure,
  before: Cuts,
  after: Cuts,
  edges: readonly Edge[],
): Group[] {
  const ends = new Uint32Array(4);
  const seen = new Set<number>();
  const out: Group[] = [];
  for (const e of edges) {
    edgeEndsInto(mesh, t, e, ends);
    for (const corner of [...ends]) {
      const wedge = old.cornerWedge[corner]!;
      if (seen.has(wedge)) continue;
      seen.add(wedge);
      const whole = fan(mesh, t, before, corner).sort((a, b) => a - b);
      const left = new Set(whole);
      for (const first of whole) {
        if (!left.has(first)) continue;
        const group = fan(mesh, t, after, first).sort((a, b) => a - b);
        for (const c of group) left.delete(c);
        if (first !== whole[0]) out.push(group);
      }
    }
  }
  return out.sort((a, b) => a[0]! - b[0]!);
}

/** Corners around a vertex that reach each other without crossing a barrier. */
function fan(mesh: PolyMesh, t: Topology, bits: Cuts, start: number): number[] {
  const ends = new Uint32Array(4);
  const found = [start];
  const seen = new Set(found);
  for (let i = 0; i < found.length; i++) {
    const c = found[i]!;
    let before = c;
    while (t.cornerNext[before] !== c) before = t.cornerNext[before]!;
    for (const e of [t.cornerEdge[c]!, t.cornerEdge[before]!]) {
      if (isBarrier(t, bits, e)) continue;
      edgeEndsInto(mesh, t, e, ends);
      for (let k = 0; k < 4; k++) {
        const other = ends[(k + 2) % 4]!;
        if (ends[k] !== c || seen.has(other)) continue;
        seen.add(other);
        found.push(other);
      }
    }
  }
  return found;
}

/** An array of the same kind in the same kind of memory: what all threads see stays seen by all. */
const alike = (array: Uint32Array, length: number): Uint32Array => {
  const Memory = array.buffer.constructor as new (bytes: number) => ArrayBuffer;
  return new Uint32Array(new Memory(4 * length));
};

function addWedges(old: Structure, groups: readonly Group[]) {
  const { cornerWedge, wedgeVertex, wedgeCount } = old;
  if (!groups.length) return { wedges: { wedgeCount, cornerWedge, wedgeVertex }, added: [] };
  const added: AddedWedge[] = [];
  let [corner, seen] = [0, 0];
  for (const group of groups) {
    // Wedges are numbered by their first corners: as many come before this one as have been met so far.
    for (; corner < group[0]!; corner++) if (cornerWedge[corner] === seen) seen++;
    added.push({ at: seen + added.length, from: cornerWedge[corner]! });
  }
  const now: Uint32Array = renumbered(cornerWedge, wedgeCount, added, groups[0]![0]!);
  groups.forEach((group, k) => {
    for (const c of group) now[c] = added[k]!.at;
  });
  const numbered = indices<Wedge>(now);
  const vertices = indices<Vertex>(withAdded<Uint32Array>(wedgeVertex, 1, added));
  return { wedges: { wedgeCount: wedgeCount + added.length, cornerWedge: numbered, wedgeVertex: vertices }, added };
}

/** Wedges of corners under numbers that make room for added ones; before corner `first` all stay as they are. */
function renumbered(old: Uint32Array, wedgeCount: number, added: readonly AddedWedge[], first: number): Uint32Array {
  const now = alike(old, old.length);
  now.set(old.subarray(0, first));
  const length = old.length;
  if (added.length <= 2) {
    // One cut adds at most two, and comparing is twice as quick as looking up.
    const p = added[0]!.at;
    const q = added.length > 1 ? added[1]!.at - 1 : wedgeCount;
    for (let c = first; c < length; c++) {
      const wedge = old[c]!;
      now[c] = wedge + (wedge >= p ? 1 : 0) + (wedge >= q ? 1 : 0);
    }
    return now;
  }
  const numbers = new Uint32Array(wedgeCount);
  let k = 0;
  for (let w = 0; w < wedgeCount; w++) {
    while (k < added.length && added[k]!.at - k <= w) k++;
    numbers[w] = w + k;
  }
  for (let c = first; c < length; c++) now[c] = numbers[old[c]!]!;
  return now;
}

/** Values by wedge (`width` numbers each) with those of added wedges put in: each takes what its old wedge has. */
export function withAdded<T extends Float64Array | Uint32Array>(
  values: T,
  width: number,
  added: readonly AddedWedge[],
): T {
  const Kind = values.constructor as new (memory: ArrayBufferLike) => T;
  const Memory = values.buffer.constructor as new (bytes: number) => ArrayBuffer;
  const out = new Kind(new Memory(values.BYTES_PER_ELEMENT * (values.length + width * added.length)));
  let done = 0;
  added.forEach(({ at, from }, k) => {
    out.set(values.subarray(done, width * (at - k)) as never, done + width * k);
    done = width * (at - k);
    out.set(values.subarray(width * from, width * from + width) as never, width * at);
  });
  out.set(values.subarray(done) as never, done + width * added.length);
  return out;
}
