/** Binary heap of items by key, least first; an item may be entered again with a lower key. */
export class Heap {
  private keys: number[] = [];
  private items: number[] = [];

  get size(): number {
    return this.items.length;
  }

  push(key: number, item: number): void {
    const { keys, items } = this;
    let i = items.length;
    keys.push(key);
    items.push(item);
    while (i > 0) {
      const parent = (i - 1) >> 1;
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
    const key = keys.pop()!;
    const item = items.pop()!;
    const n = items.length;
    if (n) {
      let i = 0;
      for (;;) {
        let child = 2 * i + 1;
        if (child >= n) break;
        if (child + 1 < n && keys[child + 1]! < keys[child]!) child++;
        if (keys[child]! >= key) break;
        keys[i] = keys[child]!;
        items[i] = items[child]!;
        i = child;
      }
      keys[i] = key;
      items[i] = item;
    }
    return top;
  }

  key = 0;
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
 * Shortest paths from a set of sources.
 *
 * @param cost per link, not negative
 * Source: E. Dijkstra, A note on two problems in connexion with graphs (1959).
 */
export function shortestPaths(graph: Graph, cost: ArrayLike<number>, sources: Iterable<number>): Paths {
  const distance = new Float64Array(graph.n).fill(Infinity);
  const via = new Int32Array(graph.n).fill(-1);
  const before = new Int32Array(graph.n).fill(-1);
  const heap = new Heap();
  for (const s of sources) {
    distance[s] = 0;
    heap.push(0, s);
  }
  while (heap.size) {
    const i = heap.pop();
    if (heap.key > distance[i]!) continue;
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
  return { distance, via, before };
}
