import type { Corner } from "../mesh/indices";
import { mateCorner, topologyOf } from "../mesh/topology";
import { Heap } from "../numeric/heap";
import { length3 } from "../numeric/length";
import { asMesh, type ShellMesh } from "./shell-mesh";

/**
 * A map of a shell that is laid out triangle by triangle in its true shape, over the longest edges first: exact where the
 * shell can be rolled out flat, whatever its triangles are like, and of no use elsewhere. In n log n.
 *
 * @returns 2 per point, in the lengths of space
 */
export function rolledOut(shell: ShellMesh): Float64Array {
  const { triangles, positions: p } = shell;
  const t = topologyOf(asMesh(shell));
  const uv = new Float64Array((p.length / 3) * 2);
  const placed = new Uint8Array(p.length / 3);
  const done = new Uint8Array(triangles.length / 3);
  const heap = new Heap();
  const next = (c: number) => (c % 3 === 2 ? c - 2 : c + 1);
  const before = (c: number) => (c % 3 === 0 ? c + 2 : c - 1);
  const distance = (a: number, b: number) =>
    length3(p[3 * a]! - p[3 * b]!, p[3 * a + 1]! - p[3 * b + 1]!, p[3 * a + 2]! - p[3 * b + 2]!);
  /** Offers the triangles across the edges of one that is laid out. */
  const offer = (triangle: number) => {
    done[triangle] = 1;
    for (let c = 3 * triangle; c < 3 * triangle + 3; c++) {
      const mate = mateCorner(t, c as Corner);
      if (mate >= 0 && !done[(mate / 3) | 0]) heap.push(-distance(triangles[c]!, triangles[next(c)]!), mate);
    }
  };
  /** Places the corner across from an edge whose ends are placed, to the left of the edge. */
  const place = (c: number) => {
    const [a, b, apex] = [triangles[c]!, triangles[next(c)]!, triangles[before(c)]!];
    if (placed[apex]) return;
    placed[apex] = 1;
    const base = distance(a, b);
    const [toA, toB] = [distance(apex, a), distance(apex, b)];
    const along = base > 0 ? (base * base + toA * toA - toB * toB) / (2 * base) : 0;
    const height = Math.sqrt(Math.max(0, toA * toA - along * along));
    const [du, dv] = [uv[2 * b]! - uv[2 * a]!, uv[2 * b + 1]! - uv[2 * a + 1]!];
    const long = Math.hypot(du, dv) || 1;
    uv[2 * apex] = uv[2 * a]! + (du * along - dv * height) / long;
    uv[2 * apex + 1] = uv[2 * a + 1]! + (dv * along + du * height) / long;
  };
  const first = longestEdge(triangles, distance);
  const [a, b] = [triangles[first]!, triangles[next(first)]!];
  uv[2 * b] = distance(a, b);
  placed[a] = placed[b] = 1;
  place(first);
  offer((first / 3) | 0);
  while (heap.size) {
    const c = heap.pop();
    if (done[(c / 3) | 0]) continue;
    place(c);
    offer((c / 3) | 0);
  }
  return uv;
}

/** The corner that begins the longest edge. */
function longestEdge(triangles: Uint32Array, distance: (a: number, b: number) => number): number {
  let [best, most] = [0, -1];
  for (let c = 0; c < triangles.length; c++) {
    const long = distance(triangles[c]!, triangles[c % 3 === 2 ? c - 2 : c + 1]!);
    if (long > most) [best, most] = [c, long];
  }
  return best;
}
