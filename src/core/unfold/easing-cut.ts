import { type Graph, graphOf, PathSearch } from "../numeric/heap";
import { length3 } from "../numeric/length";
import { formOf, type ShellMesh } from "./shell-mesh";
import { unfoldShell } from "./unfold-shell";

/** Of the border's points, those on both sides of where the sheets part that the cut does not begin or end at. */
const GAP = 0.02;

/**
 * The cut that parts a shell which would lie over itself, where it covers the most of itself: a way along edges from border
 * to border between the two sheets.
 *
 * @param map 2 a point: without flips, over itself @param loop the border, in the direction of the faces
 * @returns points of the way, or null where nothing is covered or no way leads between
 */
export function easingCut(shell: ShellMesh, map: Float64Array, loop: readonly number[]): number[] | null {
  const over = coveredBy(shell, map, loop);
  const { positions } = shell;
  const middle = middleOfLongestRun(over, loop, positions);
  if (middle < 0) return null;
  const { graph, lengths } = edgesOf(shell);
  const place = new Int32Array(positions.length / 3).fill(-1);
  loop.forEach((v, i) => {
    place[v] = i;
  });
  // The border point of the other sheet that is nearest to what lies over the middle.
  const near = new PathSearch(graph, lengths, [shell.triangles[over[middle]!]!]);
  near.reach();
  const other = loop.reduce((best, v) => (near.distance[v]! < near.distance[best]! ? v : best), loop[0]!);
  return wayBetween(graph, lengths, loop, place, Math.min(middle, place[other]!), Math.max(middle, place[other]!));
}

/** Times the energy that a shell has when it may lie over itself, from which on a cut is worth telling. */
export const WORTH = 1.01;

/** The cut that would let a shell lie flat with less stretch, where keeping it beside itself costs that much; else null. */
export function cutWorthTelling(shell: ShellMesh, energy: number, passes: number): number[] | null {
  const { loops, isDisk } = formOf(shell);
  if (!isDisk) return null;
  const free = unfoldShell(shell, { passes, overItself: true });
  if (!free.ok || energy < WORTH * free.energy) return null;
  return easingCut(shell, free.uv, loops[0]!);
}

/** The triangle that covers each point of the border from another sheet, as its first corner's place; -1 for none. */
function coveredBy({ triangles }: ShellMesh, map: Float64Array, loop: readonly number[]): Int32Array {
  const over = new Int32Array(loop.length).fill(-1);
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const p of loop) {
    u0 = Math.min(u0, map[2 * p]!);
    u1 = Math.max(u1, map[2 * p]!);
    v0 = Math.min(v0, map[2 * p + 1]!);
    v1 = Math.max(v1, map[2 * p + 1]!);
  }
  const size = Math.sqrt(((u1 - u0) * (v1 - v0)) / loop.length / 4) || 1;
  const columns = Math.floor((u1 - u0) / size) + 1;
  const rows = Math.floor((v1 - v0) / size) + 1;
  const column = (u: number) => Math.min(columns - 1, Math.max(0, Math.floor((u - u0) / size)));
  const row = (v: number) => Math.min(rows - 1, Math.max(0, Math.floor((v - v0) / size)));
  const cells = new Map<number, number[]>();
  loop.forEach((p, i) => {
    const cell = row(map[2 * p + 1]!) * columns + column(map[2 * p]!);
    const own = cells.get(cell);
    if (own) own.push(i);
    else cells.set(cell, [i]);
  });
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    const us = corners.map((p) => map[2 * p]!);
    const vs = corners.map((p) => map[2 * p + 1]!);
    for (let j = row(Math.min(...vs)); j <= row(Math.max(...vs)); j++)
      for (let k = column(Math.min(...us)); k <= column(Math.max(...us)); k++)
        for (const i of cells.get(j * columns + k) ?? [])
          if (!corners.includes(loop[i]!) && isInside(us, vs, map[2 * loop[i]!]!, map[2 * loop[i]! + 1]!)) over[i] = t;
  }
  return over;
}

function isInside(us: readonly number[], vs: readonly number[], u: number, v: number): boolean {
  for (let k = 0; k < 3; k++) {
    const n = (k + 1) % 3;
    if (!((us[n]! - us[k]!) * (v - vs[k]!) - (vs[n]! - vs[k]!) * (u - us[k]!) > 0)) return false;
  }
  return true;
}

/** The middle of the longest run of covered points, by its place in the loop; -1 for none. */
function middleOfLongestRun(over: Int32Array, loop: readonly number[], positions: Float64Array): number {
  const n = loop.length;
  let [best, longest] = [-1, 0];
  for (let i = 0; i < n; i++) {
    if (over[i]! < 0 || over[(i + n - 1) % n]! >= 0) continue;
    let length = 0;
    let end = i;
    for (; over[end % n]! >= 0 && end < i + n; end++)
      length += distance(positions, loop[end % n]!, loop[(end + 1) % n]!);
    if (length <= longest) continue;
    longest = length;
    best = ((i + end - 1) >> 1) % n;
  }
  return best;
}

const distance = (p: Float64Array, a: number, b: number): number =>
  length3(p[3 * b]! - p[3 * a]!, p[3 * b + 1]! - p[3 * a + 1]!, p[3 * b + 2]! - p[3 * a + 2]!);

/** A shell's edges, each as often as it has triangles, with their lengths in space. */
function edgesOf({ triangles, positions }: ShellMesh): { graph: Graph; lengths: Float64Array } {
  const to = triangles.map((_, c) => triangles[c % 3 === 2 ? c - 2 : c + 1]!);
  const lengths = Float64Array.from(triangles, (a, c) => distance(positions, a, to[c]!));
  return { graph: graphOf(positions.length / 3, triangles, to), lengths };
}

/** The shortest way through the inside from one arc of the border, between two of its places, to the other. */
function wayBetween(
  graph: Graph,
  lengths: Float64Array,
  loop: readonly number[],
  place: Int32Array,
  low: number,
  high: number,
): number[] | null {
  const gap = Math.max(2, Math.floor(GAP * loop.length));
  const sideOf = (v: number): "from" | "to" | "neither" | "inside" => {
    const i = place[v]!;
    if (i < 0) return "inside";
    if (i > low + gap && i < high - gap) return "from";
    return i < low - gap || i > high + gap ? "to" : "neither";
  };
  // Ways along the border, or past where the sheets part, part nothing.
  const costs = lengths.slice();
  for (let v = 0; v < graph.n; v++)
    for (let k = graph.start[v]!; k < graph.start[v + 1]!; k++) {
      const [a, b] = [sideOf(v), sideOf(graph.to[k]!)];
      if (a === "neither" || b === "neither" || (a !== "inside" && a === b)) costs[graph.link[k]!] = Infinity;
    }
  const sources = loop.filter((v) => sideOf(v) === "from");
  const search = new PathSearch(graph, costs, sources);
  search.reach();
  const ends = loop.filter((v) => sideOf(v) === "to" && Number.isFinite(search.distance[v]!));
  if (!ends.length) return null;
  const end = ends.reduce((best, v) => (search.distance[v]! < search.distance[best]! ? v : best));
  const way: number[] = [];
  for (let v = end; v >= 0; v = search.before[v]!) way.push(v);
  return way;
}
