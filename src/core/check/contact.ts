import { endDistance, meet } from "../numeric/segments";

// Borders against each other, as lists of segments (4 numbers each): whether they meet, how far they are apart, and
// whether one runs round a point.

/** Cells by the mean segment, within bounds: a border of n segments has a grid of at most about 8 n cells. */
const MOST_CELLS = 8;

/** A grid over the segments of one border; each is entered in every cell that its box meets. */
export class BorderGrid {
  private readonly start: Uint32Array;
  private readonly items: Uint32Array;
  private readonly columns: number;
  private readonly rows: number;
  private readonly side: number;
  private readonly u0: number;
  private readonly v0: number;
  private readonly seen: Uint32Array;
  private round = 0;

  /** @param least the cells are no smaller than this */
  constructor(
    readonly segments: Float64Array,
    least: number,
  ) {
    const n = segments.length / 4;
    let [u0, v0, u1, v1, length] = [Infinity, Infinity, -Infinity, -Infinity, 0];
    for (let k = 0; k < segments.length; k += 4) {
      u0 = Math.min(u0, segments[k]!, segments[k + 2]!);
      v0 = Math.min(v0, segments[k + 1]!, segments[k + 3]!);
      u1 = Math.max(u1, segments[k]!, segments[k + 2]!);
      v1 = Math.max(v1, segments[k + 1]!, segments[k + 3]!);
      length += Math.abs(segments[k + 2]! - segments[k]!) + Math.abs(segments[k + 3]! - segments[k + 1]!);
    }
    const extent = Math.max(u1 - u0, v1 - v0);
    this.side = Math.max(least, length / n, Math.sqrt(((u1 - u0) * (v1 - v0)) / (MOST_CELLS * n)), extent / 4096) || 1;
    [this.u0, this.v0] = [u0, v0];
    this.columns = Math.floor((u1 - u0) / this.side) + 1;
    this.rows = Math.floor((v1 - v0) / this.side) + 1;
    this.start = new Uint32Array(this.columns * this.rows + 1);
    for (let k = 0; k < n; k++) this.eachCellOf(k, (cell) => void this.start[cell + 1]!++);
    for (let c = 0; c + 1 < this.start.length; c++) this.start[c + 1]! += this.start[c]!;
    this.items = new Uint32Array(this.start[this.start.length - 1]!);
    const fill = this.start.slice(0, -1);
    for (let k = 0; k < n; k++)
      this.eachCellOf(k, (cell) => {
        this.items[fill[cell]!++] = k;
      });
    this.seen = new Uint32Array(n);
  }

  private eachCellOf(k: number, act: (cell: number) => void): void {
    const s = this.segments;
    const c1 = this.column(Math.max(s[4 * k]!, s[4 * k + 2]!));
    const r1 = this.row(Math.max(s[4 * k + 1]!, s[4 * k + 3]!));
    for (let r = this.row(Math.min(s[4 * k + 1]!, s[4 * k + 3]!)); r <= r1; r++)
      for (let c = this.column(Math.min(s[4 * k]!, s[4 * k + 2]!)); c <= c1; c++) act(r * this.columns + c);
  }

  private column(u: number): number {
    return Math.min(this.columns - 1, Math.max(0, Math.floor((u - this.u0) / this.side)));
  }

  private row(v: number): number {
    return Math.min(this.rows - 1, Math.max(0, Math.floor((v - this.v0) / this.side)));
  }

  /** Calls `act` once with every segment whose cells a box meets, until it returns true. */
  some(u0: number, v0: number, u1: number, v1: number, act: (k: number) => boolean): boolean {
    this.round++;
    const [c0, c1, r1] = [this.column(u0), this.column(u1), this.row(v1)];
    for (let r = this.row(v0); r <= r1; r++)
      for (let x = this.start[r * this.columns + c0]!; x < this.start[r * this.columns + c1 + 1]!; x++) {
        const k = this.items[x]!;
        if (this.seen[k] === this.round) continue;
        this.seen[k] = this.round;
        if (act(k)) return true;
      }
    return false;
  }

  /** Whether the border runs round a point: a ray to the right crosses it an odd number of times. */
  holds(u: number, v: number): boolean {
    const s = this.segments;
    let inside = false;
    this.some(u, v, Infinity, v, (k) => {
      const [a, b] = [s[4 * k + 1]!, s[4 * k + 3]!];
      if (a > v !== b > v && u < s[4 * k]! + ((v - a) / (b - a)) * (s[4 * k + 2]! - s[4 * k]!)) inside = !inside;
      return false;
    });
    return inside;
  }
}

/** A shell's border: segments loop by loop, which one follows and which one comes before, and the side that shows. */
export interface Border {
  readonly segments: Float64Array;
  readonly next: Uint32Array;
  readonly previous: Uint32Array;
  /** 1 when the shell lies to the left of its border, -1 to the right. */
  readonly side: number;
}

/**
 * Whether two segments of borders have more in common than ends that lie exactly on one another, with the shells on
 * either side of them: as the two sides of a cut that was not opened yet.
 */
function crosses(p: Border, i: number, q: Border, j: number): boolean {
  if (!meet(p.segments, i, q.segments, j)) return false;
  let shared = 0;
  for (const a of [i, p.next[i]!])
    for (const b of [j, q.next[j]!]) {
      if (p.segments[4 * a] !== q.segments[4 * b] || p.segments[4 * a + 1] !== q.segments[4 * b + 1]) continue;
      shared++;
      if (sectorsOverlap(p, a, q, b)) return true;
    }
  // With one end in common, they may still run along each other.
  return shared === 0 || (shared === 1 && alongEachOther(p.segments, i, q.segments, j));
}

/** Whether two segments that have one end in common leave it in the same direction. */
function alongEachOther(s: Float64Array, i: number, t: Float64Array, j: number): boolean {
  const [a, c] = [4 * i, 4 * j];
  const starts = s[a] === t[c] && s[a + 1] === t[c + 1];
  const ends = s[a + 2] === t[c + 2] && s[a + 3] === t[c + 3];
  const [px, py] = [s[a + 2]! - s[a]!, s[a + 3]! - s[a + 1]!];
  const [qx, qy] = [t[c + 2]! - t[c]!, t[c + 3]! - t[c + 1]!];
  const along = px * qx + py * qy;
  const across = Math.abs(px * qy - py * qx);
  return across <= 1e-12 * Math.abs(along) && (starts || ends ? along > 0 : along < 0);
}

const TURN = 2 * Math.PI;

/** Whether the shells inside two corners that lie on one another share directions; corner k is where segment k begins. */
function sectorsOverlap(p: Border, a: number, q: Border, b: number): boolean {
  const [from, to] = sector(p, a);
  const [start, end] = sector(q, b);
  return around(from, start) < (around(from, to) || TURN) || around(start, from) < (around(start, end) || TURN);
}

/** The directions between which a shell lies at a corner, counted to the left. */
function sector({ segments: s, previous, side }: Border, k: number): [number, number] {
  const before = 4 * previous[k]!;
  const out = Math.atan2(s[4 * k + 3]! - s[4 * k + 1]!, s[4 * k + 2]! - s[4 * k]!);
  const back = Math.atan2(s[before + 1]! - s[before + 3]!, s[before]! - s[before + 2]!);
  return side > 0 ? [out, back] : [back, out];
}

/** From one direction to another, to the left: 0 to a whole turn. */
const around = (from: number, to: number): number => (to >= from ? to - from : to - from + TURN);

/** Whether a border meets itself other than along cuts that were not opened yet. */
export function crossesOwn(border: Border): boolean {
  const { segments, next, previous } = border;
  const n = next.length;
  if (n < 4) return false;
  const grid = new BorderGrid(segments, 0);
  for (let k = 0; k < n; k++) {
    const c = 4 * k;
    const found = grid.some(
      Math.min(segments[c]!, segments[c + 2]!),
      Math.min(segments[c + 1]!, segments[c + 3]!),
      Math.max(segments[c]!, segments[c + 2]!),
      Math.max(segments[c + 1]!, segments[c + 3]!),
      (j) => j > k && j !== next[k] && j !== previous[k] && crosses(border, k, border, j),
    );
    if (found) return true;
  }
  return false;
}

/** How two borders lie to each other. */
export interface Distance {
  /** Least distance, where it is at most what was asked for; Infinity else. */
  readonly gap: number;
  /** Whether they meet other than at ends that lie on one another, with the shells on either side. */
  readonly cross: boolean;
}

/**
 * Looks for the least distance of two borders up to `reach`.
 *
 * @param grid where the segments of the second are looked up
 * @param box of the second: u0, v0, u1, v1
 */
export function borderDistance(
  first: Border,
  second: Border,
  grid: BorderGrid,
  box: ArrayLike<number>,
  reach: number,
): Distance {
  const { segments } = first;
  const t = second.segments;
  let least = reach;
  let [found, cross] = [false, false];
  for (let k = 0; 4 * k < segments.length && !cross; k++) {
    const c = 4 * k;
    const [u0, u1] = [Math.min(segments[c]!, segments[c + 2]!), Math.max(segments[c]!, segments[c + 2]!)];
    const [v0, v1] = [Math.min(segments[c + 1]!, segments[c + 3]!), Math.max(segments[c + 1]!, segments[c + 3]!)];
    if (u1 + least < box[0]! || u0 - least > box[2]! || v1 + least < box[1]! || v0 - least > box[3]!) continue;
    grid.some(u0 - least, v0 - least, u1 + least, v1 + least, (j) => {
      const [x, y] = [4 * j, 4 * j + 1];
      if (u1 + least < Math.min(t[x]!, t[x + 2]!) || u0 - least > Math.max(t[x]!, t[x + 2]!)) return false;
      if (v1 + least < Math.min(t[y]!, t[y + 2]!) || v0 - least > Math.max(t[y]!, t[y + 2]!)) return false;
      const d = meet(segments, k, t, j) ? 0 : endDistance(segments, k, t, j);
      if (d > least) return false;
      found = true;
      least = d;
      cross = d === 0 && crosses(first, k, second, j);
      return cross;
    });
  }
  return { gap: found ? least : Number.POSITIVE_INFINITY, cross };
}
