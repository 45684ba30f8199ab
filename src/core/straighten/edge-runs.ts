/** Points of a shell one after another. */
export interface Run {
  readonly points: readonly number[];
  readonly isClosed: boolean;
}

/** Edges between points as runs: each goes on where just two meet. @param pairs 2 points per edge, each edge once */
export function runsOf(pairs: ReadonlyArray<readonly [number, number]>): Run[] {
  const beside = new Map<number, number[]>();
  pairs.forEach(([a, b], e) => {
    for (const p of [a, b]) beside.set(p, [...(beside.get(p) ?? []), e]);
  });
  const done = new Uint8Array(pairs.length);
  const out: Run[] = [];
  const follow = (from: number, first: number): void => {
    const points = [from];
    let [at, e] = [from, first];
    for (;;) {
      done[e] = 1;
      at = pairs[e]![0] === at ? pairs[e]![1] : pairs[e]![0];
      points.push(at);
      const on = beside.get(at)!;
      const next = on.length === 2 ? on.find((k) => !done[k]) : undefined;
      if (next === undefined) break;
      e = next;
    }
    const isClosed = points.length > 3 && points[0] === points.at(-1);
    out.push({ points: isClosed ? points.slice(0, -1) : points, isClosed });
  };
  for (const [p, edges] of beside) if (edges.length !== 2) for (const e of edges) if (!done[e]) follow(p, e);
  pairs.forEach(([a], e) => {
    if (!done[e]) follow(a, e);
  });
  return out;
}

/** Ways that a run is laid. */
export const LINES = ["nearest axis", "horizontal", "vertical", "its own line"] as const;
export type Line = (typeof LINES)[number];

/**
 * The points of an open run on a straight line through their middle.
 *
 * @param uv 2 per point, those of the run in order @param lengths on the sheet from each to the next
 */
export function straightened(uv: Float64Array, lengths: ArrayLike<number>, line: Line): Float64Array {
  const n = uv.length / 2;
  const [du, dv] = [uv[2 * n - 2]! - uv[0]!, uv[2 * n - 1]! - uv[1]!];
  const way = wayOf(line, du, dv);
  return laidAlong(uv, lengths, way);
}

function wayOf(line: Line, du: number, dv: number): [number, number] {
  const across: [number, number] = [du < 0 ? -1 : 1, 0];
  const upright: [number, number] = [0, dv < 0 ? -1 : 1];
  if (line === "horizontal") return across;
  if (line === "vertical") return upright;
  if (line === "nearest axis") return Math.abs(du) >= Math.abs(dv) ? across : upright;
  const length = Math.sqrt(du * du + dv * dv);
  return length > 0 ? [du / length, dv / length] : [1, 0];
}

/** Points on a line through their middle, each as far from the one before it as is told. */
export function laidAlong(
  uv: Float64Array,
  lengths: ArrayLike<number>,
  [x, y]: readonly [number, number],
): Float64Array {
  const n = uv.length / 2;
  const at = new Float64Array(n);
  for (let i = 1; i < n; i++) at[i] = at[i - 1]! + lengths[i - 1]!;
  let [u, v] = [0, 0];
  for (let i = 0; i < n; i++) {
    u += uv[2 * i]! / n;
    v += uv[2 * i + 1]! / n;
  }
  // The middle of the points stays: a run that is laid again lies where it lay.
  const mean = at.reduce((sum, a) => sum + a, 0) / n;
  const out = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    out[2 * i] = u + (at[i]! - mean) * x;
    out[2 * i + 1] = v + (at[i]! - mean) * y;
  }
  return out;
}
