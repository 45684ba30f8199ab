// Runs of set cells in a frame of w x h cells, 3 numbers each: row, first cell, end.

/** Runs row by row, from the left. */
export function runsOf(cells: Uint8Array, w: number, h: number): Int32Array {
  const found: number[] = [];
  for (let y = 0; y < h; y++) {
    const row = y * w;
    for (let x = cells.indexOf(1, row) - row; x >= 0 && x < w; ) {
      const gap = cells.indexOf(0, row + x);
      const end = gap < 0 || gap > row + w ? w : gap - row;
      found.push(y, x, end);
      x = cells.indexOf(1, row + end) - row;
    }
  }
  return Int32Array.from(found);
}

/** The same runs, the longest first: those are the likeliest to collide. */
export const longestFirst = (runs: Int32Array, w: number): Int32Array =>
  sorted(runs, w + 1, (k) => w - (runs[k + 2]! - runs[k + 1]!));

/** Runs in the order of whole numbers below some, equal ones as they were. @param keyOf of the run that begins at a place in the list */
function sorted(runs: Int32Array, keys: number, keyOf: (k: number) => number): Int32Array {
  const places = new Uint32Array(keys + 1);
  for (let k = 0; k < runs.length; k += 3) places[keyOf(k) + 1]!++;
  for (let key = 0; key < keys; key++) places[key + 1]! += places[key]!;
  const out = new Int32Array(runs.length);
  for (let k = 0; k < runs.length; k += 3) {
    const at = 3 * places[keyOf(k)]!++;
    out[at] = runs[k]!;
    out[at + 1] = runs[k + 1]!;
    out[at + 2] = runs[k + 2]!;
  }
  return out;
}

/** Runs of a frame as they lie when it is turned by a half. */
export function halfTurnRuns(runs: Int32Array, w: number, h: number): Int32Array {
  const out = new Int32Array(runs.length);
  for (let k = 0; k < runs.length; k += 3) {
    out[k] = h - 1 - runs[k]!;
    out[k + 1] = w - runs[k + 2]!;
    out[k + 2] = w - runs[k + 1]!;
  }
  return out;
}

/**
 * Runs of a frame as they lie when it is turned by a quarter, counter-clockwise: cell (x, y) goes to (h - 1 - y, x). In time
 * by the length of the border: a column's run begins and ends where rows that lie on one another differ.
 *
 * @param runs row by row, from the left @returns the same of the turned frame, which is h x w
 */
export function quarterTurnRuns(runs: Int32Array, w: number, h: number): Int32Array {
  const found: number[] = [];
  const begun = new Int32Array(w);
  /** Where a row differs from the one below it, runs begin in some columns, or end. */
  const change = (from: number, to: number, y: number, begins: boolean): void => {
    for (let x = from; x < to; x++) {
      if (begins) begun[x] = y;
      else found.push(x, h - y, h - begun[x]!);
    }
  };
  let [last, at] = [0, 0];
  // The row above the last has none.
  for (let y = 0; y <= h; y++) {
    const end = rowEnd(runs, at, y);
    differences(runs, last, at, end, (from, to, begins) => change(from, to, y, begins));
    [last, at] = [at, end];
  }
  // Columns are the rows now; in each the last that ended lies leftmost.
  const back = new Int32Array(found.length);
  for (let k = 0; k < found.length; k += 3) for (let i = 0; i < 3; i++) back[k + i] = found[found.length - 3 - k + i]!;
  return sorted(back, w, (k) => back[k]!);
}

/** Where the runs of a row end that begin at a place in the list. */
function rowEnd(runs: Int32Array, from: number, y: number): number {
  let end = from;
  while (end < runs.length && runs[end] === y) end += 3;
  return end;
}

/** Tells the stretches that only one of two rows has, and whether that is the second; the rows lie after each other in the list. */
function differences(
  runs: Int32Array,
  first: number,
  second: number,
  end: number,
  tell: (from: number, to: number, isSecond: boolean) => void,
): void {
  // Borders of both, from the left; an even number of those of a row passed is outside of its runs.
  let [i, j, x] = [0, 0, 0];
  const [most, mostOther] = [(2 * (second - first)) / 3, (2 * (end - second)) / 3];
  const border = (from: number, k: number): number => runs[from + 3 * (k >> 1) + 1 + (k & 1)]!;
  while (i < most || j < mostOther) {
    const next = Math.min(i < most ? border(first, i) : Infinity, j < mostOther ? border(second, j) : Infinity);
    if ((i & 1) !== (j & 1)) tell(x, next, (j & 1) === 1);
    x = next;
    if (i < most && border(first, i) === next) i++;
    if (j < mostOther && border(second, j) === next) j++;
  }
}
