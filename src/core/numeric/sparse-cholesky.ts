import { factorFront } from "./dense-kernels";
import { type Dissection, dissect, type Pattern } from "./nested-dissection";

/** What is known of a factorisation before any number is: reused for every matrix of one pattern. */
interface Plan {
  readonly pattern: Pattern;
  readonly tree: Dissection;
  readonly block: number;
  /** Positions (ascending, all behind the node's own) that a node's elimination touches. */
  readonly boundary: readonly Uint32Array[];
  readonly children: readonly (readonly number[])[];
  /** Start of every node's columns of L in the store. */
  readonly panelStart: Float64Array;
  readonly largestFront: number;
  readonly stackSize: number;
}

/**
 * Sparse Cholesky factorisation A = L L^T of symmetric positive definite matrices made of b x b blocks, multifrontal
 * over a nested dissection tree. The pattern is analysed once; numbers may change.
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
   * @param pattern which blocks are not zero, both halves and the diagonal
   * @param coords a point per unknown block, for the order (see `dissect`)
   * @param block side b of the blocks
   */
  constructor(pattern: Pattern, coords: Float64Array, dimension: number, block: number) {
    this.plan = makePlan(pattern, dissect(pattern, coords, dimension), block);
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
   * @param values b x b numbers per entry of the pattern, row-major, symmetric as a whole
   * @returns false when the matrix is not positive definite
   */
  factor(values: Float64Array): boolean {
    const { tree, boundary, panelStart, block } = this.plan;
    let top = 0;
    for (let node = 0; node < boundary.length; node++) {
      const own = tree.nodeStart[node + 1]! - tree.nodeStart[node]!;
      const m = (own + boundary[node]!.length) * block;
      const k = own * block;
      this.front.fill(0, 0, m * m);
      this.enter(node);
      this.assemble(node, values, m);
      top = this.addChildren(node, m, top);
      if (!factorFront(this.front, m, k)) return false;
      for (let i = 0, to = panelStart[node]!; i < m; i++, to += k)
        this.store.set(this.front.subarray(i * m, i * m + k), to);
      for (let i = k; i < m; i++) {
        this.stack.set(this.front.subarray(i * m + k, i * m + m), top);
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
    const { tree, pattern, block } = this.plan;
    const { front, local } = this;
    for (let p = tree.nodeStart[node]!; p < tree.nodeStart[node + 1]!; p++) {
      const i = tree.order[p]!;
      for (let e = pattern.start[i]!; e < pattern.start[i + 1]!; e++) {
        const other = tree.position[pattern.index[e]!]!;
        if (other < p) continue;
        const row = local[other]! * block;
        const column = local[p]! * block;
        for (let r = 0; r < block; r++)
          for (let c = 0; c < block; c++) front[(row + r) * m + column + c]! += values[(e * block + c) * block + r]!;
      }
    }
  }

  /** Adds the children's updates, last child first as they lie on the stack; returns the new top. */
  private addChildren(node: number, m: number, top: number): number {
    const { boundary, children, block } = this.plan;
    const { front, local, stack } = this;
    for (let n = children[node]!.length - 1; n >= 0; n--) {
      const rows = boundary[children[node]![n]!]!;
      const size = rows.length * block;
      top -= size * size;
      for (let i = 0; i < size; i++) {
        const to = (local[rows[(i / block) | 0]!]! * block + (i % block)) * m;
        const from = top + i * size;
        for (let j = 0; j < rows.length && j * block <= i; j++) {
          const column = to + local[rows[j]!]! * block;
          for (let c = 0; c < block; c++) front[column + c]! += stack[from + j * block + c]!;
        }
      }
    }
    return top;
  }

  /** Solves A x = b in place; b has n * block numbers. */
  solve(b: Float64Array): void {
    const { tree, boundary, panelStart, block } = this.plan;
    const n = tree.order.length;
    const x = new Float64Array(n * block);
    for (let p = 0; p < n; p++) for (let c = 0; c < block; c++) x[p * block + c] = b[tree.order[p]! * block + c]!;
    const { store } = this;
    const nodes = boundary.length;
    for (let node = 0; node < nodes; node++) {
      const first = tree.nodeStart[node]! * block;
      const k = tree.nodeStart[node + 1]! * block - first;
      const rest = boundary[node]!;
      let row = panelStart[node]!;
      for (let i = 0; i < k; i++, row += k) {
        let s = x[first + i]!;
        for (let j = 0; j < i; j++) s -= store[row + j]! * x[first + j]!;
        x[first + i] = s / store[row + i]!;
      }
      for (let i = 0; i < rest.length * block; i++, row += k) {
        let s = 0;
        for (let j = 0; j < k; j++) s += store[row + j]! * x[first + j]!;
        x[rest[(i / block) | 0]! * block + (i % block)]! -= s;
      }
    }
    for (let node = nodes - 1; node >= 0; node--) {
      const first = tree.nodeStart[node]! * block;
      const k = tree.nodeStart[node + 1]! * block - first;
      const rest = boundary[node]!;
      const panel = panelStart[node]!;
      for (let i = 0; i < rest.length * block; i++) {
        const value = x[rest[(i / block) | 0]! * block + (i % block)]!;
        const row = panel + (k + i) * k;
        for (let j = 0; j < k; j++) x[first + j]! -= store[row + j]! * value;
      }
      for (let i = k - 1; i >= 0; i--) {
        const row = panel + i * k;
        const value = x[first + i]! / store[row + i]!;
        x[first + i] = value;
        for (let j = 0; j < i; j++) x[first + j]! -= store[row + j]! * value;
      }
    }
    for (let p = 0; p < n; p++) for (let c = 0; c < block; c++) b[tree.order[p]! * block + c] = x[p * block + c]!;
  }
}

function makePlan(pattern: Pattern, tree: Dissection, block: number): Plan {
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
      top -= (boundary[child]!.length * block) ** 2;
    }
    boundary.push(Uint32Array.from(rest).sort());
    const own = (end - start) * block;
    const m = own + rest.length * block;
    panelStart[node + 1] = panelStart[node]! + m * own;
    largestFront = Math.max(largestFront, m);
    top += (rest.length * block) ** 2;
    stackSize = Math.max(stackSize, top);
  }
  return { pattern, tree, block, boundary, children, panelStart, largestFront, stackSize };
}
