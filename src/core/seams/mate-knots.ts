import { getBit } from "../layout/bits";
import { edgeEnds, type Layout, structureOf } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { groupsOf } from "../select/groups";
import { flagsAt } from "../select/grow";

/** Where a run of seam lies on its two sides: the middle of its middle edge. */
export interface MateKnot {
  /** u, v. */
  readonly a: readonly [number, number];
  readonly b: readonly [number, number];
}

/** Pairs of places, one for every run of seam between the same two shells among some edges; the longest run first. */
export function mateKnots(mesh: PolyMesh, layout: Layout, edges: Iterable<number>, uv = layout.uv): MateKnot[] {
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const byPair = new Map<string, number[]>();
  for (const e of edges) {
    if (edgeFaceCount(t, e as Edge) !== 2 || !getBit(layout.cut, e)) continue;
    const k = t.edgeCornerStart[e]!;
    const faces = [0, 1].map((side) => t.cornerFace[t.edgeCorners[k + side]!]!);
    if (!faces.every((f) => getBit(layout.mapped, f))) continue;
    const pair = faces
      .map((f) => s.faceShell[f]!)
      .sort((a, b) => a - b)
      .join();
    byPair.set(pair, [...(byPair.get(pair) ?? []), e]);
  }
  const runs = [...byPair.values()].flatMap((own) =>
    groupsOf(mesh, "edges", flagsAt(Uint32Array.from(own), t.edgeCount)),
  );
  runs.sort((a, b) => b.length - a.length || a[0]! - b[0]!);
  return runs.map((run) => {
    const e = middleOf(run, t.edgeVertices);
    const [a0, a1, b0, b1] = edgeEnds(mesh, t, e as Edge);
    const between = (c: number, d: number): [number, number] => {
      const [p, q] = [2 * s.cornerWedge[c]!, 2 * s.cornerWedge[d]!];
      return [(uv[p]! + uv[q]!) / 2, (uv[p + 1]! + uv[q + 1]!) / 2];
    };
    return { a: between(a0, a1), b: between(b0, b1) };
  });
}

/** The edge halfway along a run, walked from one of its ends; of one that closes or branches, from anywhere. */
function middleOf(run: Uint32Array, edgeVertices: Uint32Array): number {
  const at = new Map<number, number[]>();
  for (const e of run)
    for (const v of [edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!]) at.set(v, [...(at.get(v) ?? []), e]);
  let v = [...at].find(([, own]) => own.length === 1)?.[0] ?? edgeVertices[2 * run[0]!]!;
  const order: number[] = [];
  const done = new Set<number>();
  for (;;) {
    const e = at.get(v)!.find((x) => !done.has(x));
    if (e === undefined) break;
    done.add(e);
    order.push(e);
    v = edgeVertices[2 * e]! === v ? edgeVertices[2 * e + 1]! : edgeVertices[2 * e]!;
  }
  return order[order.length >> 1]!;
}
