import { Heap } from "../numeric/heap";
import { endDistance, meet } from "../numeric/segments";
import type { SheetBox } from "./box";

/** A shell that pushes or is pushed. */
export interface Pushed {
  /** Its borders: 4 numbers a segment, tiles. */
  readonly segments: Float64Array;
  readonly box: SheetBox;
  /** It cannot be moved: what is pushed against it stops. */
  readonly fixed: boolean;
}

/** A little nearer than what is kept counts as kept: shells that lie so apart slide past each other. */
const NEARER = 1e-6;

/**
 * Shells that push what lies in their way before them, all in one direction, as papers on a table do without rubbing. A
 * shell that is pushed goes as far as the farthest that anything behind it would come into the distance that is kept: the
 * longest path over pairs that would touch, found from the farthest on (Dijkstra). Pairs that lie nearer than the distance
 * from the start keep what they have, and those that lie on each other do not push.
 */
export class Pushes {
  private readonly gaps = new Map<number, number>();

  /** @param apart the distance that is kept, tiles */
  constructor(
    private readonly shells: readonly Pushed[],
    private readonly movers: readonly number[],
    private readonly apart: number,
  ) {}

  /**
   * How far every shell goes along a way.
   *
   * @returns tiles by shell; less than the way for the movers where something that cannot be moved stops them
   */
  along(du: number, dv: number): Float64Array {
    const travel = new Float64Array(this.shells.length);
    const length = Math.hypot(du, dv);
    if (!length) return travel;
    const frame = new Frame(this.shells, du / length, dv / length);
    const isDone = new Uint8Array(this.shells.length);
    // Shells by how far they go at least, and pairs by how far the second would go at the most: most pairs need no look.
    const heap = new Heap();
    const pairs: Array<readonly [y: number, x: number]> = [];
    for (const m of this.movers) {
      travel[m] = length;
      heap.push(-length, m);
    }
    let excess = 0;
    while (heap.size) {
      const item = heap.pop();
      if (item >= this.shells.length) {
        const [y, x] = pairs[item - this.shells.length]!;
        if (isDone[x]) continue;
        const gone = travel[y]! - frame.contact(y, x, this.gap(y, x));
        if (gone <= travel[x]!) continue;
        travel[x] = gone;
        heap.push(-gone, x);
      } else if (!isDone[item]) {
        isDone[item] = 1;
        if (this.shells[item]!.fixed) excess = Math.max(excess, travel[item]!);
        else
          for (let x = 0; x < this.shells.length; x++) {
            if (isDone[x] || !frame.mayMeet(item, x, travel[item]!, this.apart)) continue;
            const most = travel[item]! - frame.least(item, x, this.apart);
            if (most > travel[x]!) heap.push(-most, this.shells.length + pairs.push([item, x]) - 1);
          }
      }
    }
    // All that goes is the way less what lies between: where it has to stop, everything goes so much less.
    return excess ? travel.map((t) => Math.max(0, t - excess)) : travel;
  }

  /** The distance that two shells keep: that which is asked for, or what they have where it is less; 0 on each other. */
  private gap(a: number, b: number): number {
    const key = Math.min(a, b) * this.shells.length + Math.max(a, b);
    let gap = this.gaps.get(key);
    if (gap === undefined) {
      gap = distance(this.shells[a]!, this.shells[b]!, this.apart) * (1 - NEARER);
      this.gaps.set(key, gap);
    }
    return gap;
  }
}

/** Whether a point lies within borders: a ray from it crosses them an odd number of times. */
function holds({ segments: s }: Pushed, u: number, v: number): boolean {
  let inside = false;
  for (let i = 0; i < s.length; i += 4) {
    const [av, bv] = [s[i + 1]!, s[i + 3]!];
    if (av > v !== bv > v && u < s[i]! + ((v - av) / (bv - av)) * (s[i + 2]! - s[i]!)) inside = !inside;
  }
  return inside;
}

/** The distance of two shells, no farther than what is asked for; 0 where they lie on each other. */
function distance(a: Pushed, b: Pushed, most: number): number {
  const { box: p } = a;
  const { box: q } = b;
  if (p.u0 > q.u1 + most || q.u0 > p.u1 + most || p.v0 > q.v1 + most || q.v0 > p.v1 + most) return most;
  let least = most;
  for (let i = 0; 4 * i < a.segments.length; i++)
    for (let j = 0; 4 * j < b.segments.length; j++) {
      if (meet(a.segments, i, b.segments, j)) return 0;
      least = Math.min(least, endDistance(a.segments, i, b.segments, j));
    }
  const lies = (on: Pushed, { segments: s }: Pushed) => s.length > 0 && holds(on, s[0]!, s[1]!);
  return lies(a, b) || lies(b, a) ? 0 : least;
}

/** Shells as seen along a direction: every point by how far it lies along it, and across. */
class Frame {
  private readonly turned: Array<Sides | undefined>;
  /** 4 numbers a shell: least and most along, least and most across. */
  private readonly spans: Float64Array;

  constructor(
    private readonly shells: readonly Pushed[],
    private readonly u: number,
    private readonly v: number,
  ) {
    this.turned = new Array(shells.length);
    this.spans = new Float64Array(4 * shells.length);
    shells.forEach(({ box }, k) => {
      // The box turned holds the shell turned.
      const middle = [(box.u0 + box.u1) / 2, (box.v0 + box.v1) / 2] as const;
      const half = [(box.u1 - box.u0) / 2, (box.v1 - box.v0) / 2] as const;
      const along = u * middle[0] + v * middle[1];
      const across = -v * middle[0] + u * middle[1];
      const [a, b] = [
        Math.abs(u) * half[0] + Math.abs(v) * half[1],
        Math.abs(v) * half[0] + Math.abs(u) * half[1],
      ] as const;
      this.spans.set([along - a, along + a, across - b, across + b], 4 * k);
    });
  }

  /** Whether a shell that goes so far may come into the distance of another. */
  mayMeet(y: number, x: number, far: number, apart: number): boolean {
    const { spans: s } = this;
    const [i, j] = [4 * y, 4 * x];
    return (
      s[j]! <= s[i + 1]! + far + apart &&
      s[j + 1]! >= s[i]! - apart &&
      s[j + 2]! <= s[i + 3]! + apart &&
      s[j + 3]! >= s[i + 2]! - apart
    );
  }

  /** No less than this a shell goes until it comes into a distance of another. */
  least(y: number, x: number, gap: number): number {
    return Math.max(0, this.spans[4 * x]! - this.spans[4 * y + 1]! - gap);
  }

  /** How far a shell goes until it comes into a distance of another; Infinity where it never does. */
  contact(y: number, x: number, gap: number): number {
    if (gap <= 0) return Infinity;
    // A border that looks ahead comes upon one that looks back.
    const own = this.of(y).ahead;
    const other = this.of(x).back;
    // Only what lies within the reach of both across can meet.
    const low = Math.max(this.spans[4 * y + 2]!, this.spans[4 * x + 2]!) - gap;
    const high = Math.min(this.spans[4 * y + 3]!, this.spans[4 * x + 3]!) + gap;
    return Math.min(firstHit(own, other, gap, 1, low, high), firstHit(other, own, gap, -1, low, high));
  }

  private of(k: number): Sides {
    const known = this.turned[k];
    if (known) return known;
    const { segments: s } = this.shells[k]!;
    const { u, v } = this;
    const all = new Float64Array(s.length);
    let area = 0;
    for (let i = 0; i < s.length; i += 2) {
      all[i] = u * s[i]! + v * s[i + 1]!;
      all[i + 1] = -v * s[i]! + u * s[i + 1]!;
      if (i % 4) area += all[i - 2]! * all[i + 1]! - all[i]! * all[i - 1]!;
    }
    // Borders run round their shell to the left, where that is not mirrored: what rises has the shell behind it.
    const turn = area < 0 ? -1 : 1;
    const sides: Sides = {
      ahead: segmentsWhere(all, (rise) => rise * turn >= 0),
      back: segmentsWhere(all, (rise) => rise * turn <= 0),
    };
    this.turned[k] = sides;
    return sides;
  }
}

/** The borders of a shell that look ahead, and those that look back. */
interface Sides {
  readonly ahead: Float64Array;
  readonly back: Float64Array;
}

/** Segments by how far they lead across. */
function segmentsWhere(all: Float64Array, wanted: (rise: number) => boolean): Float64Array {
  const out = new Float64Array(all.length);
  let count = 0;
  for (let i = 0; i < all.length; i += 4) {
    if (!wanted(all[i + 3]! - all[i + 1]!)) continue;
    for (let d = 0; d < 4; d++) out[count++] = all[i + d]!;
  }
  return out.subarray(0, count);
}

/**
 * How far the points of borders go until the first comes into a distance of a segment.
 *
 * @param points segments whose ends go
 * @param segments 4 numbers each
 * @param way 1 where they go on along, -1 where they go back
 * @param low across, from where to where points are looked at
 */
function firstHit(
  points: Float64Array,
  segments: Float64Array,
  gap: number,
  way: 1 | -1,
  low: number,
  high: number,
): number {
  let first = Infinity;
  let lastP = Number.NaN;
  let lastN = Number.NaN;
  for (let i = 0; i < points.length; i += 2) {
    const p = way * points[i]!;
    const n = points[i + 1]!;
    // Mostly one segment begins where the one before it ends.
    if (n < low || n > high || (p === lastP && n === lastN)) continue;
    lastP = p;
    lastN = n;
    for (let j = 0; j < segments.length; j += 4) {
      const an = segments[j + 1]!;
      const bn = segments[j + 3]!;
      if ((an > n + gap && bn > n + gap) || (an < n - gap && bn < n - gap)) continue;
      const hit = hitOf(p, n, way * segments[j]!, an, way * segments[j + 2]!, bn, gap);
      if (hit < first) first = hit;
    }
  }
  return first;
}

/** How far a point goes on along until it is within a distance of a segment, from a point that is not; Infinity for never. */
function hitOf(p: number, n: number, a: number, an: number, b: number, bn: number, gap: number): number {
  let hit = Infinity;
  // The round ends.
  const da = n - an;
  const db = n - bn;
  if (Math.abs(da) <= gap) hit = after(p, a - Math.sqrt(gap * gap - da * da), hit);
  if (Math.abs(db) <= gap) hit = after(p, b - Math.sqrt(gap * gap - db * db), hit);
  if (an === bn) return hit;
  // The sides, a distance to the left and to the right of it.
  const length = Math.hypot(b - a, bn - an);
  for (let side = -1; side <= 1; side += 2) {
    const q = (da - (side * gap * (b - a)) / length) / (bn - an);
    if (q >= 0 && q <= 1) hit = after(p, a - (side * gap * (bn - an)) / length + q * (b - a), hit);
  }
  return hit;
}

const after = (p: number, at: number, hit: number): number => (at >= p && at - p < hit ? at - p : hit);
