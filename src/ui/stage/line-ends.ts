import { countBits, getBit, placesOfBits } from "@/core/layout/bits";
import { isBarrier, type Layout, type Structure } from "@/core/layout/layout";
import { Derived } from "@/core/mesh/derived";
import type { Edge } from "@/core/mesh/indices";
import { faceCount, type PolyMesh } from "@/core/mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, type Topology, topologyOf } from "@/core/mesh/topology";
import type { SelectionKind } from "@/core/operations/operation";
import type { ElementSet } from "@/core/select/element-set";

// Which points the lines of a shape lead between, as numbers of vertices in Form and of wedges in Sheet. Where those
// points are is looked up when lines are drawn: moving shells changes nothing here.

export interface Lines {
  /** 2 per line: vertices in Form, wedges in Sheet. */
  readonly ends: Uint32Array;
  /** 2 per line: where it begins and how long it is, in ticks of the basting thread; -1 and 0 for a border. */
  readonly along: Float32Array;
}

/** Where every seam edge lies along the run of seams it is part of, so that ticks go on evenly from edge to edge. */
export class SeamRuns {
  private readonly place = new Map<number, number>();
  private readonly begin: Float32Array;
  private readonly length: Float32Array;

  /** @param step length of a tick's share of the seam, in the units of the mesh */
  constructor(mesh: PolyMesh, cut: Layout["cut"], step: number) {
    const t = topologyOf(mesh);
    const edges = placesOfBits(cut).filter((e) => e < t.edgeCount && edgeFaceCount(t, e as Edge) === 2);
    edges.forEach((e, i) => {
      this.place.set(e, i);
    });
    this.begin = new Float32Array(edges.length);
    this.length = Float32Array.from(edges, (e) => lengthOf(mesh, t.edgeVertices, e) / step);
    this.walk(edges, t.edgeVertices);
  }

  private walk(edges: Uint32Array, ends: Uint32Array): void {
    const at = new Map<number, number[]>();
    edges.forEach((e, i) => {
      for (const v of [ends[2 * e]!, ends[2 * e + 1]!]) {
        const list = at.get(v);
        if (list) list.push(i);
        else at.set(v, [i]);
      }
    });
    const done = new Uint8Array(edges.length);
    const follow = (from: number) => {
      let [v, s] = [from, 0];
      for (;;) {
        const i = at.get(v)!.find((k) => !done[k]);
        if (i === undefined) return;
        done[i] = 1;
        const e = edges[i]!;
        const forth = ends[2 * e] === v;
        const length = this.length[i]!;
        // For an edge that is walked backwards, the ends are swapped.
        this.begin[i] = forth ? s : s + length;
        if (!forth) this.length[i] = -length;
        s += length;
        v = ends[2 * e + (forth ? 1 : 0)]!;
        // Where seams meet a run ends.
        if (at.get(v)!.length !== 2) return;
      }
    };
    for (const [v, own] of at) if (own.length !== 2) for (let k = 0; k < own.length; k++) follow(v);
    for (const v of at.keys()) follow(v);
  }

  /** Begin and length of an edge from its first vertex to its second, in ticks; null when it is no seam. */
  of(edge: number): [number, number] | null {
    const i = this.place.get(edge);
    return i === undefined ? null : [this.begin[i]!, this.length[i]!];
  }
}

function lengthOf({ positions: p }: PolyMesh, ends: Uint32Array, e: number): number {
  const [a, b] = [3 * ends[2 * e]!, 3 * ends[2 * e + 1]!];
  return Math.hypot(p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!);
}

class LineList {
  private ends: number[] = [];
  private along: number[] = [];

  add(a: number, b: number, along: readonly [number, number]): void {
    this.ends.push(a, b);
    this.along.push(along[0], along[1]);
  }

  done(): Lines {
    return { ends: Uint32Array.from(this.ends), along: Float32Array.from(this.along) };
  }
}

/** Faces that are shown alone; null for all. */
type Alone = ElementSet | null;

/** Whether an edge is one of a face that is shown. */
function isSeen(t: Topology, edge: number, alone: Alone): boolean {
  if (!alone) return true;
  for (let k = t.edgeCornerStart[edge]!; k < t.edgeCornerStart[edge + 1]!; k++)
    if (alone.has(t.cornerFace[t.edgeCorners[k]!]!)) return true;
  return false;
}

/** Both ends of every edge of faces that are shown: wires on the form. */
export function formWires(mesh: PolyMesh, alone: Alone): Uint32Array {
  const t = topologyOf(mesh);
  if (!alone) return t.edgeVertices;
  return t.edgeVertices.filter((_, i) => isSeen(t, i >> 1, alone));
}

const BORDER = [-1, 0] as const;
const PLAIN = [0, 0] as const;

const open = new Derived<PolyMesh, Uint32Array>("open edges");

/** Edges of a mesh that have not exactly two faces. */
function openEdges(mesh: PolyMesh): Uint32Array {
  const known = open.get(mesh);
  if (known) return known;
  const { edgeCount, edgeCornerStart } = topologyOf(mesh);
  const out: number[] = [];
  for (let e = 0; e < edgeCount; e++) if (edgeCornerStart[e + 1]! - edgeCornerStart[e]! !== 2) out.push(e);
  const edges = Uint32Array.from(out);
  open.set(mesh, edges);
  return edges;
}

/** Edges where shells end: those that are cut or open, and between faces with coordinates and without, where there are both. */
function shellEnds(mesh: PolyMesh, layout: Layout): Iterable<number> {
  const t = topologyOf(mesh);
  const mapped = countBits(layout.mapped);
  const out = new Set<number>(openEdges(mesh));
  for (const e of placesOfBits(layout.cut)) if (e < t.edgeCount) out.add(e);
  if (mapped > 0 && mapped < faceCount(mesh))
    for (let e = 0 as Edge; e < t.edgeCount; e++) if (isBarrier(t, layout, e)) out.add(e);
  return out;
}

/** Seams and open borders on the form. */
export function formSeams(mesh: PolyMesh, cut: Layout["cut"], runs: SeamRuns, alone: Alone = null): Lines {
  const t = topologyOf(mesh);
  const { edgeVertices, edgeCount } = t;
  const out = new LineList();
  for (const e of openEdges(mesh))
    if (isSeen(t, e, alone)) out.add(edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!, BORDER);
  for (const e of placesOfBits(cut)) {
    const along = e < edgeCount ? runs.of(e) : null;
    if (along && isSeen(t, e, alone)) out.add(edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!, along);
  }
  return out.done();
}

/** Sides of edges where shells end, in Sheet: seams and open borders. */
export function sheetSeams(mesh: PolyMesh, layout: Layout, s: Structure, runs: SeamRuns, alone: Alone = null): Lines {
  const t = topologyOf(mesh);
  const out = new LineList();
  for (const e of shellEnds(mesh, layout)) {
    const along = runs.of(e) ?? (edgeFaceCount(t, e as Edge) === 2 ? PLAIN : BORDER);
    eachSide(mesh, layout, s, e, (a, b) => out.add(a, b, along), alone);
  }
  return out.done();
}

/** The two wedges of every side of an edge that is mapped, that at the edge's first vertex first. */
function eachSide(
  mesh: PolyMesh,
  layout: Layout,
  s: Structure,
  e: number,
  act: (a: number, b: number) => void,
  alone: Alone = null,
): void {
  const t = topologyOf(mesh);
  for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
    const c = t.edgeCorners[k]!;
    if (!getBit(layout.mapped, t.cornerFace[c]!) || (alone && !alone.has(t.cornerFace[c]!))) continue;
    const [a, b] = [s.cornerWedge[c]!, s.cornerWedge[t.cornerNext[c]!]!];
    if (mesh.cornerVertex[c] === t.edgeVertices[2 * e]) act(a, b);
    else act(b, a);
  }
}

/** Some edges: on the form once, in Sheet on both of their sides, so that mates light up together. */
export function edgeLines(mesh: PolyMesh, edges: ElementSet, flat: { layout: Layout; s: Structure } | null): Lines {
  const { edgeVertices } = topologyOf(mesh);
  if (!flat) {
    const ends = new Uint32Array(2 * edges.size);
    let at = 0;
    edges.each((e) => {
      ends[at++] = edgeVertices[2 * e]!;
      ends[at++] = edgeVertices[2 * e + 1]!;
    });
    return { ends, along: new Float32Array(2 * edges.size) };
  }
  const out = new LineList();
  edges.each((e) => eachSide(mesh, flat.layout, flat.s, e, (a, b) => out.add(a, b, PLAIN)));
  return out.done();
}

/** Wedge pairs of the edges inside shells: wires in Sheet, where borders are drawn as seams. */
export function innerWires(mesh: PolyMesh, layout: Layout, s: Structure, alone: Alone = null): Uint32Array {
  const t = topologyOf(mesh);
  const out = new Uint32Array(2 * t.edgeCount);
  let at = 0;
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const c = edgeCorner(t, e);
    if (isBarrier(t, layout, e) || !getBit(layout.mapped, t.cornerFace[c]!) || !isSeen(t, e, alone)) continue;
    out[at++] = s.cornerWedge[c]!;
    out[at++] = s.cornerWedge[t.cornerNext[c]!]!;
  }
  return out.slice(0, at);
}

/**
 * Where dots stand for some vertices or UV points.
 *
 * @param flat the layout where they stand in Sheet, on every wedge that has coordinates; else they stand on vertices
 */
export function dotsOfItems(
  mesh: PolyMesh,
  kind: SelectionKind,
  items: ElementSet,
  s: Structure,
  flat: Layout | null,
): Uint32Array {
  if (kind === "points") return items.items().map((c) => (flat ? s.cornerWedge[c]! : mesh.cornerVertex[c]!));
  if (!flat) return items.items();
  const { cornerFace } = topologyOf(mesh);
  const out = new Set<number>();
  for (let c = 0; c < s.cornerWedge.length; c++)
    if (items.has(mesh.cornerVertex[c]!) && getBit(flat.mapped, cornerFace[c]!)) out.add(s.cornerWedge[c]!);
  return Uint32Array.from(out);
}
