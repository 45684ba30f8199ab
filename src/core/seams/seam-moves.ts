import type { Chain, Change, SeamGraph } from "./seam-graph";
import type { SeamWays } from "./seam-ways";

/** A change of seams worth trying, and the shells it touches. */
export interface Move extends Change {
  readonly kind: "merge" | "part" | "zip" | "straighten" | "slide" | "cut" | "dart";
  readonly shells: readonly number[];
}

/** Edges from which on half a seam is worth taking off. */
const PARTS_FROM = 4;
/** Shares of a chain that are taken off where not all of it can be. */
const PARTS = [
  [0, 0.5],
  [0.5, 1],
  [0.25, 0.75],
] as const;
const PARTS_OF_LOOP = [
  [0, 0.75],
  [0.5, 1.25],
  [0, 0.5],
] as const;
const ZIPS = [1, 0.5, 0.2] as const;

/** What may be done about one chain. @param kinds those that are wanted; all when not given */
export function movesOfChain(
  graph: SeamGraph,
  ways: SeamWays,
  chain: Chain,
  mayMove: (e: number) => boolean,
  kinds?: ReadonlySet<Move["kind"]>,
): Move[] {
  if (!chain.edges.every(mayMove)) return [];
  const shells = chain.a === chain.b ? [chain.a] : [chain.a, chain.b];
  const out: Move[] = [];
  const wants = (kind: Move["kind"]) => kinds?.has(kind) ?? true;
  const add = (kind: Move["kind"], off: readonly number[], on: readonly number[] = []) => {
    if (wants(kind) && (off.length || on.length)) out.push({ kind, off, on, shells });
  };
  if (chain.a !== chain.b) {
    add("merge", chain.edges);
    const n = chain.edges.length;
    if (n >= PARTS_FROM)
      for (const [from, to] of chain.isClosed ? PARTS_OF_LOOP : PARTS)
        add(
          "part",
          Array.from({ length: Math.round((to - from) * n) }, (_, i) => chain.edges[(Math.round(from * n) + i) % n]!),
        );
  } else zips(graph, chain, add);
  if (!chain.isClosed) {
    if (wants("straighten") && chain.edges.length > 1) moved("straighten", chain, ways.straightened(chain), add);
    if (wants("slide"))
      for (const keepsFirst of [true, false]) moved("slide", chain, ways.slid(chain, keepsFirst), add);
  }
  return out;
}

type Add = (kind: Move["kind"], off: readonly number[], on?: readonly number[]) => void;

/** Takes a slit back from its free end, whole or in part. */
function zips(graph: SeamGraph, { edges, vertices }: Chain, add: Add): void {
  const isFree = (v: number) => graph.degree[v] === 1 && !graph.field.onBorder[v];
  const tries: Array<readonly number[]> = [];
  if (isFree(vertices[0]!)) tries.push(edges);
  if (isFree(vertices.at(-1)!)) tries.push([...edges].reverse());
  for (const list of tries) {
    const counts = new Set(ZIPS.map((share) => Math.ceil(share * list.length)));
    for (const count of counts) add("zip", list.slice(0, count));
  }
}

function moved(kind: Move["kind"], { edges }: Chain, way: readonly number[] | null, add: Add): void {
  if (!way) return;
  const [now, before] = [new Set(way), new Set(edges)];
  const off = edges.filter((e) => !now.has(e));
  if (off.length)
    add(
      kind,
      off,
      way.filter((e) => !before.has(e)),
    );
}

/** Moves that take seams off, whole or in part, and put none on. */
export const JOINS: ReadonlySet<Move["kind"]> = new Set(["merge", "part", "zip"] as const);
