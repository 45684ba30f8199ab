import { Heap } from "../numeric/heap";
import type { PolyMesh } from "./poly-mesh";
import { topologyOf } from "./topology";
import { vertexGraph } from "./walks";

/** How much longer a right angle makes the edge after it. */
const TURN_COST = 8;

/**
 * Paths from a vertex that turn as little as they can: an edge counts for its length, times one more for how far it turns
 * from the edge before it. Found as far as they are asked for, as by `PathSearch`; the search runs over edges with the
 * way they are gone, since what an edge costs hangs on the one before it.
 *
 * Source: T. Caldwell, On finding minimum routes in a network with turn penalties (1961).
 */
export class TurnSearch {
  /** By edge and end, 2 e + end: the cost of coming to that end by that edge, and what came before it; -1 for the start. */
  private readonly distance: Float64Array;
  private readonly before: Int32Array;
  /** By vertex: by which edge and end it was reached first; -1 while it was not. */
  private readonly reachedBy: Int32Array;
  private readonly heap = new Heap();

  /** @param world 3 per vertex @param length per edge */
  constructor(
    private readonly mesh: PolyMesh,
    private readonly world: Float64Array,
    private readonly length: Float64Array,
    private readonly source: number,
  ) {
    this.distance = new Float64Array(2 * length.length).fill(Infinity);
    this.before = new Int32Array(2 * length.length).fill(-1);
    this.reachedBy = new Int32Array(mesh.positions.length / 3).fill(-1);
    this.leave(source, -1, 0);
  }

  /** Enters the edges that go on from a vertex. @param by how it was come to; -1 at the start */
  private leave(v: number, by: number, sofar: number): void {
    const { start, to, link } = vertexGraph(this.mesh);
    for (let k = start[v]!; k < start[v + 1]!; k++) {
      const e = link[k]!;
      if (by >= 0 && e === by >> 1) continue;
      const d = sofar + this.length[e]! * (by < 0 ? 1 : 1 + TURN_COST * this.turn(by, to[k]!));
      const node = 2 * e + (topologyOf(this.mesh).edgeVertices[2 * e]! === to[k]! ? 0 : 1);
      if (d >= this.distance[node]!) continue;
      this.distance[node] = d;
      this.before[node] = by;
      this.heap.push(d, node);
    }
  }

  /** How far the way turns at the end that was come to, on to a vertex: 0 straight on, 1 at a right angle, 2 back. */
  private turn(by: number, next: number): number {
    const { edgeVertices } = topologyOf(this.mesh);
    const w = this.world;
    const [a, b, c] = [3 * edgeVertices[by ^ 1]!, 3 * edgeVertices[by]!, 3 * next];
    const [px, py, pz] = [w[b]! - w[a]!, w[b + 1]! - w[a + 1]!, w[b + 2]! - w[a + 2]!];
    const [qx, qy, qz] = [w[c]! - w[b]!, w[c + 1]! - w[b + 1]!, w[c + 2]! - w[b + 2]!];
    const size = Math.sqrt((px * px + py * py + pz * pz) * (qx * qx + qy * qy + qz * qz));
    return size > 0 ? 1 - (px * qx + py * qy + pz * qz) / size : 0;
  }

  /** Goes on by so many nodes, for paths that will be asked for. @returns whether there is more to be found */
  goOn(nodes: number): boolean {
    for (let left = nodes; left > 0 && this.heap.size; left--) this.settleNext();
    return this.heap.size > 0;
  }

  private settleNext(): void {
    const { heap, distance, reachedBy } = this;
    const node = heap.pop();
    if (heap.key > distance[node]!) return;
    const v = topologyOf(this.mesh).edgeVertices[node]!;
    if (reachedBy[v]! < 0) reachedBy[v] = node;
    this.leave(v, node, heap.key);
  }

  /** Edges of the path to a vertex, from the source on; null where none leads there. */
  linksTo(target: number): number[] | null {
    const { heap, reachedBy } = this;
    while (heap.size && target !== this.source && reachedBy[target]! < 0) this.settleNext();
    if (target !== this.source && reachedBy[target]! < 0) return null;
    const out: number[] = [];
    for (let node = target === this.source ? -1 : reachedBy[target]!; node >= 0; node = this.before[node]!)
      out.push(node >> 1);
    return out.reverse();
  }
}
