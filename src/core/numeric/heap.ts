/** Children of a node of the heap: with four a push and a pop touch fewer places than with two. */
const ARITY = 4;

/** Heap of items by key, least first; an item may be entered again with a lower key. */
export class Heap {
  private keys = new Float64Array(256);
  private items = new Int32Array(256);
  private count = 0;
  /** Of the item that was removed last. */
  key = 0;

  get size(): number {
    return this.count;
  }

  push(key: number, item: number): void {
    if (this.count === this.keys.length) this.makeRoom();
    const { keys, items } = this;
    let i = this.count++;
    while (i > 0) {
      const parent = ((i - 1) / ARITY) | 0;
      if (keys[parent]! <= key) break;
      keys[i] = keys[parent]!;
      items[i] = items[parent]!;
      i = parent;
    }
    keys[i] = key;
    items[i] = item;
  }

  /** Removes the least; its key is left in `key`. */
  pop(): number {
    const { keys, items } = this;
    const top = items[0]!;
    this.key = keys[0]!;
    const n = --this.count;
    const key = keys[n]!;
    let i = 0;
    for (;;) {
      const first = ARITY * i + 1;
      if (first >= n) break;
      let least = first;
      const last = Math.min(n, first + ARITY);
      for (let child = first + 1; child < last; child++) if (keys[child]! < keys[least]!) least = child;
      if (keys[least]! >= key) break;
      keys[i] = keys[least]!;
      items[i] = items[least]!;
      i = least;
    }
    keys[i] = key;
    items[i] = items[n]!;
    return top;
  }

  private makeRoom(): void {
    const [keys, items] = [this.keys, this.items];
    this.keys = new Float64Array(2 * keys.length);
    this.items = new Int32Array(2 * items.length);
    this.keys.set(keys);
    this.items.set(items);
  }
}

/** A graph in compressed rows: neighbours of i at start[i] .. start[i + 1] - 1, with the link each is reached by. */
export interface Graph {
  readonly n: number;
  readonly start: Uint32Array;
  readonly to: Uint32Array;
  readonly link: Uint32Array;
}

/** Builds a graph from links given as pairs; pairs with a negative end are left out. */
export function graphOf(n: number, a: ArrayLike<number>, b: ArrayLike<number>): Graph {
  const start = new Uint32Array(n + 1);
  for (let i = 0; i < a.length; i++) {
    if (a[i]! < 0 || b[i]! < 0) continue;
    start[a[i]! + 1]!++;
    start[b[i]! + 1]!++;
  }
  for (let i = 0; i < n; i++) start[i + 1]! += start[i]!;
  const fill = start.slice(0, n);
  const to = new Uint32Array(start[n]!);
  const link = new Uint32Array(start[n]!);
  for (let i = 0; i < a.length; i++) {
    if (a[i]! < 0 || b[i]! < 0) continue;
    to[fill[a[i]!]!] = b[i]!;
    link[fill[a[i]!]!++] = i;
    to[fill[b[i]!]!] = a[i]!;
    link[fill[b[i]!]!++] = i;
  }
  return { n, start, to, link };
}

export interface Paths {
  readonly distance: Float64Array;
  /** Link by which each node was reached, -1 at sources and where none leads. */
  readonly via: Int32Array;
  readonly before: Int32Array;
}

/**
 * Shortest paths from a set of sources, found as far as they are asked for: what was found is kept, so that all that is
 * asked together costs no more than finding every path once.
 *
 * Source: E. Dijkstra, A note on two problems in connexion with graphs (1959).
 */
export class PathSearch implements Paths {
  readonly distance: Float64Array;
  readonly via: Int32Array;
  readonly before: Int32Array;
  private readonly heap = new Heap();
  /** No node that is not settled is nearer than this. */
  private front = 0;

  /** @param cost per link, not negative */
  constructor(
    private readonly graph: Graph,
    private readonly cost: ArrayLike<number>,
    sources: Iterable<number>,
  ) {
    this.distance = new Float64Array(graph.n).fill(Infinity);
    this.via = new Int32Array(graph.n).fill(-1);
    this.before = new Int32Array(graph.n).fill(-1);
    for (const s of sources) {
      this.distance[s] = 0;
      this.heap.push(0, s);
    }
  }

  /** Goes on until the path to a node is known, or to all nodes. @returns whether one leads there */
  reach(target = -1): boolean {
    this.settle(target, Infinity);
    return target < 0 || Number.isFinite(this.distance[target]!);
  }

  /** Goes on by so many nodes, for paths that will be asked for. @returns whether there is more to be found */
  goOn(nodes: number): boolean {
    this.settle(-1, nodes);
    return this.heap.size > 0;
  }

  private settle(target: number, most: number): void {
    const { graph, cost, heap, distance, via, before } = this;
    for (let left = most; left > 0 && heap.size && (target < 0 || distance[target]! > this.front); left--) {
      const i = heap.pop();
      if (heap.key > distance[i]!) continue;
      this.front = heap.key;
      for (let k = graph.start[i]!; k < graph.start[i + 1]!; k++) {
        const j = graph.to[k]!;
        const d = distance[i]! + cost[graph.link[k]!]!;
        if (d >= distance[j]!) continue;
        distance[j] = d;
        via[j] = graph.link[k]!;
        before[j] = i;
        heap.push(d, j);
      }
    }
  }

  /** Links of the path to a node, from the source on; null where none leads there. */
  linksTo(target: number): number[] | null {
    if (!this.reach(target)) return null;
    const out: number[] = [];
    for (let v = target; this.before[v]! >= 0; v = this.before[v]!) out.push(this.via[v]!);
    return out.reverse();
  }
}

/** All shortest paths from a set of sources. @param cost per link, not negative */
export function shortestPaths(graph: Graph, cost: ArrayLike<number>, sources: Iterable<number>): Paths {
  const search = new PathSearch(graph, cost, sources);
  search.reach();
  return search;
}
