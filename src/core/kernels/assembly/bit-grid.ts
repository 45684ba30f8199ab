import { i32At, putI32 } from "./lists";

// Cells of a sheet as bits, row after row, and places where a shape of runs lies on none that is taken. Bit x of level k is
// set where any of the cells x to x + 2^k - 1 is taken, so that a run of any length is tested by two bits. A row has one
// word more than its cells need, which may be read beyond its end.

/** A sheet begins with its rows, the words of a row and its levels; its rows stand behind those. */
const HEADER: usize = 16;
function rowsOf(grid: usize): i32 {
  return load<i32>(grid);
}
function wordsOf(grid: usize): i32 {
  return load<i32>(grid, 4);
}
function levelsOf(grid: usize): i32 {
  return load<i32>(grid, 8);
}

/** Bytes that a sheet takes: one row more than it has, whose words may be read behind the last, and a number for each row. */
export function gridBytes(rows: i32, words: i32, levels: i32): i32 {
  return <i32>HEADER + 8 * (levels * rows * (words + 1) + words + 1) + 4 * rows;
}

/** Makes a sheet of free cells. */
export function beginGrid(grid: usize, rows: i32, words: i32, levels: i32): void {
  store<i32>(grid, rows);
  store<i32>(grid, words, 4);
  store<i32>(grid, levels, 8);
  freeAll(grid);
}

/** The address of a row of a level. */
function rowAt(grid: usize, level: i32, row: i32): usize {
  return grid + HEADER + ((<usize>((level * rowsOf(grid) + row) * (wordsOf(grid) + 1))) << 3);
}

/** The address of the longest free stretches, one number a row: they stand behind the rows of all levels. */
function stretches(grid: usize): usize {
  return rowAt(grid, levelsOf(grid), 0) + ((<usize>(wordsOf(grid) + 1)) << 3);
}

/** 64 bits of a row from a place on. */
function bitsFrom(row: usize, from: i32): u64 {
  const at = row + ((<usize>(from >> 6)) << 3);
  const shift = <u64>(from & 63);
  return (load<u64>(at) >> shift) | ((load<u64>(at, 8) << 1) << (63 - shift));
}

/** Whether a row of a shape's runs is longer than any free stretch of the row it would lie in: then it has no place there. */
function isTooLong(free: usize, runs: usize, count: i32, y: i32): bool {
  for (let r: i32 = 0, run = runs; r < count; r++, run += 16)
    if (load<i32>(run, 8) > i32At(free, y + load<i32>(run))) return true;
  return false;
}

/** Of 64 columns of a row, those at which a shape lies on nothing that is taken, as bits. */
function freeIn(grid: usize, runs: usize, count: i32, lastX: i32, y: i32, word: i32): u64 {
  const base = word << 6;
  const left = lastX + 1 - base;
  if (left <= 0) return 0;
  let free = left >= 64 ? ~(<u64>0) : ((<u64>1) << (<u64>left)) - 1;
  const rows = rowsOf(grid);
  const stride = (<usize>(wordsOf(grid) + 1)) << 3;
  for (let r: i32 = 0, run = runs; r < count; r++, run += 16) {
    const first = load<i32>(run, 4);
    const level = load<i32>(run, 12);
    const row = grid + HEADER + <usize>(level * rows + y + load<i32>(run)) * stride;
    const second = first + load<i32>(run, 8) - (1 << level);
    free &= ~(bitsFrom(row, base + first) | bitsFrom(row, base + second));
    if (!free) return 0;
  }
  return free;
}

/**
 * The lowest, then leftmost place of a shape: its row times 65,536 and its column; -1 for none.
 *
 * @param runs 4 numbers each: row, first cell, length, and the level of half the length or more
 * @param firstX the first column it may have, and the last; the first row, and the last
 */
export function fitRuns(grid: usize, runs: usize, count: i32, firstX: i32, lastX: i32, firstY: i32, lastY: i32): i32 {
  const longest = stretches(grid);
  const from = firstX >> 6;
  const words = min(wordsOf(grid), (lastX >> 6) + 1);
  const begun = ~(<u64>0) << (<u64>(firstX & 63));
  for (let y = firstY; y <= lastY; y++) {
    if (isTooLong(longest, runs, count, y)) continue;
    for (let w = from; w < words; w++) {
      let free = freeIn(grid, runs, count, lastX, y, w);
      if (w === from) free &= begun;
      if (free) return (y << 16) | ((w << 6) + <i32>ctz(free));
    }
  }
  return -1;
}

/** The score of the place that was last found by contact. */
let score: f64 = 0;
export function contactScore(): f64 {
  return score;
}

/** Ends of free stretches that are looked at in a row, and what a column counts beside a row. */
const MOST_ENDS: i32 = 6;
const BY_COLUMN: f64 = 1e-4;
/** Of the gain that contact may bring, the most that is reckoned with: all of a rim touches hardly ever. */
const LIKELY: f64 = 0.9;

/** The share of a rim that lies on what is taken, or beyond the sheet. @param rim 2 numbers a cell, from the shape's corner */
function contactAt(grid: usize, rim: usize, count: i32, x: i32, y: i32): f64 {
  const width = wordsOf(grid) << 6;
  const rows = rowsOf(grid);
  let touching: i32 = 0;
  for (let k: i32 = 0; k < count; k++) {
    const cx = x + i32At(rim, 2 * k);
    const cy = y + i32At(rim, 2 * k + 1);
    if (cx < 0 || cx >= width || cy < 0) touching++;
    else if (cy < rows)
      touching += <i32>((load<u64>(rowAt(grid, 0, cy) + ((<usize>(cx >> 6)) << 3)) >> <u64>(cx & 63)) & 1);
  }
  return <f64>touching / <f64>count;
}

/**
 * The place of a shape, as fitRuns tells it, at which the row it ends in less what contact brings is least.
 *
 * @param h rows of the shape @param gain rows that contact all round would be worth @param limit scores as high are no use
 */
export function fitContact(
  grid: usize,
  runs: usize,
  count: i32,
  lastX: i32,
  lastY: i32,
  h: i32,
  rim: usize,
  rimCount: i32,
  gain: f64,
  limit: f64,
): i32 {
  let best: i32 = -1;
  score = limit;
  const longest = stretches(grid);
  const words = wordsOf(grid);
  for (let y: i32 = 0; y <= lastY && <f64>(y + h) - LIKELY * gain < score; y++) {
    if (isTooLong(longest, runs, count, y)) continue;
    let left = MOST_ENDS;
    let before: u64 = 0;
    let next = freeIn(grid, runs, count, lastX, y, 0);
    for (let w: i32 = 0; w < words && left > 0; w++) {
      const free = next;
      next = w + 1 < words ? freeIn(grid, runs, count, lastX, y, w + 1) : 0;
      // Free places beside which one side is not.
      let ends = free & ~(((free << 1) | before) & ((free >> 1) | (next << 63)));
      before = free >> 63;
      for (; ends !== 0 && left > 0; ends &= ends - 1, left--) {
        const x = (w << 6) + <i32>ctz(ends);
        const own = <f64>(y + h) - gain * contactAt(grid, rim, rimCount, x, y) + BY_COLUMN * <f64>x;
        if (own >= score) continue;
        score = own;
        best = (y << 16) | x;
      }
    }
  }
  return best;
}

/** The free place of a row that is nearest to a column; -1 for none. */
function nearestFree(grid: usize, runs: usize, count: i32, lastX: i32, y: i32, x: i32): i32 {
  const words = wordsOf(grid);
  let best: i32 = -1;
  const own = x >> 6;
  for (let w = own; w < words; w++) {
    let free = freeIn(grid, runs, count, lastX, y, w);
    if (w === own) free &= ~(<u64>0) << (<u64>(x & 63));
    if (!free) continue;
    best = (w << 6) + <i32>ctz(free);
    break;
  }
  for (let w = own; w >= 0 && (best < 0 || x - (w << 6) - 63 < best - x); w--) {
    let free = freeIn(grid, runs, count, lastX, y, w);
    const last = x - (w << 6);
    if (last < 63) free &= ((<u64>1) << (<u64>(last + 1))) - 1;
    if (!free) continue;
    const at = (w << 6) + 63 - <i32>clz(free);
    if (best < 0 || x - at < best - x) best = at;
    break;
  }
  return best;
}

/** The place of a shape nearest to one that is wanted, as fitRuns tells it. @param x the column that is wanted, and the row */
export function fitNear(grid: usize, runs: usize, count: i32, lastX: i32, lastY: i32, x: i32, y: i32): i32 {
  let best: i32 = -1;
  let least: i64 = i64.MAX_VALUE;
  const most = max(abs(y), abs(lastY - y));
  const longest = stretches(grid);
  const near = max(0, min(lastX, x));
  for (let far: i32 = 0; far <= most && <i64>far * <i64>far < least; far++)
    for (let side: i32 = far === 0 ? 1 : 0; side < 2; side++) {
      const row = side ? y - far : y + far;
      if (row < 0 || row > lastY || isTooLong(longest, runs, count, row)) continue;
      const column = nearestFree(grid, runs, count, lastX, row, near);
      if (column < 0) continue;
      const dx = <i64>(column - x);
      const d = dx * dx + <i64>far * <i64>far;
      if (d >= least) continue;
      least = d;
      best = (row << 16) | column;
    }
  return best;
}

/** Takes or frees cells of a row from one to before another. */
function setRun(row: usize, from: i32, to: i32, taken: i32): void {
  for (let w = from >> 6; w <= (to - 1) >> 6; w++) {
    const low = max(0, from - (w << 6));
    const high = min(64, to - (w << 6));
    const ones = high - low === 64 ? ~(<u64>0) : (((<u64>1) << (<u64>(high - low))) - 1) << (<u64>low);
    const at = row + ((<usize>w) << 3);
    store<u64>(at, taken ? load<u64>(at) | ones : load<u64>(at) & ~ones);
  }
}

/**
 * Takes the cells of a shape, or frees them, as far as they lie on the sheet.
 *
 * @param runs as for fitting @param x where its first column lies, which may be before the sheet; `y` its first row
 * @param top the first of its rows, and the row after its last
 * @param taken 1 to take them, 0 to free them
 */
export function setRuns(grid: usize, runs: usize, count: i32, x: i32, y: i32, top: i32, taken: i32): void {
  const rows = rowsOf(grid);
  const words = wordsOf(grid);
  const width = words << 6;
  for (let r: i32 = 0; r < count; r++) {
    const row = y + i32At(runs, 4 * r);
    const from = max(0, x + i32At(runs, 4 * r + 1));
    const to = min(width, x + i32At(runs, 4 * r + 1) + i32At(runs, 4 * r + 2));
    if (row >= 0 && row < rows && to > from) setRun(rowAt(grid, 0, row), from, to, taken);
  }
  const longest = stretches(grid);
  const last = min(rows, y + top);
  for (let row = max(0, y); row < last; row++) {
    putI32(longest, row, longestFree(rowAt(grid, 0, row), words));
    for (let k: i32 = 0; k + 1 < levelsOf(grid); k++) {
      const below = rowAt(grid, k, row);
      const above = rowAt(grid, k + 1, row);
      for (let w: i32 = 0; w < words; w++)
        store<u64>(
          above + ((<usize>w) << 3),
          load<u64>(below + ((<usize>w) << 3)) | bitsFrom(below, (w << 6) + (1 << k)),
        );
    }
  }
}

/** The longest stretch of a row in which nothing is taken. */
function longestFree(row: usize, words: i32): i32 {
  let longest: i32 = 0;
  let stretch: i32 = 0;
  for (let w: i32 = 0; w < words; w++) {
    let bits = load<u64>(row + ((<usize>w) << 3));
    let left: i32 = 64;
    while (bits) {
      const free = <i32>ctz(bits);
      longest = max(longest, stretch + free);
      stretch = 0;
      bits >>= <u64>free;
      const taken = <i32>ctz(~bits);
      // All that is left may be taken: a shift by 64 would be one by nothing.
      bits = taken < 64 ? bits >> <u64>taken : 0;
      left -= free + taken;
    }
    stretch += left;
  }
  return max(longest, stretch);
}

/** Frees all cells. */
export function freeAll(grid: usize): void {
  const longest = stretches(grid);
  const from = rowAt(grid, 0, 0);
  memory.fill(from, 0, longest - from);
  for (let row: i32 = 0; row < rowsOf(grid); row++) putI32(longest, row, wordsOf(grid) << 6);
}
