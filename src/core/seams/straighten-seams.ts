import type { Chain, SeamGraph } from "./seam-graph";
import type { SeamWays } from "./seam-ways";

const MOST_ROUNDS = 4;
/** Of a seam's weight: what straightening has to save. */
const LEAST = 1e-3;

/**
 * Leads every seam between its two ends along the way of least weight within the shells beside it. Disks stay disks: two
 * that are joined along one seam are one disk, which any way between two points of its border parts again, and one that is
 * joined to itself is a ring, which a way between its two borders opens again.
 *
 * Shells keep no maps: what they come to is not looked at.
 *
 * @param mayMove whether the seam along an edge may be moved
 * @param onChain called for every seam; throws to stop
 * @returns how many edges were taken off
 */
export function straightenSeams(
  graph: SeamGraph,
  ways: SeamWays,
  mayMove: (edge: number) => boolean,
  onChain: () => void = () => {},
): number {
  let changed = 0;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let moved = 0;
    for (const chain of graph.chains()) {
      onChain();
      const count = chain.edges.every(mayMove) ? straightenChain(graph, ways, chain) : 0;
      moved += count;
    }
    changed += moved;
    if (!moved) break;
  }
  return changed;
}

function straightenChain(graph: SeamGraph, ways: SeamWays, chain: Chain): number {
  // The list is of the beginning of the round: its shells may be others by now.
  if (chain.isClosed || chain.edges.length < 2) return 0;
  const [a, b] = graph.sides(chain.edges[0]!);
  const way = ways.straightened({ ...chain, a, b });
  if (!way) return 0;
  const [now, before] = [new Set(way), new Set(chain.edges)];
  const change = { off: chain.edges.filter((e) => !now.has(e)), on: way.filter((e) => !before.has(e)) };
  if (!change.off.length || ways.saving(change) < LEAST * graph.weightOf(chain.edges)) return 0;
  const shells = a === b ? [a] : [a, b];
  const { groups } = graph.after(change, shells);
  graph.take(change, shells, groups.map(bare));
  return change.off.length;
}

/** A shell without a map. */
export const bare = (faces: Uint32Array) => ({ faces, area: 0, energy: 1, tail: 1, cornerUv: new Float64Array(0) });
