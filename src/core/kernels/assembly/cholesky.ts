// Sparse Cholesky factors by fronts, over a tree of nodes: each eliminates some columns and hands what is left of its front
// to its parent. Source: J. Liu, The multifrontal method for sparse matrix solution (1992).
//
// Of every node the plan holds 8 numbers of 32 bits: its columns, its rows with those, where its panel begins among the
// factor's numbers, the first and the last of its entries of the matrix, where its rows below begin in `rows` and `places`,
// and where its children begin in `children`, and how many they are. A panel lies row after row.

import { factorPanel, subtractSquare } from "./dense";
import { i32At } from "./lists";
import { worked } from "./pause";

/** Numbers of the plan, by their bytes. */
const COLUMNS: usize = 0;
const ROWS: usize = 4;
const PANEL: usize = 8;
const FIRST: usize = 12;
const LAST: usize = 16;
const BELOW: usize = 20;
const CHILDREN: usize = 24;
const CHILD_COUNT: usize = 28;

/** Bytes of a panel's row. */
function rowBytes(columns: i32): usize {
  return (<usize>((columns + 1) & ~1)) << 3;
}

/** Puts entries of the matrix where they stand in a node's panel. Each is 3 numbers: which value, row, column. */
function assemble(node: usize, entries: usize, values: usize, panel: usize, ld: usize): void {
  for (let e = load<i32>(node, FIRST); e < load<i32>(node, LAST); e++) {
    const a = entries + <usize>e * 12;
    const to = panel + <usize>load<i32>(a, 4) * ld + ((<usize>load<i32>(a, 8)) << 3);
    store<f64>(to, load<f64>(values + ((<usize>load<u32>(a)) << 3)));
  }
}

/** Adds what a child left of its front, `size` square, to a node's panel and to what that leaves. */
function addChild(
  left: usize,
  size: i32,
  places: usize,
  panel: usize,
  ld: usize,
  columns: i32,
  rest: usize,
  ldRest: usize,
): void {
  let split: i32 = 0;
  while (split < size && i32At(places, split) < columns) split++;
  for (let i: i32 = 0; i < size; i++) {
    const place = i32At(places, i);
    const from = left + ((<usize>i * <usize>size) << 3);
    const toPanel = panel + <usize>place * ld;
    const s = min(split, i + 1);
    let j: i32 = 0;
    for (; j < s; j++) {
      const to = toPanel + ((<usize>i32At(places, j)) << 3);
      store<f64>(to, load<f64>(to) + load<f64>(from + ((<usize>j) << 3)));
    }
    if (i < split) continue;
    const toRest = rest + <usize>(place - columns) * ldRest;
    for (; j <= i; j++) {
      const to = toRest + ((<usize>(i32At(places, j) - columns)) << 3);
      store<f64>(to, load<f64>(to) + load<f64>(from + ((<usize>j) << 3)));
    }
  }
}

/**
 * Factors a matrix.
 *
 * @param values its entries, as the plan counts them
 * @param factor where the panels go
 * @param stack where fronts are handed on, those of the children below those of their parents
 * @returns false where it is not positive definite
 */
export function factor(
  plan: usize,
  nodes: i32,
  entries: usize,
  places: usize,
  children: usize,
  values: usize,
  factor: usize,
  stack: usize,
): bool {
  let top = stack;
  for (let n: i32 = 0; n < nodes; n++) {
    const node = plan + ((<usize>n) << 5);
    const columns = load<i32>(node, COLUMNS);
    const rows = load<i32>(node, ROWS);
    const ld = rowBytes(columns);
    const panel = factor + ((<usize>load<u32>(node, PANEL)) << 3);
    const left = rows - columns;
    const ldLeft = (<usize>left) << 3;
    memory.fill(panel, 0, <usize>rows * ld);
    memory.fill(top, 0, <usize>left * ldLeft);
    assemble(node, entries, values, panel, ld);
    let bottom = top;
    const first = load<i32>(node, CHILDREN);
    for (let c = load<i32>(node, CHILD_COUNT) - 1; c >= 0; c--) {
      const child = plan + ((<usize>i32At(children, first + c)) << 5);
      const size = load<i32>(child, ROWS) - load<i32>(child, COLUMNS);
      bottom -= (<usize>size * <usize>size) << 3;
      addChild(bottom, size, places + ((<usize>load<i32>(child, BELOW)) << 2), panel, ld, columns, top, ldLeft);
    }
    worked(<f64>columns * <f64>rows * <f64>rows + 64);
    if (!factorPanel(panel, ld, rows, columns)) return false;
    // Products took what stands above the diagonal along: a row that is read whole must end at it.
    for (let i: i32 = 0; i < columns; i++) {
      const from = (<usize>(i + 1)) << 3;
      if (from < ld) memory.fill(panel + <usize>i * ld + from, 0, ld - from);
    }
    if (left > 0) subtractSquare(panel + <usize>columns * ld, ld, left, columns, top, ldLeft);
    if (bottom !== top && left > 0) memory.copy(bottom, top, <usize>left * ldLeft);
    top = bottom + <usize>left * ldLeft;
  }
  return true;
}

/** Takes a multiple of the pair at `from` off the pair at `to`. */
function takeOff(to: usize, from: usize, times: f64): void {
  if (ASC_FEATURE_SIMD) v128.store(to, f64x2.sub(v128.load(to), f64x2.mul(f64x2.splat(times), v128.load(from))));
  else {
    store<f64>(to, load<f64>(to) - times * load<f64>(from));
    store<f64>(to, load<f64>(to, 8) - times * load<f64>(from, 8), 8);
  }
}

function divide(pair: usize, by: f64): void {
  const inverse = 1 / by;
  store<f64>(pair, load<f64>(pair) * inverse);
  store<f64>(pair, load<f64>(pair, 8) * inverse, 8);
}

/** Takes the product of a row with the node's pairs off the pair at `to`. */
function takeRowOff(to: usize, row: usize, pairs: usize, columns: i32): void {
  if (ASC_FEATURE_SIMD) {
    let sum = v128.load(to);
    for (let j: i32 = 0; j < columns; j++)
      sum = f64x2.sub(sum, f64x2.mul(v128.load64_splat(row + ((<usize>j) << 3)), v128.load(pairs + ((<usize>j) << 4))));
    v128.store(to, sum);
  } else
    for (let j: i32 = 0; j < columns; j++) takeOff(to, pairs + ((<usize>j) << 4), load<f64>(row + ((<usize>j) << 3)));
}

/** The same for four rows below one another, whose pairs stand at the rows told. */
function takeFourRowsOff(x: usize, rows: usize, row: usize, ld: usize, pairs: usize, columns: i32): void {
  const r1 = row + ld;
  const r2 = r1 + ld;
  const r3 = r2 + ld;
  let a0 = f64x2.splat(0);
  let a1 = a0;
  let a2 = a0;
  let a3 = a0;
  for (let j: i32 = 0; j < columns; j++) {
    const pair = v128.load(pairs + ((<usize>j) << 4));
    const o = (<usize>j) << 3;
    a0 = f64x2.add(a0, f64x2.mul(v128.load64_splat(row + o), pair));
    a1 = f64x2.add(a1, f64x2.mul(v128.load64_splat(r1 + o), pair));
    a2 = f64x2.add(a2, f64x2.mul(v128.load64_splat(r2 + o), pair));
    a3 = f64x2.add(a3, f64x2.mul(v128.load64_splat(r3 + o), pair));
  }
  let to = x + ((<usize>load<i32>(rows)) << 4);
  v128.store(to, f64x2.sub(v128.load(to), a0));
  to = x + ((<usize>load<i32>(rows, 4)) << 4);
  v128.store(to, f64x2.sub(v128.load(to), a1));
  to = x + ((<usize>load<i32>(rows, 8)) << 4);
  v128.store(to, f64x2.sub(v128.load(to), a2));
  to = x + ((<usize>load<i32>(rows, 12)) << 4);
  v128.store(to, f64x2.sub(v128.load(to), a3));
}

function forwards(plan: usize, nodes: i32, nodeStart: usize, rowList: usize, factor: usize, x: usize): void {
  for (let n: i32 = 0; n < nodes; n++) {
    const node = plan + ((<usize>n) << 5);
    const columns = load<i32>(node, COLUMNS);
    const ld = rowBytes(columns);
    let row = factor + ((<usize>load<u32>(node, PANEL)) << 3);
    const pairs = x + ((<usize>i32At(nodeStart, n)) << 4);
    for (let i: i32 = 0; i < columns; i++) {
      const own = pairs + ((<usize>i) << 4);
      takeRowOff(own, row, pairs, i);
      divide(own, load<f64>(row + ((<usize>i) << 3)));
      row += ld;
    }
    const below = rowList + ((<usize>load<i32>(node, BELOW)) << 2);
    const left = load<i32>(node, ROWS) - columns;
    let i: i32 = 0;
    if (ASC_FEATURE_SIMD)
      for (; i + 4 <= left; i += 4) {
        takeFourRowsOff(x, below + ((<usize>i) << 2), row, ld, pairs, columns);
        row += 4 * ld;
      }
    for (; i < left; i++) {
      takeRowOff(x + ((<usize>i32At(below, i)) << 4), row, pairs, columns);
      row += ld;
    }
  }
}

/** Takes multiples of four pairs, those at the rows told, off a node's pairs. */
function takeOffFour(x: usize, rows: usize, row: usize, ld: usize, pairs: usize, columns: i32): void {
  const v0 = v128.load(x + ((<usize>load<i32>(rows)) << 4));
  const v1 = v128.load(x + ((<usize>load<i32>(rows, 4)) << 4));
  const v2 = v128.load(x + ((<usize>load<i32>(rows, 8)) << 4));
  const v3 = v128.load(x + ((<usize>load<i32>(rows, 12)) << 4));
  const r1 = row + ld;
  const r2 = r1 + ld;
  const r3 = r2 + ld;
  for (let j: i32 = 0; j < columns; j++) {
    const o = (<usize>j) << 3;
    const to = pairs + ((<usize>j) << 4);
    const a = f64x2.add(f64x2.mul(v128.load64_splat(row + o), v0), f64x2.mul(v128.load64_splat(r1 + o), v1));
    const b = f64x2.add(f64x2.mul(v128.load64_splat(r2 + o), v2), f64x2.mul(v128.load64_splat(r3 + o), v3));
    v128.store(to, f64x2.sub(v128.load(to), f64x2.add(a, b)));
  }
}

function backwards(plan: usize, nodes: i32, nodeStart: usize, rowList: usize, factor: usize, x: usize): void {
  for (let n = nodes - 1; n >= 0; n--) {
    const node = plan + ((<usize>n) << 5);
    const columns = load<i32>(node, COLUMNS);
    if (!columns) continue;
    const ld = rowBytes(columns);
    const panel = factor + ((<usize>load<u32>(node, PANEL)) << 3);
    const pairs = x + ((<usize>i32At(nodeStart, n)) << 4);
    const below = rowList + ((<usize>load<i32>(node, BELOW)) << 2);
    const left = load<i32>(node, ROWS) - columns;
    let row = panel + <usize>columns * ld;
    let i: i32 = 0;
    if (ASC_FEATURE_SIMD)
      for (; i + 4 <= left; i += 4) {
        takeOffFour(x, below + ((<usize>i) << 2), row, ld, pairs, columns);
        row += 4 * ld;
      }
    for (; i < left; i++) {
      const from = x + ((<usize>i32At(below, i)) << 4);
      for (let j: i32 = 0; j < columns; j++)
        takeOff(pairs + ((<usize>j) << 4), from, load<f64>(row + ((<usize>j) << 3)));
      row += ld;
    }
    row = panel + <usize>(columns - 1) * ld;
    for (let c = columns - 1; c >= 0; c--) {
      const own = pairs + ((<usize>c) << 4);
      divide(own, load<f64>(row + ((<usize>c) << 3)));
      for (let j: i32 = 0; j < c; j++) takeOff(pairs + ((<usize>j) << 4), own, load<f64>(row + ((<usize>j) << 3)));
      row -= ld;
    }
  }
}

/**
 * Solves for two right sides in place.
 *
 * @param nodeStart the first unknown of every node, in the order of elimination
 * @param rowList the unknowns of rows below, as the plan counts them
 * @param x pairs, in the order of elimination
 */
export function solvePairs(plan: usize, nodes: i32, nodeStart: usize, rowList: usize, factor: usize, x: usize): void {
  forwards(plan, nodes, nodeStart, rowList, factor, x);
  backwards(plan, nodes, nodeStart, rowList, factor, x);
}
