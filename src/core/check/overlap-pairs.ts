/** Triangles of shells in UV. */
export interface UvTriangles {
  /** 6 per triangle. */
  readonly points: Float64Array;
  /** The shell of every triangle. */
  readonly shell: Uint32Array;
}

/** Two shells that share area in UV, by number among the mapped ones; the same number twice for one over itself. */
export interface OverlapPair {
  readonly a: number;
  readonly b: number;
  /** In tiles. */
  readonly area: number;
}

/** Pairs of triangles looked at before the search is given up: of a layout in one heap only the coverage is known. */
const MOST_LOOKS = 30_000_000;
/** Of the smaller triangle's area: what shared edges seem to have in common by rounding. */
const ROUNDING = 1e-7;

/**
 * Pairs of shells that lie on one another, with the area they share, from exact polygons: whatever the size of an
 * overlap, and wherever the shells lie. Time is linear in the triangles where few overlap.
 *
 * Convex polygons are clipped by one another: Sutherland, Hodgman, Reentrant polygon clipping (1974).
 *
 * @returns the largest first; null when there are too many pairs to list
 */
export function overlapPairs({ points, shell }: UvTriangles): OverlapPair[] | null {
  const n = shell.length;
  if (!n) return [];
  const grid = gridOf(points, n);
  const clip = new Clipper(points);
  const areas = new Map<number, number>();
  const shells = shell.reduce((most, s) => Math.max(most, s), 0) + 1;
  let looks = 0;
  for (let cell = 0; cell + 1 < grid.start.length; cell++) {
    for (let x = grid.start[cell]!; x < grid.start[cell + 1]!; x++) {
      looks += grid.start[cell + 1]! - x;
      if (looks > MOST_LOOKS) return null;
      for (let y = x + 1; y < grid.start[cell + 1]!; y++) {
        const [i, j] = [grid.items[x]!, grid.items[y]!];
        // Two triangles meet in several cells; they are looked at in the first that both reach into.
        if (!grid.isFirst(cell, i, j)) continue;
        const area = clip.area(i, j);
        if (area === 0) continue;
        const [a, b] = [Math.min(shell[i]!, shell[j]!), Math.max(shell[i]!, shell[j]!)];
        areas.set(a * shells + b, (areas.get(a * shells + b) ?? 0) + area);
      }
    }
  }
  return [...areas]
    .map(([key, area]) => ({ a: Math.floor(key / shells), b: key % shells, area }))
    .sort((p, q) => q.area - p.area || p.a - q.a || p.b - q.b);
}

interface Grid {
  readonly start: Uint32Array;
  readonly items: Uint32Array;
  isFirst(cell: number, i: number, j: number): boolean;
}

/** Triangles by the cells that their boxes reach into; about as many cells as triangles. */
function gridOf(points: Float64Array, n: number): Grid {
  const box = new Float64Array(4 * n);
  let [u0, v0, u1, v1, sum] = [Infinity, Infinity, -Infinity, -Infinity, 0];
  for (let t = 0; t < n; t++) {
    const p = 6 * t;
    box[4 * t] = Math.min(points[p]!, points[p + 2]!, points[p + 4]!);
    box[4 * t + 1] = Math.min(points[p + 1]!, points[p + 3]!, points[p + 5]!);
    box[4 * t + 2] = Math.max(points[p]!, points[p + 2]!, points[p + 4]!);
    box[4 * t + 3] = Math.max(points[p + 1]!, points[p + 3]!, points[p + 5]!);
    u0 = Math.min(u0, box[4 * t]!);
    v0 = Math.min(v0, box[4 * t + 1]!);
    u1 = Math.max(u1, box[4 * t + 2]!);
    v1 = Math.max(v1, box[4 * t + 3]!);
    sum += box[4 * t + 2]! - box[4 * t]! + box[4 * t + 3]! - box[4 * t + 1]!;
  }
  // Cells of the size of the mean triangle, but never many more of them than triangles.
  const wanted = sum / (2 * n) || 1;
  const side = Math.max(wanted, Math.sqrt(((u1 - u0) * (v1 - v0)) / (4 * n)), Math.max(u1 - u0, v1 - v0) / 4096);
  const [columns, rows] = [Math.floor((u1 - u0) / side) + 1, Math.floor((v1 - v0) / side) + 1];
  const column = (u: number) => Math.floor((u - u0) / side);
  const row = (v: number) => Math.floor((v - v0) / side);
  const start = new Uint32Array(columns * rows + 1);
  const visit = (act: (cell: number, t: number) => void) => {
    for (let t = 0; t < n; t++)
      for (let r = row(box[4 * t + 1]!); r <= row(box[4 * t + 3]!); r++)
        for (let c = column(box[4 * t]!); c <= column(box[4 * t + 2]!); c++) act(r * columns + c, t);
  };
  visit((cell) => {
    start[cell + 1]!++;
  });
  for (let cell = 0; cell < columns * rows; cell++) start[cell + 1]! += start[cell]!;
  const items = new Uint32Array(start[columns * rows]!);
  const at = start.slice();
  visit((cell, t) => {
    items[at[cell]!++] = t;
  });
  return {
    start,
    items,
    isFirst: (cell, i, j) => {
      const u = Math.max(box[4 * i]!, box[4 * j]!);
      const v = Math.max(box[4 * i + 1]!, box[4 * j + 1]!);
      if (u > Math.min(box[4 * i + 2]!, box[4 * j + 2]!) || v > Math.min(box[4 * i + 3]!, box[4 * j + 3]!))
        return false;
      return row(v) * columns + column(u) === cell;
    },
  };
}

/** Area that two triangles share; its arrays are made once. */
class Clipper {
  private from = new Float64Array(24);
  private to = new Float64Array(24);

  constructor(private readonly points: Float64Array) {}

  area(i: number, j: number): number {
    const p = this.points;
    const [first, second] = [doubleArea(p, 6 * i), doubleArea(p, 6 * j)];
    if (first === 0 || second === 0) return 0;
    // Both the same way round.
    for (let k = 0; k < 3; k++) {
      const c = first > 0 ? k : 2 - k;
      this.from[2 * k] = p[6 * i + 2 * c]!;
      this.from[2 * k + 1] = p[6 * i + 2 * c + 1]!;
    }
    let n = 3;
    for (let k = 0; k < 3 && n; k++) {
      const [a, b] = second > 0 ? [k, (k + 1) % 3] : [(k + 1) % 3, k];
      n = this.cut(n, 6 * j + 2 * a, 6 * j + 2 * b);
    }
    let sum = 0;
    for (let k = 1; k + 1 < n; k++) {
      const f = this.from;
      sum += (f[2 * k]! - f[0]!) * (f[2 * k + 3]! - f[1]!) - (f[2 * k + 2]! - f[0]!) * (f[2 * k + 1]! - f[1]!);
    }
    return sum > ROUNDING * Math.min(Math.abs(first), Math.abs(second)) ? sum / 2 : 0;
  }

  /** Keeps what lies to the left of the line from one point to another. */
  private cut(n: number, a: number, b: number): number {
    const p = this.points;
    const [ax, ay] = [p[a]!, p[a + 1]!];
    const [dx, dy] = [p[b]! - ax, p[b + 1]! - ay];
    const { from, to } = this;
    let m = 0;
    for (let k = 0; k < n; k++) {
      const l = (k + 1) % n;
      const here = dx * (from[2 * k + 1]! - ay) - dy * (from[2 * k]! - ax);
      const next = dx * (from[2 * l + 1]! - ay) - dy * (from[2 * l]! - ax);
      if (here >= 0) {
        to[2 * m] = from[2 * k]!;
        to[2 * m++ + 1] = from[2 * k + 1]!;
      }
      if (here >= 0 === next >= 0) continue;
      const t = here / (here - next);
      to[2 * m] = from[2 * k]! + t * (from[2 * l]! - from[2 * k]!);
      to[2 * m++ + 1] = from[2 * k + 1]! + t * (from[2 * l + 1]! - from[2 * k + 1]!);
    }
    this.from = to;
    this.to = from;
    return m;
  }
}

const doubleArea = (p: Float64Array, t: number): number =>
  (p[t + 2]! - p[t]!) * (p[t + 5]! - p[t + 1]!) - (p[t + 4]! - p[t]!) * (p[t + 3]! - p[t + 1]!);
