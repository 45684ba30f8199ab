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

const LEAF = 16;

/**
 * Fill-reducing order by geometric nested dissection: halve the points along the longest side of their box; the
 * points of one half that touch the other are the separator and are eliminated last.
 *
 * @param coords `dimension` numbers per unknown, near one another where unknowns are coupled
 * Source: A. George, Nested dissection of a regular finite element mesh (1973); the geometric variant of
 * Miller, Teng, Thurston, Vavasis, Geometric separators for finite-element meshes (1998).
 */
export function dissect(pattern: Pattern, coords: Float64Array, dimension: number): Dissection {
  const { n } = pattern;
  const order = new Uint32Array(n);
  const nodeStart: number[] = [0];
  const nodeParent: number[] = [];
  const region = new Int32Array(n);
  const work = iota(n);
  let regions = 0;
  let filled = 0;

  const emit = (from: number, to: number, children: readonly number[]): number => {
    for (let i = from; i < to; i++) order[filled++] = work[i]!;
    nodeStart.push(filled);
    for (const child of children) nodeParent[child] = nodeParent.length;
    return nodeParent.push(-1) - 1;
  };

  const visit = (from: number, to: number): number => {
    if (to - from <= LEAF) return emit(from, to, []);
    const middle = halve(work, from, to, coords, dimension);
    const left = ++regions;
    const right = ++regions;
    for (let i = from; i < to; i++) region[work[i]!] = i < middle ? left : right;
    const fromLeft = borderOf(pattern, region, work, from, middle, right);
    const fromRight = borderOf(pattern, region, work, middle, to, left);
    const own = fromLeft.length <= fromRight.length ? fromLeft : fromRight;
    for (const v of own) region[v] = -1;
    // The separator goes to the end of the range, the two halves keep their order in front of it.
    let at = from;
    let split = middle;
    for (let i = from; i < to; i++) {
      if (i === middle) split = at;
      if (region[work[i]!] !== -1) work[at++] = work[i]!;
    }
    work.set(own, at);
    return emit(at, to, [visit(from, split), visit(split, at)]);
  };
  if (n) visit(0, n);

  const position = new Uint32Array(n);
  for (let i = 0; i < n; i++) position[order[i]!] = i;
  return { order, position, nodeStart: Uint32Array.from(nodeStart), nodeParent: Int32Array.from(nodeParent) };
}

function borderOf(
  p: Pattern,
  region: Int32Array,
  work: Uint32Array,
  from: number,
  to: number,
  other: number,
): number[] {
  const border: number[] = [];
  for (let i = from; i < to; i++) {
    const v = work[i]!;
    for (let k = p.start[v]!; k < p.start[v + 1]!; k++) {
      if (region[p.index[k]!] === other) {
        border.push(v);
        break;
      }
    }
  }
  return border;
}

/** Partitions a range of `work` about its median along the longest side of its box; returns the middle. */
function halve(work: Uint32Array, from: number, to: number, coords: Float64Array, dimension: number): number {
  let axis = 0;
  let longest = -1;
  for (let d = 0; d < dimension; d++) {
    let low = Number.POSITIVE_INFINITY;
    let high = Number.NEGATIVE_INFINITY;
    for (let i = from; i < to; i++) {
      const x = coords[dimension * work[i]! + d]!;
      if (x < low) low = x;
      if (x > high) high = x;
    }
    if (high - low > longest) {
      longest = high - low;
      axis = d;
    }
  }
  const key = (i: number) => coords[dimension * work[i]! + axis]!;
  const middle = (from + to) >> 1;
  let low = from;
  let high = to - 1;
  while (low < high) {
    const pivot = key((low + high) >> 1);
    let i = low;
    let j = high;
    while (i <= j) {
      while (key(i) < pivot) i++;
      while (key(j) > pivot) j--;
      if (i <= j) {
        const swap = work[i]!;
        work[i++] = work[j]!;
        work[j--] = swap;
      }
    }
    if (middle <= j) high = j;
    else if (middle >= i) low = i;
    else break;
  }
  return middle;
}
