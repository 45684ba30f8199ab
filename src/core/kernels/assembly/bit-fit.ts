import { bitsFrom, columnsOf, HEADER, isTall, levelsOf, rowAt, rowsOf, stretches, TALL, wordsOf } from "./bit-grid";
import { i32At, putI32 } from "./lists";

// Places on a sheet of cells, at which a shape of runs lies on none that is taken.

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

/** Rows of a shape that are looked at, more or less: those between tell much the same. */
const ROWS_LOOKED_AT: i32 = 12;

/**
 * The first row from one on in which no run of a shape is longer than the longest free stretch of the row it would lie in:
 * where one is, the shape is moved on until that row is no longer in its way.
 *
 * @param lengths the longest run of each of its rows
 */
function rowWithRoom(grid: usize, lengths: usize, h: i32, y: i32, lastY: i32): i32 {
  const free = stretches(grid);
  const step = max(1, h / ROWS_LOOKED_AT);
  let row = h - 1;
  while (row >= 0 && y <= lastY) {
    let room = i32At(free, y + row);
    if (room < 0) {
      room = longestFree(rowAt(grid, 0, y + row), wordsOf(grid));
      putI32(free, y + row, room);
    }
    if (i32At(lengths, row) <= room) {
      row -= step;
      continue;
    }
    do {
      y++;
      row--;
    } while (row >= 0 && i32At(lengths, row) > room);
    row = h - 1;
  }
  return y;
}

/** Of 64 columns, those at which a shape lies on the sheet, as bits. */
function onSheet(lastX: i32, word: i32): u64 {
  const left = lastX + 1 - (word << 6);
  return left <= 0 ? 0 : left >= 64 ? ~(<u64>0) : ((<u64>1) << (<u64>left)) - 1;
}

/**
 * Of some of 64 columns of a row, those at which a shape lies on nothing that is taken, as bits.
 *
 * @param from the first of the levels: 0 for single rows, as many as there are for rows that are told together
 */
function freeOf(grid: usize, from: i32, runs: usize, count: i32, y: i32, word: i32, some: u64): u64 {
  let free = some;
  if (!free) return 0;
  const base = word << 6;
  const rows = rowsOf(grid);
  const stride = (<usize>(wordsOf(grid) + 1)) << 3;
  for (let r: i32 = 0, run = runs; r < count; r++, run += 16) {
    const first = load<i32>(run, 4);
    const level = load<i32>(run, 12);
    const row = grid + HEADER + <usize>((from + level) * rows + y + load<i32>(run)) * stride;
    const second = first + load<i32>(run, 8) - (1 << level);
    free &= ~(bitsFrom(row, base + first) | bitsFrom(row, base + second));
    if (!free) return 0;
  }
  return free;
}
function freeIn(grid: usize, runs: usize, count: i32, lastX: i32, y: i32, word: i32): u64 {
  return freeOf(grid, 0, runs, count, y, word, onSheet(lastX, word));
}

/** Keeps the columns in which a shape may have a place in a row, or in any that are told together with it. @returns whether there are any */
function keepColumns(grid: usize, runs: usize, count: i32, firstX: i32, lastX: i32, y: i32): bool {
  const columns = columnsOf(grid);
  const levels = levelsOf(grid);
  const tall = isTall(grid);
  const from = firstX >> 6;
  let any: u64 = 0;
  for (let w = from; w <= lastX >> 6; w++) {
    let free = onSheet(lastX, w);
    if (w === from) free &= ~(<u64>0) << (<u64>(firstX & 63));
    if (tall) free = freeOf(grid, levels, runs, count, y, w, free);
    store<u64>(columns + ((<usize>w) << 3), free);
    any |= free;
  }
  return any !== 0;
}

/**
 * The lowest, then leftmost place of a shape: its row times 65,536 and its column; -1 for none.
 *
 * @param runs 4 numbers each: row, first cell, length, and the level of half the length or more; behind them, for each of
 *   the `h` rows of the shape, the length of the longest
 * @param firstX the first column it may have, and the last; the first row, and the last
 */
export function fitRuns(
  grid: usize,
  runs: usize,
  count: i32,
  h: i32,
  firstX: i32,
  lastX: i32,
  firstY: i32,
  lastY: i32,
): i32 {
  const lengths = runs + ((<usize>count) << 4);
  const columns = columnsOf(grid);
  const together = isTall(grid) ? TALL : lastY + 1;
  let told = firstY;
  let y = rowWithRoom(grid, lengths, h, firstY, lastY);
  while (y <= lastY) {
    if (y >= told) {
      told = y + together;
      if (!keepColumns(grid, runs, count, firstX, lastX, y)) {
        y = rowWithRoom(grid, lengths, h, told, lastY);
        continue;
      }
    }
    for (let w = firstX >> 6; w <= lastX >> 6; w++) {
      const free = freeOf(grid, 0, runs, count, y, w, load<u64>(columns + ((<usize>w) << 3)));
      if (free) return (y << 16) | ((w << 6) + <i32>ctz(free));
    }
    y = rowWithRoom(grid, lengths, h, y + 1, lastY);
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
 * @param firstX as for fitRuns @param edge the last column at which the shape lies on the sheet
 * @param gain rows that contact all round would be worth @param limit scores as high are no use
 */
export function fitContact(
  grid: usize,
  runs: usize,
  count: i32,
  h: i32,
  firstX: i32,
  lastX: i32,
  firstY: i32,
  lastY: i32,
  edge: i32,
  rim: usize,
  rimCount: i32,
  gain: f64,
  limit: f64,
): i32 {
  let best: i32 = -1;
  score = limit;
  const lengths = runs + ((<usize>count) << 4);
  const columns = columnsOf(grid);
  const from = firstX >> 6;
  const words = (lastX >> 6) + 1;
  const together = isTall(grid) ? TALL : lastY + 1;
  let told = firstY;
  let y = rowWithRoom(grid, lengths, h, firstY, lastY);
  while (y <= lastY && <f64>(y + h) - LIKELY * gain < score) {
    if (y >= told) {
      told = y + together;
      // Also columns beside those that are asked for: they tell where free places end.
      if (!keepColumns(grid, runs, count, from << 6, min(edge, (words << 6) - 1), y)) {
        y = rowWithRoom(grid, lengths, h, told, lastY);
        continue;
      }
    }
    let left = MOST_ENDS;
    let before: u64 = 0;
    let next = freeOf(grid, 0, runs, count, y, from, load<u64>(columns + ((<usize>from) << 3)));
    for (let w = from; w < words && left > 0; w++) {
      const free = next;
      next = w + 1 < words ? freeOf(grid, 0, runs, count, y, w + 1, load<u64>(columns + ((<usize>(w + 1)) << 3))) : 0;
      // Free places beside which one side is not.
      let ends = free & ~(((free << 1) | before) & ((free >> 1) | (next << 63)));
      before = free >> 63;
      if (w === from) ends &= ~(<u64>0) << (<u64>(firstX & 63));
      if (w === words - 1) ends &= onSheet(lastX, w);
      for (; ends !== 0 && left > 0; ends &= ends - 1, left--) {
        const x = (w << 6) + <i32>ctz(ends);
        const own = <f64>(y + h) - gain * contactAt(grid, rim, rimCount, x, y) + BY_COLUMN * <f64>x;
        if (own >= score) continue;
        score = own;
        best = (y << 16) | x;
      }
    }
    y = rowWithRoom(grid, lengths, h, y + 1, lastY);
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
export function fitNear(grid: usize, runs: usize, count: i32, h: i32, lastX: i32, lastY: i32, x: i32, y: i32): i32 {
  let best: i32 = -1;
  let least: i64 = i64.MAX_VALUE;
  const most = max(abs(y), abs(lastY - y));
  const lengths = runs + ((<usize>count) << 4);
  const near = max(0, min(lastX, x));
  for (let far: i32 = 0; far <= most && <i64>far * <i64>far < least; far++)
    for (let side: i32 = far === 0 ? 1 : 0; side < 2; side++) {
      const row = side ? y - far : y + far;
      if (row < 0 || row > lastY || rowWithRoom(grid, lengths, h, row, row) > row) continue;
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
