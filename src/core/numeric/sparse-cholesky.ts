import { factorFront } from "./dense-kernels";
import { type Dissection, dissect, type Pattern } from "./nested-dissection";

/** What is known of a factorisation before any number is: reused for every matrix of one pattern. */
interface Plan {
  readonly pattern: Pattern;
  readonly tree: Dissection;
  /** Positions (ascending, all behind the node's own) that a node's elimination touches. */
  readonly boundary: readonly Uint32Array[];
  readonly children: readonly (readonly number[])[];
  /** Start of every node's columns of L in the store. */
  readonly panelStart: Float64Array;
  readonly largestFront: number;
  readonly stackSize: number;
}

/**
 * Sparse Cholesky factorisation A = L L^T of symmetric positive definite matrices, multifrontal over a nested
 * dissection tree. The pattern is analysed once; numbers may change.
 *
 * Source: J. Liu, The multifrontal method for sparse matrix solution: theory and practice (1992).
 */
export class SparseCholesky {
  private readonly plan: Plan;
  private readonly store: Float64Array;
  private readonly front: Float64Array;
  private readonly stack: Float64Array;
  private readonly local: Int32Array;

  /**
   * @param pattern which entries are not zero, both halves and the diagonal
   * @param coords a point per unknown, for the order (see `dissect`)
   */
  constructor(pattern: Pattern, coords: Float64Array, dimension: number) {
    this.plan = makePlan(pattern, dissect(pattern, coords, dimension));
    this.store = new Float64Array(this.plan.panelStart[this.plan.boundary.length]!);
    this.front = new Float64Array(this.plan.largestFront ** 2);
    this.stack = new Float64Array(this.plan.stackSize);
    this.local = new Int32Array(pattern.n);
  }

  /** Numbers in L. */
  get fill(): number {
    return this.store.length;
  }

  /**
   * @param values one per entry of the pattern, symmetric as a whole
   * @returns false when the matrix is not positive definite
   */
  factor(values: Float64Array): boolean {
    const { tree, boundary, panelStart } = this.plan;
    let top = 0;
    for (let node = 0; node < boundary.length; node++) {
      const own = tree.nodeStart[node + 1]! - tree.nodeStart[node]!;
      const m = own + boundary[node]!.length;
      const k = own;
      this.front.fill(0, 0, m * m);
      this.enter(node);
      this.assemble(node, values, m);
      top = this.addChildren(node, m, top);
      if (!factorFront(this.front, m, k)) return false;
      const { front, store, stack } = this;
      for (let i = 0, to = panelStart[node]!; i < m; i++, to += k) copyRow(front, i * m, store, to, k);
      for (let i = k; i < m; i++) {
        // Of the update only the lower half is read.
        copyRow(front, i * m + k, stack, top, i - k + 1);
        top += m - k;
      }
    }
    return true;
  }

  /** Writes into `local` where each position of a node's front stands in it. */
  private enter(node: number): void {
    const { tree, boundary } = this.plan;
    const start = tree.nodeStart[node]!;
    const own = tree.nodeStart[node + 1]! - start;
    for (let i = 0; i < own; i++) this.local[start + i] = i;
    const rest = boundary[node]!;
    for (let i = 0; i < rest.length; i++) this.local[rest[i]!] = own + i;
  }

  private assemble(node: number, values: Float64Array, m: number): void {
    const { tree, pattern } = this.plan;
    const { front, local } = this;
    for (let p = tree.nodeStart[node]!; p < tree.nodeStart[node + 1]!; p++) {
      const i = tree.order[p]!;
      for (let e = pattern.start[i]!; e < pattern.start[i + 1]!; e++) {
        const other = tree.position[pattern.index[e]!]!;
        if (other < p) continue;
        front[local[other]! * m + local[p]!]! += values[e]!;
      }
    }
  }

  /** Adds the children's updates, last child first as they lie on the stack; returns the new top. */
  private addChildren(node: number, m: number, top: number): number {
    const { boundary, children } = this.plan;
    const { front, local, stack } = this;
    for (let n = children[node]!.length - 1; n >= 0; n--) {
      const rows = boundary[children[node]![n]!]!;
      const size = rows.length;
      top -= size * size;
      for (let i = 0; i < size; i++) {
        const to = local[rows[i]!]! * m;
        const from = top + i * size;
        for (let j = 0; j <= i; j++) front[to + local[rows[j]!]!]! += stack[from + j]!;
      }
    }
    return top;
  }

  /** Solves A x = b in place for one right side, n numbers. */
  solve(b: Float64Array): void {
    const pair = new Float64Array(2 * b.length);
    for (let i = 0; i < b.length; i++) pair[2 * i] = b[i]!;
    this.solvePair(pair);
    for (let i = 0; i < b.length; i++) b[i] = pair[2 * i]!;
  }

  /** Solves A x = b in place for two right sides at once: 2 numbers per unknown, as coordinates stand. */
  solvePair(b: Float64Array): void {
    const { tree, boundary, panelStart } = this.plan;
    const { store } = this;
    const n = tree.order.length;
    const x = new Float64Array(2 * n);
    for (let p = 0; p < n; p++) {
      x[2 * p] = b[2 * tree.order[p]!]!;
      x[2 * p + 1] = b[2 * tree.order[p]! + 1]!;
    }
    for (let node = 0; node < boundary.length; node++) {
      const first = 2 * tree.nodeStart[node]!;
      const k = tree.nodeStart[node + 1]! - tree.nodeStart[node]!;
      const rest = boundary[node]!;
      let row = panelStart[node]!;
      for (let i = 0; i < k + rest.length; i++, row += k) {
        const most = i < k ? i : k;
        let s = 0;
        let t = 0;
        for (let j = 0; j < most; j++) {
          const l = store[row + j]!;
          s += l * x[first + 2 * j]!;
          t += l * x[first + 2 * j + 1]!;
        }
        if (i < k) {
          x[first + 2 * i] = (x[first + 2 * i]! - s) / store[row + i]!;
          x[first + 2 * i + 1] = (x[first + 2 * i + 1]! - t) / store[row + i]!;
        } else {
          x[2 * rest[i - k]!]! -= s;
          x[2 * rest[i - k]! + 1]! -= t;
        }
      }
    }
    for (let node = boundary.length - 1; node >= 0; node--) {
      const first = 2 * tree.nodeStart[node]!;
      const k = tree.nodeStart[node + 1]! - tree.nodeStart[node]!;
      const rest = boundary[node]!;
      let row = panelStart[node]! + (k + rest.length - 1) * k;
      for (let i = k + rest.length - 1; i >= 0; i--, row -= k) {
        const at = i < k ? first + 2 * i : 2 * rest[i - k]!;
        if (i < k) {
          x[at]! /= store[row + i]!;
          x[at + 1]! /= store[row + i]!;
        }
        const s = x[at]!;
        const t = x[at + 1]!;
        const most = i < k ? i : k;
        for (let j = 0; j < most; j++) {
          const l = store[row + j]!;
          x[first + 2 * j]! -= l * s;
          x[first + 2 * j + 1]! -= l * t;
        }
      }
    }
    for (let p = 0; p < n; p++) {
      b[2 * tree.order[p]!] = x[2 * p]!;
      b[2 * tree.order[p]! + 1] = x[2 * p + 1]!;
    }
  }
}

/** Most rows are short, and not worth a view on them. */
function copyRow(from: Float64Array, at: number, into: Float64Array, to: number, length: number): void {
  if (length > 64) into.set(from.subarray(at, at + length), to);
  else for (let j = 0; j < length; j++) into[to + j] = from[at + j]!;
}

function makePlan(pattern: Pattern, tree: Dissection): Plan {
  const nodes = tree.nodeParent.length;
  const children: number[][] = Array.from({ length: nodes }, () => []);
  const boundary: Uint32Array[] = [];
  const panelStart = new Float64Array(nodes + 1);
  const mark = new Int32Array(pattern.n).fill(-1);
  let largestFront = 0;
  let top = 0;
  let stackSize = 0;
  for (let node = 0; node < nodes; node++) {
    if (tree.nodeParent[node]! >= 0) children[tree.nodeParent[node]!]!.push(node);
    const start = tree.nodeStart[node]!;
    const end = tree.nodeStart[node + 1]!;
    const rest: number[] = [];
    const touch = (position: number) => {
      if (position < end || mark[position] === node) return;
      mark[position] = node;
      rest.push(position);
    };
    for (let p = start; p < end; p++) {
      const i = tree.order[p]!;
      for (let e = pattern.start[i]!; e < pattern.start[i + 1]!; e++) touch(tree.position[pattern.index[e]!]!);
    }
    for (const child of children[node]!) {
      for (const position of boundary[child]!) touch(position);
      top -= boundary[child]!.length ** 2;
    }
    boundary.push(Uint32Array.from(rest).sort());
    const own = end - start;
    const m = own + rest.length;
    panelStart[node + 1] = panelStart[node]! + m * own;
    largestFront = Math.max(largestFront, m);
    top += rest.length ** 2;
    stackSize = Math.max(stackSize, top);
  }
  return { pattern, tree, boundary, children, panelStart, largestFront, stackSize };
}
