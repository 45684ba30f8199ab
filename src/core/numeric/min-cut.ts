import type { Graph } from "./heap";

/**
 * The side of the sources in a cut of least capacity between two sets of nodes of an undirected graph.
 *
 * @param capacity per link
 * @param side 1 for sources, 2 for sinks, 0 for the rest, per node
 * @returns 1 per node on the sources' side: of all least cuts the one nearest to them
 * Source: Boykov, Kolmogorov, An experimental comparison of min-cut/max-flow algorithms for energy minimization in
 * vision (2004): two trees grow from either side, and are repaired, not grown again, after flow was pushed.
 */
export function minCut(graph: Graph, capacity: Float64Array, side: Uint8Array): Uint8Array {
  const trees = new Trees(graph, capacity, side);
  trees.run();
  return Uint8Array.from(trees.tree, (t) => (t === SOURCE ? 1 : 0));
}

const SOURCE = 1;
/** In place of the arc to a parent: a node that needs none, and one that has none. */
const ROOT = -2;
const NOBODY = -1;

class Trees {
  /** 1 for nodes reached from the sources, 2 for those that reach the sinks, 0 for the rest. */
  readonly tree: Uint8Array;
  /** What may still flow along each arc (a link in one direction), and its arc in the other. */
  private readonly room: Float64Array;
  private readonly back: Uint32Array;
  /** The arc from every node to its parent in its tree. */
  private readonly parent: Int32Array;
  /** When a node was last known to hang on a root, and how far from it. */
  private readonly time: Uint32Array;
  private readonly far: Uint32Array;
  private now = 1;
  private readonly tiny: number;
  /** Nodes from which a tree may grow, in a ring. */
  private readonly active: Uint32Array;
  private readonly isActive: Uint8Array;
  private first = 0;
  private count = 0;
  private readonly orphans: number[] = [];

  constructor(
    private readonly graph: Graph,
    capacity: Float64Array,
    side: Uint8Array,
  ) {
    const { n, start, to, link } = graph;
    this.room = Float64Array.from(link, (l) => capacity[l]!);
    this.back = new Uint32Array(to.length);
    const other = new Int32Array(capacity.length).fill(-1);
    for (let k = 0; k < to.length; k++) {
      const mate = other[link[k]!]!;
      other[link[k]!] = k;
      if (mate === -1) continue;
      this.back[k] = mate;
      this.back[mate] = k;
    }
    this.tiny = capacity.reduce((a, b) => Math.max(a, b), 0) * 1e-9;
    this.tree = side.slice();
    this.parent = Int32Array.from(side, (s) => (s ? ROOT : NOBODY));
    this.time = new Uint32Array(n);
    this.far = new Uint32Array(n);
    this.active = new Uint32Array(n);
    this.isActive = new Uint8Array(n);
    // Roots among their like have nothing to do.
    for (let i = 0; i < n; i++)
      for (let k = start[i]!; side[i] && k < start[i + 1]!; k++) if (side[to[k]!] !== side[i]) this.activate(i);
  }

  private activate(i: number): void {
    if (this.isActive[i]) return;
    this.isActive[i] = 1;
    this.active[(this.first + this.count++) % this.active.length] = i;
  }

  run(): void {
    while (this.count) {
      const i = this.active[this.first]!;
      const arc = this.tree[i] ? this.grow(i) : NOBODY;
      if (arc === NOBODY) {
        this.isActive[i] = 0;
        this.first = (this.first + 1) % this.active.length;
        this.count--;
        continue;
      }
      this.now++;
      this.push(arc);
      while (this.orphans.length) this.adopt(this.orphans.pop()!);
    }
  }

  /** Takes the neighbours of a node into its tree. @returns the arc over which the two trees meet, if they do */
  private grow(i: number): number {
    const { tree, room, back, parent, time, far, tiny } = this;
    const { start, to } = this.graph;
    const own = tree[i]!;
    for (let k = start[i]!; k < start[i + 1]!; k++) {
      if ((own === SOURCE ? room[k]! : room[back[k]!]!) <= tiny) continue;
      const j = to[k]!;
      if (tree[j] === 0) {
        tree[j] = own;
        parent[j] = back[k]!;
        time[j] = time[i]!;
        far[j] = far[i]! + 1;
        this.activate(j);
      } else if (tree[j] !== own) return own === SOURCE ? k : back[k]!;
      else if (time[j]! <= time[i]! && far[j]! > far[i]! && parent[j] !== ROOT) {
        // A shorter way to a root.
        parent[j] = back[k]!;
        time[j] = time[i]!;
        far[j] = far[i]! + 1;
      }
    }
    return NOBODY;
  }

  /** Pushes what can flow from a source to a sink over an arc between the trees. */
  private push(arc: number): void {
    const { room, back, parent, tiny, orphans } = this;
    const { to } = this.graph;
    const [from, into] = [to[back[arc]!]!, to[arc]!];
    let most = room[arc]!;
    for (let i = from; parent[i] !== ROOT; i = to[parent[i]!]!) most = Math.min(most, room[back[parent[i]!]!]!);
    for (let i = into; parent[i] !== ROOT; i = to[parent[i]!]!) most = Math.min(most, room[parent[i]!]!);
    room[arc]! -= most;
    room[back[arc]!]! += most;
    const along = (start: number, toRoot: boolean): void => {
      for (let i = start; parent[i] !== ROOT; ) {
        const k = parent[i]!;
        const next = to[k]!;
        const flows = toRoot ? k : back[k]!;
        room[flows]! -= most;
        room[back[flows]!]! += most;
        if (room[flows]! <= tiny) {
          parent[i] = NOBODY;
          orphans.push(i);
        }
        i = next;
      }
    };
    along(from, false);
    along(into, true);
  }

  /** Finds a node whose arc to its parent is full another parent of its tree, or sets it free. */
  private adopt(i: number): void {
    const { tree, room, back, parent, time, far, tiny, orphans } = this;
    const { start, to } = this.graph;
    const own = tree[i]!;
    let best = NOBODY;
    let least = Number.POSITIVE_INFINITY;
    for (let k = start[i]!; k < start[i + 1]!; k++) {
      const j = to[k]!;
      if (tree[j] !== own || (own === SOURCE ? room[back[k]!]! : room[k]!) <= tiny) continue;
      const distance = this.distanceOf(j);
      if (distance >= least) continue;
      least = distance;
      best = k;
    }
    if (best !== NOBODY) {
      parent[i] = best;
      time[i] = this.now;
      far[i] = least + 1;
      return;
    }
    tree[i] = 0;
    for (let k = start[i]!; k < start[i + 1]!; k++) {
      const j = to[k]!;
      if (tree[j] !== own) continue;
      if ((own === SOURCE ? room[back[k]!]! : room[k]!) > tiny) this.activate(j);
      if (parent[j] !== ROOT && parent[j] !== NOBODY && to[parent[j]!] === i) {
        parent[j] = NOBODY;
        orphans.push(j);
      }
    }
  }

  /** Steps from a node to the root it hangs on; Infinity when it hangs on none. Marks the way, so that it is gone once. */
  private distanceOf(start: number): number {
    const { parent, time, far, now } = this;
    const { to } = this.graph;
    let steps = 0;
    let i = start;
    while (time[i] !== now) {
      if (parent[i] === ROOT) {
        time[i] = now;
        far[i] = 0;
        break;
      }
      if (parent[i] === NOBODY) return Number.POSITIVE_INFINITY;
      steps++;
      i = to[parent[i]!]!;
    }
    const distance = steps + far[i]!;
    let left = distance;
    for (i = start; time[i] !== now; i = to[parent[i]!]!) {
      time[i] = now;
      far[i] = left--;
    }
    return distance;
  }
}
