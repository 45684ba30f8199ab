import { getBit } from "../layout/bits";
import { edgeEnds, type Layout, structureOf } from "../layout/layout";
import { DEFAULT_TILES, resolutionAt, type Tiles } from "../layout/tiles";
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
  /** How many times as long the run is on the side of a as on that of b, in texels: 1 where the texture meets. */
  readonly ratio: number;
}

/** Pairs of places, one for every run of seam between the same two shells among some edges; the longest run first. */
export function mateKnots(
  mesh: PolyMesh,
  layout: Layout,
  edges: Iterable<number>,
  { uv = layout.uv, tiles = DEFAULT_TILES }: { readonly uv?: Float64Array; readonly tiles?: Tiles } = {},
): MateKnot[] {
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
    const a = between(a0, a1);
    const b = between(b0, b1);
    const [own, its] = lengthsOf(mesh, layout, run, uv);
    const texels = own * resolutionAt(tiles, ...a);
    const mates = its * resolutionAt(tiles, ...b);
    return { a, b, ratio: mates > 0 ? texels / mates : 1 };
  });
}

/** Lengths on the sheet of a run on its two sides: on that of the shell of the first face of its middle edge, and across. */
function lengthsOf(mesh: PolyMesh, layout: Layout, run: Uint32Array, uv: Float64Array): [number, number] {
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const shellOf = (c: number) => s.faceShell[t.cornerFace[c]!]!;
  const first = shellOf(edgeEnds(mesh, t, middleOf(run, t.edgeVertices) as Edge)[0]!);
  const length = (c: number, d: number) => {
    const [p, q] = [2 * s.cornerWedge[c]!, 2 * s.cornerWedge[d]!];
    return Math.sqrt((uv[p]! - uv[q]!) ** 2 + (uv[p + 1]! - uv[q + 1]!) ** 2);
  };
  let [own, its] = [0, 0];
  for (const e of run) {
    const [a0, a1, b0, b1] = edgeEnds(mesh, t, e as Edge);
    const isOwn = shellOf(a0!) === first;
    own += isOwn ? length(a0!, a1!) : length(b0!, b1!);
    its += isOwn ? length(b0!, b1!) : length(a0!, a1!);
  }
  return [own, its];
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
