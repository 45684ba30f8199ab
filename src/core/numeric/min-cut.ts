import type { Graph } from "./heap";

/**
 * The side of the sources in a cut of least capacity between two sets of nodes of an undirected graph.
 *
 * @param capacity per link
 * @param side 1 for sources, 2 for sinks, 0 for the rest, per node
 * @returns 1 per node on the sources' side
 * Source: Y. Dinitz, Algorithm for solution of a problem of maximum flow in networks (1970).
 */
export function minCut(graph: Graph, capacity: Float64Array, side: Uint8Array): Uint8Array {
  const { n, start, to, link } = graph;
  // Flow along a link is signed: positive in the direction of the node that comes first in `forward`.
  const forward = new Int32Array(capacity.length).fill(-1);
  for (let i = 0; i < n; i++)
    for (let k = start[i]!; k < start[i + 1]!; k++) if (forward[link[k]!] === -1) forward[link[k]!] = i;
  const flow = new Float64Array(capacity.length);
  const room = (i: number, l: number) => capacity[l]! - (forward[l] === i ? flow[l]! : -flow[l]!);
  const tiny = capacity.reduce((a, b) => Math.max(a, b), 0) * 1e-9;
  const level = new Int32Array(n);
  const at = new Uint32Array(n);

  const grade = (): boolean => {
    level.fill(-1);
    const queue: number[] = [];
    for (let i = 0; i < n; i++) {
      if (side[i] !== 1) continue;
      level[i] = 0;
      queue.push(i);
    }
    let reached = false;
    for (let q = 0; q < queue.length; q++) {
      const i = queue[q]!;
      if (side[i] === 2) {
        reached = true;
        continue;
      }
      for (let k = start[i]!; k < start[i + 1]!; k++) {
        const j = to[k]!;
        if (level[j] !== -1 || room(i, link[k]!) <= tiny) continue;
        level[j] = level[i]! + 1;
        queue.push(j);
      }
    }
    return reached;
  };

  const path: number[] = [];
  /** Pushes flow along one path of rising levels from source s; false when none is left. */
  const augment = (s: number): boolean => {
    path.length = 0;
    let i = s;
    for (;;) {
      if (side[i] === 2) break;
      let advanced = false;
      for (; at[i]! < start[i + 1]!; at[i]!++) {
        const k = at[i]!;
        if (level[to[k]!] !== level[i]! + 1 || room(i, link[k]!) <= tiny) continue;
        path.push(k, i);
        i = to[k]!;
        advanced = true;
        break;
      }
      if (advanced) continue;
      if (!path.length) return false;
      i = path.pop()!;
      path.pop();
      at[i]!++;
    }
    let least = Infinity;
    for (let p = 0; p < path.length; p += 2) least = Math.min(least, room(path[p + 1]!, link[path[p]!]!));
    for (let p = 0; p < path.length; p += 2) {
      const l = link[path[p]!]!;
      flow[l]! += forward[l] === path[p + 1] ? least : -least;
    }
    return true;
  };

  while (grade()) {
    for (let i = 0; i < n; i++) at[i] = start[i]!;
    for (let i = 0; i < n; i++) if (side[i] === 1) while (augment(i));
  }
  return Uint8Array.from(level, (l) => (l >= 0 ? 1 : 0));
}
