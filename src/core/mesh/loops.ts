import { type Edge, type Indices, indices } from "./indices";
import type { PolyMesh } from "./poly-mesh";
import { edgeFaceCount, type Topology, topologyOf } from "./topology";
import { vertexGraph } from "./walks";

/** Edges in a row, each going on from the one before it. */
export interface Run {
  readonly edges: readonly Edge[];
  /** Whether the last goes on into the first. */
  readonly closed: boolean;
}

/**
 * The loop through an edge, in the order in which it runs: straight on at vertices where four edges meet, along the border
 * on borders. It ends at any other vertex, and where it closes.
 *
 * @param bend radians: at other vertices too it goes on, by the edge that turns least and has no face in common with the
 *   one before it, when it turns by less than this; 0 for never
 */
export function loopRun(mesh: PolyMesh, edge: Edge, bend = 0): Run {
  const { edgeVertices } = topologyOf(mesh);
  const seen = new Set([edge]);
  const ahead = walkOn(mesh, edge, edgeVertices[2 * edge + 1]!, bend, seen);
  // A loop that came back has been walked whole; from behind there is nothing left of it.
  const behind = ahead.closed ? [] : walkOn(mesh, edge, edgeVertices[2 * edge]!, bend, seen).edges;
  return { edges: [...[...behind].reverse(), edge, ...ahead.edges], closed: ahead.closed };
}

/** What goes on from an edge at one of its ends, to where it ends or meets what was seen; `seen` takes it in. */
function walkOn(mesh: PolyMesh, edge: Edge, from: number, bend: number, seen: Set<Edge>): Run {
  const { edgeVertices } = topologyOf(mesh);
  const edges: Edge[] = [];
  let e = edge;
  let v = from;
  for (;;) {
    const next = straightOn(mesh, e, v) ?? (bend > 0 ? leastTurn(mesh, e, v, bend) : null);
    if (next === null || seen.has(next)) return { edges, closed: next === edge && edges.length > 1 };
    seen.add(next);
    edges.push(next);
    v = otherEnd(edgeVertices, next, v);
    e = next;
  }
}

/**
 * The ways on from where picked edges end: for every vertex with one picked edge each other edge there, with the loop
 * that it begins, as far as that runs or up to what is picked. The straightest way on from a vertex comes first.
 *
 * @param flags 1 per picked edge
 */
export function branchesOf(mesh: PolyMesh, flags: Uint8Array): ReadonlyArray<readonly Edge[]> {
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  const degree = new Map<number, number>();
  const picked = new Set<Edge>();
  for (let e = 0 as Edge; e < edgeCount; e++) {
    if (!flags[e]) continue;
    picked.add(e);
    for (const v of [edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!]) degree.set(v, (degree.get(v) ?? 0) + 1);
  }
  const out: Edge[][] = [];
  for (const [v, count] of degree) {
    if (count !== 1) continue;
    const around = edgesAt(mesh, v);
    const come = around.find((e) => picked.has(e))!;
    const turn = turnAt(mesh, come, v);
    for (const e of around.filter((other) => other !== come).sort((a, b) => turn(b) - turn(a)))
      out.push([e, ...walkOn(mesh, e, otherEnd(edgeVertices, e, v), 0, new Set([e, ...picked])).edges]);
  }
  return out;
}

/** The edges of a loop, ascending. */
export const edgeLoop = (mesh: PolyMesh, edge: Edge, bend = 0): Indices<Edge> =>
  indices(Uint32Array.from(loopRun(mesh, edge, bend).edges).sort());

/** The part of a loop from one of its edges to another, both included, by the shorter way; null when none holds both. */
export function loopBetween(mesh: PolyMesh, a: Edge, b: Edge, bend = 0): readonly Edge[] | null {
  const { edges, closed } = loopRun(mesh, a, bend);
  const [i, j] = [edges.indexOf(a), edges.indexOf(b)];
  if (j < 0) return null;
  const [from, to] = [Math.min(i, j), Math.max(i, j)];
  const inner = edges.slice(from, to + 1);
  const round = closed ? [...edges.slice(to), ...edges.slice(0, from + 1)] : inner;
  return round.length < inner.length ? round : inner;
}

const otherEnd = (edgeVertices: Uint32Array, e: Edge, v: number): number =>
  edgeVertices[2 * e]! === v ? edgeVertices[2 * e + 1]! : edgeVertices[2 * e]!;

const edgesAt = (mesh: PolyMesh, v: number): Edge[] => {
  const g = vertexGraph(mesh);
  return [...indices<Edge>(g.link.subarray(g.start[v]!, g.start[v + 1]!))];
};

function straightOn(mesh: PolyMesh, edge: Edge, v: number): Edge | null {
  const t = topologyOf(mesh);
  const around = edgesAt(mesh, v);
  if (edgeFaceCount(t, edge) === 1) {
    const border = around.filter((e) => e !== edge && edgeFaceCount(t, e) === 1);
    return border.length === 1 ? border[0]! : null;
  }
  if (around.length !== 4) return null;
  const across = apartFrom(t, edge, around);
  return across.length === 1 ? across[0]! : null;
}

/** Of the edges at a vertex, those that have no face in common with one of them. */
function apartFrom(t: Topology, edge: Edge, around: readonly Edge[]): Edge[] {
  const facesOf = (e: Edge) =>
    Array.from(t.edgeCorners.subarray(t.edgeCornerStart[e]!, t.edgeCornerStart[e + 1]!), (c) => t.cornerFace[c]!);
  const mine = new Set(facesOf(edge));
  return around.filter((e) => e !== edge && facesOf(e).every((f) => !mine.has(f)));
}

function leastTurn(mesh: PolyMesh, edge: Edge, v: number, bend: number): Edge | null {
  const t = topologyOf(mesh);
  const around = edgesAt(mesh, v);
  // An inner line ends at the border.
  if (around.some((e) => edgeFaceCount(t, e) !== 2)) return null;
  const turn = turnAt(mesh, edge, v);
  let best: Edge | null = null;
  let most = Math.cos(bend);
  for (const e of apartFrom(t, edge, around)) {
    const cosine = turn(e);
    if (cosine <= most) continue;
    best = e;
    most = cosine;
  }
  return best;
}

/** The cosine of the angle by which the way turns that comes to a vertex by an edge and goes on by another. */
function turnAt(mesh: PolyMesh, edge: Edge, v: number): (next: Edge) => number {
  const { edgeVertices } = topologyOf(mesh);
  const way = (e: Edge) => direction(mesh, v, otherEnd(edgeVertices, e, v));
  const come = way(edge).map((x) => -x);
  return (next) => way(next).reduce((sum, x, d) => sum + x * come[d]!, 0);
}

function direction({ positions: p }: PolyMesh, from: number, to: number): number[] {
  const way = [0, 1, 2].map((d) => p[3 * to + d]! - p[3 * from + d]!);
  const length = Math.sqrt(way.reduce((sum, x) => sum + x * x, 0)) || 1;
  return way.map((x) => x / length);
}
