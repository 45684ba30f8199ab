import { triangleArea, trianglesOf } from "../mesh/triangulate";
import { length3 } from "../numeric/length";
import { triangleEnergy } from "../unfold/triangle-energy";
import { CREASE } from "./flow";
import type { GraphShell, SeamGraph } from "./seam-graph";
import type { Move } from "./seam-moves";
import type { SeamWays } from "./seam-ways";

/** Creases that are tried as cuts in one shell, and most stretched spots that darts are led to. */
const MOST_CREASES = 24;
const DARTS = 3;
/** Of the root of a shell's area: how far apart such spots lie. */
const APART = 0.15;
/** Edges from which on half of a crease is tried too. */
const HALVES_FROM = 6;

/** Cuts worth trying in a shell that is stretched: along creases that begin on its border, and darts to where it is stretched most. */
export function cutsOfShell(graph: SeamGraph, ways: SeamWays, id: number): Move[] {
  const shell = graph.shells.get(id)!;
  if (shell.faces.length < 4) return [];
  const inner = innerEdges(graph, shell);
  return [
    ...creasesFrom(graph, inner).flatMap((chain): Move[] => {
      const whole: Move = { kind: "cut", off: [], on: chain, shells: [id] };
      return chain.length < HALVES_FROM ? [whole] : [whole, { ...whole, on: chain.slice(0, chain.length >> 1) }];
    }),
    ...darts(graph, ways, shell, new Set(inner)).map((on): Move => ({ kind: "dart", off: [], on, shells: [id] })),
  ];
}

function innerEdges(graph: SeamGraph, { faces }: GraphShell): number[] {
  const { mesh, topology: t } = graph.field;
  const out = new Set<number>();
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
      if (graph.isInner(t.cornerEdge[c]!)) out.add(t.cornerEdge[c]!);
  return [...out];
}

/** Runs of creases that begin on the shell's border, up to where they branch, end or come to it again. */
function creasesFrom(graph: SeamGraph, inner: readonly number[]): number[][] {
  const { field } = graph;
  const { edgeVertices } = field.topology;
  const at = new Map<number, number[]>();
  const creases = inner.filter((e) => field.angle[e]! > CREASE);
  for (const e of creases)
    for (const v of [edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!]) at.set(v, [...(at.get(v) ?? []), e]);
  const done = new Set<number>();
  const out: number[][] = [];
  for (const first of creases)
    for (const from of [edgeVertices[2 * first]!, edgeVertices[2 * first + 1]!]) {
      if (done.has(first) || !graph.isOnLine(from) || out.length === MOST_CREASES) continue;
      const chain = [first];
      done.add(first);
      let v = graph.otherEnd(first, from);
      for (let e = first; !graph.isOnLine(v) && at.get(v)!.length === 2; ) {
        const next = at.get(v)!.find((x) => x !== e)!;
        if (done.has(next)) break;
        done.add(next);
        chain.push(next);
        v = graph.otherEnd(next, v);
        e = next;
      }
      out.push(chain);
    }
  return out;
}

/** Ways from the most stretched spots of a shell to its border. */
function darts(graph: SeamGraph, ways: SeamWays, shell: GraphShell, inner: ReadonlySet<number>): number[][] {
  const { world } = graph.field;
  const far = APART * Math.sqrt(shell.area);
  const spots: number[] = [];
  for (const v of byStretch(graph, shell)) {
    if (spots.length === DARTS) break;
    const near = (w: number) =>
      length3(
        world[3 * v]! - world[3 * w]!,
        world[3 * v + 1]! - world[3 * w + 1]!,
        world[3 * v + 2]! - world[3 * w + 2]!,
      ) < far;
    if (!spots.some(near)) spots.push(v);
  }
  return spots.flatMap((v) => {
    const way = ways.from(
      v,
      (w) => graph.isOnLine(w),
      (e) => inner.has(e),
      () => true,
    );
    return way ? [way] : [];
  });
}

/** Vertices inside a shell, the most stretched first. */
function byStretch(graph: SeamGraph, shell: GraphShell): number[] {
  const { mesh, world } = graph.field;
  const t = trianglesOf(mesh);
  const sums = new Map<number, { energy: number; area: number }>();
  let at = 0;
  for (const f of shell.faces) {
    const shift = at - mesh.faceStart[f]!;
    at += mesh.faceStart[f + 1]! - mesh.faceStart[f]!;
    for (let k = 3 * t.faceStart[f]!; k < 3 * t.faceStart[f + 1]!; k += 3) {
      const corners = [t.corners[k]!, t.corners[k + 1]!, t.corners[k + 2]!] as const;
      const vertices = corners.map((c) => mesh.cornerVertex[c]!);
      const own = corners.map((c) => c + shift);
      const energy = triangleEnergy(world, vertices, shell.cornerUv, own);
      const area = triangleArea(mesh, world, t.corners, k);
      for (const v of vertices) {
        const sum = sums.get(v);
        if (sum) {
          sum.energy += energy * area;
          sum.area += area;
        } else sums.set(v, { energy: energy * area, area });
      }
    }
  }
  const density = (v: number) => sums.get(v)!.energy / (sums.get(v)!.area || 1);
  return [...sums.keys()].filter((v) => !graph.isOnLine(v)).sort((a, b) => density(b) - density(a) || a - b);
}
