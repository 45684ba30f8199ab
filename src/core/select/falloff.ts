import { type Layout, type Structure, structureOf } from "../layout/layout";
import { Derived } from "../mesh/derived";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { type Graph, graphOf, Heap } from "../numeric/heap";

/** How an edit fades out: with level ends, evenly, or steeply at first. */
export const FALLOFF_CURVES = ["smooth", "even", "sharp"] as const;
export type FalloffCurve = (typeof FALLOFF_CURVES)[number];

export interface Falloff {
  /** In tiles; 0 for none: then what is picked moves alone. */
  readonly radius: number;
  readonly curve: FalloffCurve;
}

/** Points of a layout with how much of an edit each takes, above 0 and at the most 1. */
export interface Weights {
  readonly wedges: Uint32Array;
  readonly weights: Float64Array;
}

/** The weight at a share of the radius, 0 at what is picked and 1 at the end. */
export function falloffAt(curve: FalloffCurve, share: number): number {
  const left = 1 - share;
  if (curve === "even") return left;
  return curve === "sharp" ? left * left : left * left * (3 - 2 * left);
}

const graphs = new Derived<Structure, Graph>("UV points beside each other");

/** UV points along the edges of shells. In linear time, kept with the structure. */
function pointGraph(mesh: PolyMesh, s: Structure): Graph {
  const known = graphs.get(s);
  if (known) return known;
  const { cornerNext } = topologyOf(mesh);
  const next = Uint32Array.from(cornerNext, (c) => s.cornerWedge[c]!);
  const graph = graphOf(s.wedgeCount, s.cornerWedge, next);
  graphs.set(s, graph);
  return graph;
}

/**
 * Weights of the points about those that are picked, by how far each lies in the sheet from the nearest of them. Only what
 * hangs together with it within the radius is reached: another limb that comes near is not. Each point hands its nearest
 * picked one on to its neighbours, in the order of distance; time grows with what is reached.
 *
 * @param picked wedges
 */
export function falloffWeights(
  mesh: PolyMesh,
  layout: Layout,
  picked: Iterable<number>,
  { radius, curve }: Falloff,
): Weights {
  const { uv } = layout;
  const sources = Uint32Array.from(new Set(picked));
  if (!(radius > 0)) return { wedges: sources, weights: new Float64Array(sources.length).fill(1) };
  const { start, to } = pointGraph(mesh, structureOf(mesh, layout));
  const nearest = new Map<number, number>();
  const done = new Map<number, number>();
  const heap = new Heap();
  const away = (w: number, source: number) =>
    Math.hypot(uv[2 * w]! - uv[2 * source]!, uv[2 * w + 1]! - uv[2 * source + 1]!);
  for (const w of sources) {
    nearest.set(w, w);
    heap.push(0, w);
  }
  while (heap.size) {
    const w = heap.pop();
    if (done.has(w)) continue;
    done.set(w, heap.key);
    const source = nearest.get(w)!;
    for (let k = start[w]!; k < start[w + 1]!; k++) {
      const other = to[k]!;
      if (done.has(other)) continue;
      const d = away(other, source);
      const before = nearest.get(other);
      if (d >= radius || (before !== undefined && away(other, before) <= d)) continue;
      nearest.set(other, source);
      heap.push(d, other);
    }
  }
  return {
    wedges: Uint32Array.from(done.keys()),
    weights: Float64Array.from(done.values(), (d) => falloffAt(curve, Math.min(1, d / radius))),
  };
}
