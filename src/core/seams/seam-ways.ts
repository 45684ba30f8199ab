import { Heap } from "../numeric/heap";
import { length3 } from "../numeric/length";
import { flowShare, straightAt } from "./flow";
import type { SeamField } from "./seam-field";
import type { Chain, Change, SeamGraph } from "./seam-graph";

/** Angle, radians, from which on an edge is crease enough for a seam to turn from one onto another for nothing. */
const SHARP = 0.5;
/** Of the root of the area: what a turn off the flow costs. */
const TURN = 0.035;
/** Share of vertices where four edges meet below which a mesh has no flow to keep to. */
const FLOWS = 0.3;
/** Of the price of a turn: where three edges meet at a vertex, and where more than four do. */
const AT_THREE = 1 / 2;
const AT_MANY = 1 / 4;
/** Sums of the same weights in another order differ by less. */
const SURELY = 1 + 1e-9;
/** Of a chain's length: how far an end may slide along the line that it lies on. */
const SLIDES = 1.2;

/** What a seam pays for going from one edge to the next, in turns off the flow: 0 where it goes straight on. */
function turnBetween(field: SeamField, e: number, v: number, next: number): number {
  const { topology, straight, angle, graph } = field;
  const on = straightAt(topology, straight, e, v);
  if (on === next || (angle[e]! > SHARP && angle[next]! > SHARP)) return 0;
  if (on >= 0) return 1;
  return graph.start[v + 1]! - graph.start[v]! === 3 ? AT_THREE : AT_MANY;
}

/** How much more a turn counts on a turned body, whose flow is its form. */
const STRICT = 10;
const strictness = ({ strict }: SeamGraph, v: number): number => (strict[v] ? STRICT : 1);

/** Turns that the seams of a graph make at a vertex; a free end counts too, twice where a crease would go on. */
function turnsAt(graph: SeamGraph, v: number): number {
  const { field } = graph;
  const count = graph.degree[v]!;
  if (field.onBorder[v] || (count !== 1 && count !== 2)) return 0;
  const [a, b] = graph.seamsAt(v);
  if (b !== undefined) return strictness(graph, v) * turnBetween(field, a!, v, b);
  const on = straightAt(field.topology, field.straight, a!, v);
  return field.angle[a!]! > SHARP && on >= 0 && field.angle[on]! > SHARP
    ? 2 * strictness(graph, v)
    : strictness(graph, v);
}

/** Turns at all ends of some edges. */
function turnsAlong(graph: SeamGraph, edges: Iterable<number>): number {
  const { edgeVertices } = graph.field.topology;
  const vertices = new Set<number>();
  for (const e of edges) vertices.add(edgeVertices[2 * e]!).add(edgeVertices[2 * e + 1]!);
  let sum = 0;
  for (const v of vertices) sum += turnsAt(graph, v);
  return sum;
}

/**
 * Ways of least weight over the edges of a part, where going straight on is free and every turn has its price: the search
 * runs over edges with the direction they are gone in.
 */
export class SeamWays {
  private readonly distance: Float64Array;
  private readonly before: Int32Array;
  /** The search in which an entry was written, and whether it is final. */
  private readonly written: Uint32Array;
  private readonly final: Uint32Array;
  private search = 0;
  /** What a turn costs, in weight; nothing where the mesh does not flow. */
  private readonly turnPrice: number;
  /** The least that any edge weighs, for its length. */
  private readonly least: number;

  constructor(private readonly graph: SeamGraph) {
    const share = flowShare(graph.field.mesh);
    this.turnPrice = share > FLOWS ? share * TURN * Math.sqrt(graph.field.area) : 0;
    const { weight, length } = graph.field;
    let least = 1;
    for (let e = 0; e < weight.length; e++) if (length[e]! > 0) least = Math.min(least, weight[e]! / length[e]!);
    this.least = least;
    const count = 2 * graph.field.topology.edgeCount;
    this.distance = new Float64Array(count);
    this.before = new Int32Array(count);
    this.written = new Uint32Array(count);
    this.final = new Uint32Array(count);
  }

  /**
   * Edges of the least way from a vertex to any that is an end, the last edge first; nothing where there is none, or none
   * below a weight. Where there is one end only, the search leads towards it (Hart, Nilsson, Raphael, A formal basis for
   * the heuristic determination of minimum cost paths, 1968).
   */
  from(
    start: number,
    isEnd: (v: number) => boolean,
    mayTake: (e: number) => boolean,
    mayPass: (v: number) => boolean,
    most = Infinity,
    towards = -1,
  ): number[] | null {
    const { field } = this.graph;
    const { weight, graph, topology, world } = field;
    const { edgeVertices } = topology;
    const [x, y, z] = [world[3 * towards]!, world[3 * towards + 1]!, world[3 * towards + 2]!];
    const left = (v: number) =>
      towards < 0 ? 0 : this.least * length3(world[3 * v]! - x, world[3 * v + 1]! - y, world[3 * v + 2]! - z);
    const id = ++this.search;
    const heap = new Heap();
    // 2e goes to the first vertex of an edge, 2e + 1 to the second.
    const enter = (e: number, leaves: number, key: number, from: number) => {
      const d = 2 * e + (edgeVertices[2 * e] === leaves ? 1 : 0);
      const estimate = key + left(edgeVertices[d]!);
      if (estimate > most || (this.written[d] === id && this.distance[d]! <= key)) return;
      this.written[d] = id;
      this.distance[d] = key;
      this.before[d] = from;
      heap.push(estimate, d);
    };
    for (let k = graph.start[start]!; k < graph.start[start + 1]!; k++) {
      const e = graph.link[k]!;
      if (mayTake(e) && mayPass(graph.to[k]!)) enter(e, start, weight[e]!, -1);
    }
    while (heap.size) {
      const d = heap.pop();
      if (this.final[d] === id) continue;
      this.final[d] = id;
      const v = edgeVertices[d]!;
      const e = d >> 1;
      if (isEnd(v)) return this.edgesTo(d);
      for (let k = graph.start[v]!; k < graph.start[v + 1]!; k++) {
        const next = graph.link[k]!;
        if (next === e || graph.to[k] === start || !mayTake(next) || !mayPass(graph.to[k]!)) continue;
        const turned = this.turnPrice * strictness(this.graph, v) * turnBetween(field, e, v, next);
        enter(next, v, this.distance[d]! + weight[next]! + turned, d);
      }
    }
    return null;
  }

  /** What a chain weighs as a way from its one end to the other. */
  private weightOf({ edges, vertices }: Chain): number {
    const { field } = this.graph;
    let sum = 0;
    for (const [i, e] of edges.entries()) {
      sum += field.weight[e]!;
      const v = vertices[i]!;
      if (i) sum += this.turnPrice * strictness(this.graph, v) * turnBetween(field, edges[i - 1]!, v, e);
    }
    return sum;
  }

  /** Edges back from a directed one; nothing where they run over one edge twice. */
  private edgesTo(d: number): number[] | null {
    const out: number[] = [];
    for (let at = d; at >= 0; at = this.before[at]!) out.push(at >> 1);
    return new Set(out).size === out.length ? out : null;
  }

  /** What a change saves, turns counted. */
  saving(change: Change): number {
    const { graph } = this;
    const touched = [...change.off, ...change.on];
    const before = turnsAlong(graph, touched);
    graph.flip(change);
    const after = turnsAlong(graph, touched);
    graph.flipBack(change);
    return graph.weightOf(change.off) - graph.weightOf(change.on) + this.turnPrice * (before - after);
  }

  /** Within the shells beside a chain, off all other seams, or over its own. */
  private within(chain: Chain) {
    const { graph } = this;
    const own = new Set(chain.edges);
    const inner = new Set(chain.vertices.slice(1, -1));
    return {
      mayTake: (e: number) => graph.isWithin(e, chain.a, chain.b) || own.has(e),
      isFree: (v: number) => !graph.isOnLine(v) || inner.has(v),
    };
  }

  /** The least way between the ends of a chain. */
  straightened(chain: Chain): number[] | null {
    const last = chain.vertices.at(-1)!;
    const { mayTake, isFree } = this.within(chain);
    return this.from(
      chain.vertices[0]!,
      (v) => v === last,
      mayTake,
      (v) => v === last || isFree(v),
      SURELY * this.weightOf(chain),
      last,
    );
  }

  /** The least way from one end of a chain to any vertex near the other one, of the line which that lies on. */
  slid(chain: Chain, keepsFirst: boolean): number[] | null {
    const { graph } = this;
    const kept = keepsFirst ? chain.vertices[0]! : chain.vertices.at(-1)!;
    const end = keepsFirst ? chain.vertices.at(-1)! : chain.vertices[0]!;
    if (!graph.field.onBorder[end] && graph.degree[end]! < 2) return null;
    const { mayTake, isFree } = this.within(chain);
    const line = this.lineFrom(end, kept, chain);
    return this.from(
      kept,
      (v) => line.has(v),
      mayTake,
      (v) => line.has(v) || isFree(v),
    );
  }

  /** Vertices along seams and borders from one, as far as an end may slide. */
  private lineFrom(end: number, kept: number, chain: Chain): Set<number> {
    const { graph } = this;
    const { length, graph: beside } = graph.field;
    const own = new Set(chain.edges);
    const most = SLIDES * chain.edges.reduce((sum, e) => sum + length[e]!, 0);
    const reach = new Map<number, number>([[end, 0]]);
    for (const [v, far] of reach)
      for (let k = beside.start[v]!; k < beside.start[v + 1]!; k++) {
        const [e, w] = [beside.link[k]!, beside.to[k]!];
        const next = far + length[e]!;
        if (own.has(e) || graph.isInner(e) || w === kept || next > most || reach.has(w)) continue;
        reach.set(w, next);
      }
    return new Set(reach.keys());
  }
}
