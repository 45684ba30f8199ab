import { iota } from "./iota";
/** Symmetric sparsity pattern in compressed rows; the diagonal is part of every row. */
export interface Pattern {
  readonly n: number;
  readonly start: Uint32Array;
  readonly index: Uint32Array;
}

/** An elimination order with its tree of separators: node k owns positions nodeStart[k] .. nodeStart[k + 1] - 1. */
export interface Dissection {
  /** Unknown at every position of the order. */
  readonly order: Uint32Array;
  /** Position of every unknown. */
  readonly position: Uint32Array;
  readonly nodeStart: Uint32Array;
  /** Parent node, or -1 at a root. Children come before parents. */
  readonly nodeParent: Int32Array;
}

/** Points in a leaf: eliminated together without being parted further. */
const LEAF = 24;
/** Regions up to so many points are parted along their longest side only: walks through them cost more than they save. */
const SMALL = 1500;
/** The lesser part has at least this share of a region. */
const LESSER = 0.2;

/**
 * Fill-reducing order by nested dissection: a region is swept along its longest side and by distance from either end,
 * and parted where the fewest points of one part touch the other. Those are the separator and are eliminated last.
 *
 * @param coords `dimension` numbers per unknown, near one another where unknowns are coupled
 * Source: A. George, Nested dissection of a regular finite element mesh (1973); level sets as separators after
 * George, Liu, An automatic nested dissection algorithm for irregular finite element problems (1978).
 */
export function dissect(pattern: Pattern, coords: Float64Array, dimension: number): Dissection {
  return new Dissecting(pattern, coords, dimension).result();
}

class Dissecting {
  private readonly order: Uint32Array;
  private readonly nodeStart: number[] = [0];
  private readonly nodeParent: number[] = [];
  /** The region that every unknown is in; -1 once it is ordered. */
  private readonly region: Int32Array;
  private readonly work: Uint32Array;
  private regions = 0;
  private filled = 0;
  /** Of the points of the region that is parted: how far along, and the same in bins. */
  private readonly key: Float64Array;
  private readonly bin: Uint16Array;
  private readonly bestBin: Uint16Array;
  private readonly queue: Uint32Array;

  constructor(
    private readonly pattern: Pattern,
    private readonly coords: Float64Array,
    private readonly dimension: number,
  ) {
    const { n } = pattern;
    this.order = new Uint32Array(n);
    this.region = new Int32Array(n);
    this.work = iota(n);
    this.key = new Float64Array(n);
    this.bin = new Uint16Array(n);
    this.bestBin = new Uint16Array(n);
    this.queue = new Uint32Array(n);
  }

  result(): Dissection {
    const { n } = this.pattern;
    const { order } = this;
    if (n) this.visit(0, n, 0);
    const position = new Uint32Array(n);
    for (let i = 0; i < n; i++) position[order[i]!] = i;
    return {
      order,
      position,
      nodeStart: Uint32Array.from(this.nodeStart),
      nodeParent: Int32Array.from(this.nodeParent),
    };
  }

  private emit(from: number, to: number, children: readonly number[]): number {
    for (let i = from; i < to; i++) this.order[this.filled++] = this.work[i]!;
    this.nodeStart.push(this.filled);
    for (const child of children) this.nodeParent[child] = this.nodeParent.length;
    return this.nodeParent.push(-1) - 1;
  }

  private visit(from: number, to: number, region: number): number {
    const { work } = this;
    if (to - from <= LEAF) return this.emit(from, to, []);
    const middle = this.part(from, to, region);
    const left = ++this.regions;
    const right = ++this.regions;
    for (let i = from; i < to; i++) this.region[work[i]!] = i < middle ? left : right;
    const fromLeft = this.borderOf(from, middle, right);
    const fromRight = this.borderOf(middle, to, left);
    const own = fromLeft.length <= fromRight.length ? fromLeft : fromRight;
    for (const v of own) this.region[v] = -1;
    // The separator goes to the end of the range, the two parts keep their order in front of it.
    let at = from;
    let split = middle;
    for (let i = from; i < to; i++) {
      if (i === middle) split = at;
      if (this.region[work[i]!] !== -1) work[at++] = work[i]!;
    }
    if (middle === to) split = at;
    work.set(own, at);
    return this.emit(at, to, [this.visit(from, split, left), this.visit(split, at, right)]);
  }

  /** Points of a range that touch another region. */
  private borderOf(from: number, to: number, other: number): number[] {
    const { start, index } = this.pattern;
    const border: number[] = [];
    for (let i = from; i < to; i++) {
      const v = this.work[i]!;
      for (let k = start[v]!; k < start[v + 1]!; k++)
        if (this.region[index[k]!] === other) {
          border.push(v);
          break;
        }
    }
    return border;
  }

  /** Puts one part of a region before the other; returns where the second begins. */
  private part(from: number, to: number, region: number): number {
    const { work, bin, bestBin } = this;
    const small = to - from <= SMALL;
    const bins = small ? 64 : 512;
    let best = { score: Number.POSITIVE_INFINITY, at: 0 };
    const consider = () => {
      const found = this.sweep(from, to, region, bins);
      if (found.score >= best.score) return;
      best = found;
      for (let i = from; i < to; i++) bestBin[work[i]!] = bin[work[i]!]!;
    };
    this.alongSide(from, to);
    consider();
    if (!small) {
      const end = this.walk(from, to, region, this.walk(from, to, region, work[from]!));
      consider();
      this.walk(from, to, region, end);
      consider();
    }
    if (!Number.isFinite(best.score)) return (from + to) >> 1; // all in one place
    let at = from;
    for (let i = from; i < to; i++) {
      const v = work[i]!;
      if (bestBin[v]! > best.at) continue;
      work[i] = work[at]!;
      work[at++] = v;
    }
    return at;
  }

  /** Keys along the longest side of the region's box. */
  private alongSide(from: number, to: number): void {
    const { work, coords, dimension, key } = this;
    let [axis, longest] = [0, -1];
    for (let d = 0; d < dimension; d++) {
      let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
      for (let i = from; i < to; i++) {
        const x = coords[dimension * work[i]! + d]!;
        if (x < low) low = x;
        if (x > high) high = x;
      }
      if (high - low <= longest) continue;
      longest = high - low;
      axis = d;
    }
    for (let i = from; i < to; i++) key[work[i]!] = coords[dimension * work[i]! + axis]!;
  }

  /** Keys by steps from a point; what cannot be reached comes last. @returns the farthest point */
  private walk(from: number, to: number, region: number, start: number): number {
    const { work, key, queue, pattern } = this;
    for (let i = from; i < to; i++) key[work[i]!] = -1;
    key[start] = 0;
    queue[0] = start;
    let end = 1;
    for (let q = 0; q < end; q++) {
      const v = queue[q]!;
      for (let k = pattern.start[v]!; k < pattern.start[v + 1]!; k++) {
        const w = pattern.index[k]!;
        if (this.region[w] !== region || key[w] !== -1) continue;
        key[w] = key[v]! + 1;
        queue[end++] = w;
      }
    }
    const last = queue[end - 1]!;
    for (let i = from; i < to; i++) if (key[work[i]!] === -1) key[work[i]!] = key[last]! + 1;
    return last;
  }

  /** The best bin to part at: few points of one part touch the other, and neither part is too small. */
  private sweep(from: number, to: number, region: number, bins: number): { score: number; at: number } {
    const { work, key, bin, pattern } = this;
    const n = to - from;
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let i = from; i < to; i++) {
      const x = key[work[i]!]!;
      if (x < low) low = x;
      if (x > high) high = x;
    }
    if (!(high > low)) return { score: Number.POSITIVE_INFINITY, at: 0 };
    const scale = (bins - 1) / (high - low);
    const count = new Int32Array(bins);
    for (let i = from; i < to; i++) {
      const v = work[i]!;
      bin[v] = Math.floor((key[v]! - low) * scale);
      count[bin[v]!]!++;
    }
    // Points that touch the other part, for every place to part at, as differences from place to place.
    const [left, right] = [new Int32Array(bins + 1), new Int32Array(bins + 1)];
    for (let i = from; i < to; i++) {
      const v = work[i]!;
      const own = bin[v]!;
      let [least, most] = [own, own];
      for (let k = pattern.start[v]!; k < pattern.start[v + 1]!; k++) {
        const w = pattern.index[k]!;
        if (this.region[w] !== region) continue;
        const other = bin[w]!;
        if (other < least) least = other;
        if (other > most) most = other;
      }
      left[own]!++;
      left[most]!--;
      right[least]!++;
      right[own]!--;
    }
    let best = { score: Number.POSITIVE_INFINITY, at: 0 };
    let [before, leftNow, rightNow] = [0, 0, 0];
    for (let at = 0; at + 1 < bins; at++) {
      before += count[at]!;
      leftNow += left[at]!;
      rightNow += right[at]!;
      const lesser = Math.min(before, n - before) / n;
      if (lesser < LESSER) continue;
      const score = (Math.min(leftNow, rightNow) + 1) * (1 + 1.5 * (0.5 - lesser));
      if (score < best.score) best = { score, at };
    }
    return best;
  }
}
