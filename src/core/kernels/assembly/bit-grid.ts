import { i32At, putI32 } from "./lists";

// Cells of a sheet as bits, row after row. Bit x of level k is set where any of the cells x to x + 2^k - 1 is taken, so that
// a run of any length is tested by two bits. A row has one word more than its cells need, which may be read beyond its end.
// Levels that no run needs are not kept.
// Some sheets keep the same of rows together: bits of a row y are set there where all of the rows y to y + TALL - 1 are
// taken. What that keeps a shape from, it is kept from in each of these rows: most of a page is so told at once.

/** Rows that are told together. */
export const TALL: i32 = 8;

/**
 * A sheet begins with its rows, the words of a row, its levels (those there is room for, those kept), and whether rows are
 * told together; its rows follow.
 */
export const HEADER: usize = 24;
export function rowsOf(grid: usize): i32 {
  return load<i32>(grid);
}
export function wordsOf(grid: usize): i32 {
  return load<i32>(grid, 4);
}
export function levelsOf(grid: usize): i32 {
  return load<i32>(grid, 8);
}
function levelsKept(grid: usize): i32 {
  return load<i32>(grid, 12);
}
export function isTall(grid: usize): bool {
  return load<i32>(grid, 16) !== 0;
}
/** Only when nothing is taken yet, or all of that with more levels. */
export function keepLevels(grid: usize, levels: i32): void {
  store<i32>(grid, min(levels, levelsOf(grid)), 12);
}

/**
 * Bytes that a sheet takes: one row more than it has, whose words may be read behind the last, columns that may be free, and
 * a number for each row.
 */
export function gridBytes(rows: i32, words: i32, levels: i32, tall: i32): i32 {
  const lines = (tall ? 2 : 1) * levels * rows + 1;
  return <i32>HEADER + 8 * (lines * (words + 1) + words) + 4 * rows;
}

/** Makes a sheet of free cells. @param tall 1 where rows are told together */
export function beginGrid(grid: usize, rows: i32, words: i32, levels: i32, tall: i32): void {
  store<i32>(grid, rows);
  store<i32>(grid, words, 4);
  store<i32>(grid, levels, 8);
  store<i32>(grid, levels, 12);
  store<i32>(grid, tall, 16);
  memory.fill(rowAt(grid, (tall ? 2 : 1) * levels, 0), 0, (<usize>(words + 1)) << 3);
  freeAll(grid);
}

/** The address of a row of a level. */
export function rowAt(grid: usize, level: i32, row: i32): usize {
  return grid + HEADER + ((<usize>((level * rowsOf(grid) + row) * (wordsOf(grid) + 1))) << 3);
}

/** The address of columns in which a shape may have a place, as bits: they stand behind the rows of all levels. */
export function columnsOf(grid: usize): usize {
  return rowAt(grid, (isTall(grid) ? 2 : 1) * levelsOf(grid), 0) + ((<usize>(wordsOf(grid) + 1)) << 3);
}

/** The address of the longest free stretches, one number a row. Less than 0 where that was not looked at since the row was changed. */
export function stretches(grid: usize): usize {
  return columnsOf(grid) + ((<usize>wordsOf(grid)) << 3);
}

/** 64 bits of a row from a place on. */
export function bitsFrom(row: usize, from: i32): u64 {
  const at = row + ((<usize>(from >> 6)) << 3);
  const shift = <u64>(from & 63);
  return (load<u64>(at) >> shift) | ((load<u64>(at, 8) << 1) << (63 - shift));
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
  const width = wordsOf(grid) << 6;
  let left = width;
  let right: i32 = 0;
  for (let r: i32 = 0; r < count; r++) {
    const row = y + i32At(runs, 4 * r);
    const from = max(0, x + i32At(runs, 4 * r + 1));
    const to = min(width, x + i32At(runs, 4 * r + 1) + i32At(runs, 4 * r + 2));
    if (row < 0 || row >= rows || to <= from) continue;
    left = min(left, from);
    right = max(right, to);
    if (taken) {
      for (let k = levelsKept(grid) - 1; k >= 0; k--) setRun(rowAt(grid, k, row), max(0, from + 1 - (1 << k)), to, 1);
    } else {
      setRun(rowAt(grid, 0, row), from, to, 0);
      widen(grid, 0, row, from, to);
    }
  }
  const longest = stretches(grid);
  const last = min(rows, y + top);
  for (let row = max(0, y); row < last; row++) putI32(longest, row, -1);
  if (!isTall(grid) || left >= right) return;
  for (let row = max(0, y - TALL + 1); row < last; row++) {
    standTogether(grid, row, left, right);
    widen(grid, levelsOf(grid), row, left, right);
  }
}

/** Where all of the rows from one on are taken that are told together, as far as there are, in some of the columns. */
function standTogether(grid: usize, row: i32, from: i32, to: i32): void {
  const stride = (<usize>(wordsOf(grid) + 1)) << 3;
  const own = rowAt(grid, 0, row);
  const out = rowAt(grid, levelsOf(grid), row);
  const count = min(TALL, rowsOf(grid) - row);
  for (let w = from >> 6; w <= (to - 1) >> 6; w++) {
    const at = (<usize>w) << 3;
    let all = load<u64>(own + at);
    for (let k: i32 = 1; k < count && all; k++) all &= load<u64>(own + <usize>k * stride + at);
    store<u64>(out + at, all);
  }
}

/** Makes the levels of a row anew from the first of them, as far as some columns of that tell. */
function widen(grid: usize, first: i32, row: i32, from: i32, to: i32): void {
  for (let k: i32 = 1; k < levelsKept(grid); k++) {
    const below = rowAt(grid, first + k - 1, row);
    const above = rowAt(grid, first + k, row);
    const far = 1 << (k - 1);
    for (let w = max(0, from + 1 - 2 * far) >> 6; w <= (to - 1) >> 6; w++)
      store<u64>(above + ((<usize>w) << 3), load<u64>(below + ((<usize>w) << 3)) | bitsFrom(below, (w << 6) + far));
  }
}

/** Makes rows of a sheet, from one to before another, those of another of the same size and levels, neither of which is tall. */
export function copyRows(to: usize, from: usize, first: i32, last: i32): void {
  const bytes = (<usize>((last - first) * (wordsOf(to) + 1))) << 3;
  for (let k: i32 = 0; k < levelsKept(to); k++) memory.copy(rowAt(to, k, first), rowAt(from, k, first), bytes);
  const at = (<usize>first) << 2;
  memory.copy(stretches(to) + at, stretches(from) + at, (<usize>(last - first)) << 2);
}

/** Takes all cells from a column on. @param longest what is known of the longest free stretch of all rows then, less than 0 for nothing */
export function limitTo(grid: usize, columns: i32, longest: i32): void {
  const words = wordsOf(grid);
  const free = stretches(grid);
  for (let row: i32 = 0; row < rowsOf(grid); row++) putI32(free, row, longest);
  for (let together: i32 = 0; together <= (isTall(grid) ? 1 : 0); together++)
    for (let k: i32 = 0; k < levelsKept(grid); k++) {
      const from = max(0, columns + 1 - (1 << k));
      const ones = ~(<u64>0) << (<u64>(from & 63));
      let at = rowAt(grid, together * levelsOf(grid) + k, 0);
      for (let row = rowsOf(grid); row > 0; row--) {
        const first = at + ((<usize>(from >> 6)) << 3);
        store<u64>(first, load<u64>(first) | ones);
        for (let w = (from >> 6) + 1; w < words; w++) store<u64>(at + ((<usize>w) << 3), ~(<u64>0));
        at += (<usize>(words + 1)) << 3;
      }
    }
}

/** Makes a sheet what another of the same size is, which has as many levels or more. */
export function copyAll(to: usize, from: usize): void {
  const bytes = rowAt(to, levelsKept(to), 0) - rowAt(to, 0, 0);
  memory.copy(rowAt(to, 0, 0), rowAt(from, 0, 0), bytes);
  const together = levelsOf(to);
  if (isTall(to)) memory.copy(rowAt(to, together, 0), rowAt(from, together, 0), bytes);
  memory.copy(stretches(to), stretches(from), (<usize>rowsOf(to)) << 2);
}

/** Frees all cells. */
export function freeAll(grid: usize): void {
  const longest = stretches(grid);
  const from = rowAt(grid, 0, 0);
  const bytes = rowAt(grid, levelsKept(grid), 0) - from;
  memory.fill(from, 0, bytes);
  if (isTall(grid)) memory.fill(rowAt(grid, levelsOf(grid), 0), 0, bytes);
  for (let row: i32 = 0; row < rowsOf(grid); row++) putI32(longest, row, wordsOf(grid) << 6);
}
