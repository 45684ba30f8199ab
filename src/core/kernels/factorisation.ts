import type { Kernels } from "./kernels";

/** A symmetric matrix's entries: of every row its diagonal, then those with greater columns. */
export interface Pattern {
  readonly n: number;
  readonly start: Uint32Array;
  readonly index: Uint32Array;
}

/** An order of elimination, as a tree of nodes, children before their parents. */
export interface Elimination {
  /** The points in the order of elimination, and the place of each in it. */
  readonly order: Uint32Array;
  readonly position: Uint32Array;
  /** Where every node begins in the order, and the end. */
  readonly nodeStart: Uint32Array;
  /** -1 for none. */
  readonly nodeParent: Int32Array;
}

/**
 * An order in which little is filled in.
 *
 * @param start and `index`: the neighbours of every point @param coordinates 3 a point
 * Source: George, Nested dissection of a regular finite element mesh (1973).
 */
export function eliminationOrder(
  kernels: Kernels,
  start: Uint32Array,
  index: Uint32Array,
  coordinates: Float64Array,
): Elimination {
  const n = start.length - 1;
  return kernels.during(() => {
    const [from, to, places] = [kernels.put(start), kernels.put(index), kernels.put(coordinates)];
    const [out, begin, parent] = [kernels.take(4 * n), kernels.take(4 * n + 8), kernels.take(4 * n + 4)];
    const nodes = kernels.code.dissect(n, from, to, places, out, begin, parent, kernels.take(20 * n));
    const order = kernels.u32(out, n).slice();
    const position = new Uint32Array(n);
    for (let i = 0; i < n; i++) position[order[i]!] = i;
    return {
      order,
      position,
      nodeStart: kernels.u32(begin, nodes + 1).slice(),
      nodeParent: kernels.i32(parent, nodes).slice(),
    };
  });
}

/** Children of every node: children[first[v] .. first[v + 1] - 1], ascending. */
function childrenOf(nodeParent: Int32Array): { first: Int32Array; children: Int32Array } {
  const nodes = nodeParent.length;
  const first = new Int32Array(nodes + 1);
  for (const p of nodeParent) if (p >= 0) first[p + 1]!++;
  for (let v = 0; v < nodes; v++) first[v + 1]! += first[v]!;
  const fill = first.slice(0, nodes);
  const children = new Int32Array(first[nodes]!);
  nodeParent.forEach((p, v) => {
    if (p >= 0) children[fill[p]!++] = v;
  });
  return { first, children };
}

/** Rows of every node's front below its own columns, ascending: what its points, and what is left of its children, touch. */
function rowsBelow(pattern: Pattern, { nodeStart, nodeParent }: Elimination, first: Int32Array, children: Int32Array) {
  const nodes = nodeParent.length;
  const start = new Int32Array(nodes + 1);
  let rows = new Uint32Array(8 * pattern.n + 64);
  const seen = new Int32Array(pattern.n).fill(-1);
  let at = 0;
  for (let v = 0; v < nodes; v++) {
    const end = nodeStart[v + 1]!;
    const from = at;
    // No front has more rows than come after it.
    if (at + pattern.n - end > rows.length) {
      const more = new Uint32Array(Math.max(2 * rows.length, at + pattern.n));
      more.set(rows);
      rows = more;
    }
    const take = (row: number) => {
      if (row < end || seen[row] === v) return;
      seen[row] = v;
      rows[at++] = row;
    };
    for (let k = pattern.start[nodeStart[v]!]!; k < pattern.start[end]!; k++) take(pattern.index[k]!);
    for (let c = first[v]!; c < first[v + 1]!; c++) {
      const child = children[c]!;
      for (let k = start[child]!; k < start[child + 1]!; k++) take(rows[k]!);
    }
    rows.subarray(from, at).sort();
    start[v + 1] = at;
  }
  return { start, rows: rows.slice(0, at) };
}

/** What is known of a factor before there are numbers: for matrices that have their entries in the same places. */
export interface FactorPlan {
  /** Entries of the matrix, and numbers of the factor and of the stack that fronts are handed on in. */
  readonly size: number;
  readonly numbers: number;
  readonly stack: number;
  readonly nodeStart: Uint32Array;
  /** Rows below every node's own columns. */
  readonly rows: Uint32Array;
  /** As the kernels read them: 8 a node, 3 an entry, one a row, one a child. */
  readonly nodes: Int32Array;
  readonly entries: Int32Array;
  readonly places: Int32Array;
  readonly children: Int32Array;
}

/**
 * Plans a factor.
 *
 * @param pattern rows and columns by their place in the order of elimination
 * Source: J. Liu, The multifrontal method for sparse matrix solution (1992).
 */
export function factorPlan(pattern: Pattern, tree: Elimination): FactorPlan {
  const { nodeStart, nodeParent } = tree;
  const count = nodeParent.length;
  const { first, children } = childrenOf(nodeParent);
  const { start, rows } = rowsBelow(pattern, tree, first, children);
  const nodes = new Int32Array(8 * count);
  const entries = new Int32Array(3 * pattern.index.length);
  const places = new Int32Array(rows.length);
  const local = new Int32Array(pattern.n);
  const sizes = layOut(nodes, nodeStart, start, first, children);
  for (let v = 0; v < count; v++) {
    const [from, to] = [nodeStart[v]!, nodeStart[v + 1]!];
    for (let p = from; p < to; p++) local[p] = p - from;
    for (let k = start[v]!; k < start[v + 1]!; k++) local[rows[k]!] = to - from + k - start[v]!;
    for (let p = from; p < to; p++)
      for (let k = pattern.start[p]!; k < pattern.start[p + 1]!; k++) {
        entries[3 * k] = k;
        entries[3 * k + 1] = local[pattern.index[k]!]!;
        entries[3 * k + 2] = p - from;
      }
    nodes[8 * v + 3] = pattern.start[from]!;
    nodes[8 * v + 4] = pattern.start[to]!;
    for (let c = first[v]!; c < first[v + 1]!; c++) {
      const child = children[c]!;
      for (let k = start[child]!; k < start[child + 1]!; k++) places[k] = local[rows[k]!]!;
    }
  }
  return { size: pattern.index.length, ...sizes, nodeStart, rows, nodes, entries, places, children };
}

/** Writes sizes and places of panels to the nodes of a plan. @returns numbers of the factor, and how much of the stack is needed */
function layOut(
  nodes: Int32Array,
  nodeStart: Uint32Array,
  start: Int32Array,
  first: Int32Array,
  children: Int32Array,
): { numbers: number; stack: number } {
  let [top, stack, numbers] = [0, 0, 0];
  for (let v = 0; v + 1 < nodeStart.length; v++) {
    const columns = nodeStart[v + 1]! - nodeStart[v]!;
    const left = start[v + 1]! - start[v]!;
    nodes[8 * v] = columns;
    nodes[8 * v + 1] = columns + left;
    nodes[8 * v + 2] = numbers;
    nodes[8 * v + 5] = start[v]!;
    nodes[8 * v + 6] = first[v]!;
    nodes[8 * v + 7] = first[v + 1]! - first[v]!;
    numbers += (columns + left) * ((columns + 1) & ~1);
    // A node's own front stands above those of its children until they are taken in. One number to spare: products of
    // blocks write one beside the diagonal.
    stack = Math.max(stack, top + left * left + 2);
    for (let c = first[v]!; c < first[v + 1]!; c++) {
      const child = children[c]!;
      top -= (start[child + 1]! - start[child]!) ** 2;
    }
    top += left * left;
  }
  return { numbers, stack };
}

/** A factor of a symmetric positive matrix, in the memory of kernels, for other values again and again. */
export class Factorisation {
  /** Where the values of the entries are. */
  readonly values: number;
  readonly size: number;
  private readonly count: number;
  private readonly nodes: number;
  private readonly entries: number;
  private readonly places: number;
  private readonly children: number;
  private readonly nodeStart: number;
  private readonly rows: number;
  private readonly factorAt: number;
  private readonly stack: number;

  constructor(
    private readonly kernels: Kernels,
    plan: FactorPlan,
  ) {
    this.size = plan.size;
    this.count = plan.nodes.length / 8;
    this.nodes = kernels.put(plan.nodes);
    this.entries = kernels.put(plan.entries);
    this.places = kernels.put(plan.places);
    this.children = kernels.put(plan.children);
    this.nodeStart = kernels.put(plan.nodeStart);
    this.rows = kernels.put(plan.rows);
    this.values = kernels.take(8 * plan.size);
    this.factorAt = kernels.take(8 * plan.numbers);
    this.stack = kernels.take(8 * plan.stack);
  }

  /** Factors the matrix of the values there are. @returns whether it is positive definite */
  factor(): boolean {
    const { kernels, count, nodes, entries, places, children, values, factorAt, stack } = this;
    return kernels.code.factor(nodes, count, entries, places, children, values, factorAt, stack) !== 0;
  }

  /** Solves for two right sides in place. @param x address of pairs, in the order of elimination */
  solve(x: number): void {
    const { kernels, count, nodes, nodeStart, rows, factorAt } = this;
    kernels.code.solvePairs(nodes, count, nodeStart, rows, factorAt, x);
  }
}
