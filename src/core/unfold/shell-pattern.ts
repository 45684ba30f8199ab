import type { Pattern } from "../kernels/factorisation";

/** The points beside every point of a shell: neighbours[start[v] .. start[v + 1] - 1]. */
export interface Beside {
  readonly start: Uint32Array;
  readonly neighbours: Uint32Array;
}

/** Triangles about every point: corners[start[v] .. start[v + 1] - 1], a corner being a place among the triangles. */
export function cornersAbout(triangles: Uint32Array, points: number): { start: Uint32Array; corners: Uint32Array } {
  const start = new Uint32Array(points + 1);
  for (let c = 0; c < triangles.length; c++) start[triangles[c]! + 1]!++;
  for (let v = 0; v < points; v++) start[v + 1]! += start[v]!;
  const fill = start.slice(0, points);
  const corners = new Uint32Array(triangles.length);
  for (let c = 0; c < triangles.length; c++) corners[fill[triangles[c]!]!++] = c;
  return { start, corners };
}

/** Pairs of points that are beside each other though they share no triangle, by their first point and by their second. */
function pairLists(pairs: ArrayLike<number>, points: number) {
  const start = new Uint32Array(points + 1);
  for (let k = 0; k < pairs.length; k++) start[pairs[k]! + 1]!++;
  for (let v = 0; v < points; v++) start[v + 1]! += start[v]!;
  const fill = start.slice(0, points);
  const other = new Uint32Array(pairs.length);
  for (let k = 0; k < pairs.length; k++) other[fill[pairs[k]!]!++] = pairs[k ^ 1]!;
  return { start, other };
}

/** Which points share a triangle, or are one of `pairs`. In linear time. */
export function besideOf(triangles: Uint32Array, points: number, pairs: ArrayLike<number> = []): Beside {
  const about = cornersAbout(triangles, points);
  const more = pairLists(pairs, points);
  const start = new Uint32Array(points + 1);
  const neighbours = new Uint32Array(2 * triangles.length + pairs.length);
  const stamp = new Int32Array(points).fill(-1);
  let at = 0;
  for (let v = 0; v < points; v++) {
    stamp[v] = v;
    for (let k = about.start[v]!; k < about.start[v + 1]!; k++) {
      const c = about.corners[k]!;
      const first = c - (c % 3);
      for (let j = first; j < first + 3; j++) {
        const w = triangles[j]!;
        if (stamp[w] === v) continue;
        stamp[w] = v;
        neighbours[at++] = w;
      }
    }
    for (let k = more.start[v]!; k < more.start[v + 1]!; k++) {
      const w = more.other[k]!;
      if (stamp[w] === v) continue;
      stamp[w] = v;
      neighbours[at++] = w;
    }
    start[v + 1] = at;
  }
  return { start, neighbours: neighbours.subarray(0, at) };
}

export interface ShellPattern extends Pattern {
  /** 6 per triangle: where the products of its corners stand among the entries, 00 01 02 11 12 22. */
  readonly slots: Uint32Array;
}

/** Which of the 6 products of a triangle two of its corners make. */
const PRODUCT = [0, 1, 2, 1, 3, 4, 2, 4, 5];

/** The entries of matrices over a shell's points. In linear time. */
export function patternOf(triangles: Uint32Array, points: number, pairs: ArrayLike<number> = []): ShellPattern {
  const about = cornersAbout(triangles, points);
  const more = pairLists(pairs, points);
  const start = new Uint32Array(points + 1);
  const index = new Uint32Array(points + triangles.length + pairs.length / 2);
  const slots = new Uint32Array(2 * triangles.length);
  const at = new Uint32Array(points);
  const stamp = new Int32Array(points).fill(-1);
  let count = 0;
  for (let v = 0; v < points; v++) {
    stamp[v] = v;
    at[v] = count;
    index[count++] = v;
    for (let k = about.start[v]!; k < about.start[v + 1]!; k++) {
      const c = about.corners[k]!;
      const own = c % 3;
      for (let j = 0; j < 3; j++) {
        const w = triangles[c - own + j]!;
        if (w < v) continue;
        if (stamp[w] !== v) {
          stamp[w] = v;
          at[w] = count;
          index[count++] = w;
        }
        slots[2 * (c - own) + PRODUCT[3 * own + j]!] = at[w]!;
      }
    }
    for (let k = more.start[v]!; k < more.start[v + 1]!; k++) {
      const w = more.other[k]!;
      if (w < v || stamp[w] === v) continue;
      stamp[w] = v;
      index[count++] = w;
    }
    start[v + 1] = count;
  }
  return { n: points, start, index: index.subarray(0, count), slots };
}
