import { f32At, i32At, putF32, putI32 } from "./lists";

// Shells on a page, each with a raster of signed distances, samples of its outline and of its inside, and a pose; and a table
// of cells that tells which shells are near a place. All lengths are in nodes of the rasters.

/** Bytes of a shell's record, and where in it (in numbers of 4 bytes) things stand. */
const RECORD: usize = 80;
const RASTER: i32 = 0;
const NX: i32 = 1;
const NY: i32 = 2;
const OX: i32 = 3;
const OY: i32 = 4;
const SAMPLES: i32 = 5;
const SAMPLE_COUNT: i32 = 6;
const COARSE: i32 = 7;
const COARSE_COUNT: i32 = 8;
const HULL: i32 = 9;
const HULL_COUNT: i32 = 10;
const RADIUS: i32 = 11;
/** Cells in which it is entered: first column and row, last column and row. */
const ENTERED: i32 = 12;
/** The pose with which it was entered. */
const ENTERED_AS: i32 = 16;

/** Cells of the table: a count, and as many numbers of shells as there is room for. */
const CELL: i32 = 5;
const CELL_BYTES: usize = 32;
const MOST_IN_CELL: i32 = 15;
/** Cells around the page, for shells that stick out while it shrinks. */
const RIM: i32 = 8;
const HALF_DIAGONAL: f32 = 0.7072 * 5;

export let count: i32 = 0;
let records: usize = 0;
/** Per shell x, y and the cosine and sine of its turn, f32. */
let poses: usize = 0;
/** A byte per shell: something about it has changed. */
let changed: usize = 0;
/** A byte per shell: how many quarter turns it may have, 1, 2 or 4; 0 for one that stays. */
let turns: usize = 0;
let cells: usize = 0;
let columns: i32 = 0;
let rows: i32 = 0;
let width: f32 = 0;
let height: f32 = 0;
/** The least distance of two shells. */
export let padding: f32 = 0;
/** How far a shell may be tried from where its surroundings were collected, and moved before it is entered anew. */
export const reach: f32 = 2;
const SLACK: f32 = 1;
let random: u64 = 881726454633252;
/** Samples looked up: how much work was done. */
export let lookedUp: f64 = 0;

export function settleBegin(n: i32, table: usize, places: usize, ways: usize, marks: usize, seed: i32): void {
  turns = ways;
  count = n;
  records = table;
  poses = places;
  changed = marks;
  lookedUp = 0;
  random = 881726454633252 ^ (<u64>seed * 0x9e3779b9);
  for (let k: i32 = 0; k < 20; k++) nextRandom();
}

/** Samples looked up since the beginning. */
export function settleWork(): f64 {
  return lookedUp;
}
export function addWork(samples: i32): void {
  lookedUp += <f64>samples;
}

/** Marsaglia's xorshift, 2003. */
function nextRandom(): u64 {
  random ^= random << 13;
  random ^= random >> 7;
  random ^= random << 17;
  return random;
}
/** From 0 to before 1. */
export function share(): f32 {
  return <f32>(<f64>(nextRandom() >> 11) * (1.0 / 9007199254740992.0));
}
export function below(n: i32): i32 {
  return <i32>(nextRandom() % <u64>n);
}

export function recordOf(shell: i32): usize {
  return records + <usize>shell * RECORD;
}
export function poseOf(shell: i32): usize {
  return poses + ((<usize>shell) << 4);
}
export function rasterOf(record: usize): usize {
  return <usize>i32At(record, RASTER);
}
export function nxOf(record: usize): i32 {
  return i32At(record, NX);
}
export function nyOf(record: usize): i32 {
  return i32At(record, NY);
}
export function oxOf(record: usize): f32 {
  return f32At(record, OX);
}
export function oyOf(record: usize): f32 {
  return f32At(record, OY);
}
export function samplesOf(record: usize): usize {
  return <usize>i32At(record, SAMPLES);
}
export function sampleCountOf(record: usize): i32 {
  return i32At(record, SAMPLE_COUNT);
}
export function coarseOf(record: usize): usize {
  return <usize>i32At(record, COARSE);
}
export function coarseCountOf(record: usize): i32 {
  return i32At(record, COARSE_COUNT);
}
export function radiusOf(record: usize): f32 {
  return f32At(record, RADIUS);
}
export function turnsOf(shell: i32): i32 {
  return <i32>load<u8>(turns + <usize>shell);
}
export function isChanged(shell: i32): bool {
  return load<u8>(changed + <usize>shell) !== 0;
}
export function setChanged(shell: i32, to: bool): void {
  store<u8>(changed + <usize>shell, to ? 1 : 0);
}

/** The cell that a place lies in. */
export function cellAt(x: f32, y: f32): usize {
  const i = max(0, min(columns - 1, <i32>(x * <f32>0.2) + RIM));
  const j = max(0, min(rows - 1, <i32>(y * <f32>0.2) + RIM));
  return cells + <usize>(j * columns + i) * CELL_BYTES;
}
export function cellCount(cell: usize): i32 {
  return <i32>load<u16>(cell);
}
export function cellShell(cell: usize, k: i32): i32 {
  return <i32>load<u16>(cell + 2 + ((<usize>k) << 1));
}

/** Where the middle of a shell may lie so that its box, at a turn, is within the page. */
let turnCos: f32 = 2;
let turnSin: f32 = 0;
let turnShell: i32 = -1;
let boxX0: f32 = 0;
let boxY0: f32 = 0;
let boxX1: f32 = 0;
let boxY1: f32 = 0;

export function boxAt(shell: i32, c: f32, s: f32): void {
  if (shell === turnShell && c === turnCos && s === turnSin) return;
  turnShell = shell;
  turnCos = c;
  turnSin = s;
  const record = recordOf(shell);
  const hull = <usize>i32At(record, HULL);
  const corners = i32At(record, HULL_COUNT);
  boxX0 = boxY0 = 1e9;
  boxX1 = boxY1 = -1e9;
  for (let k: i32 = 0; k < corners; k++) {
    const hx = f32At(hull, 2 * k);
    const hy = f32At(hull, 2 * k + 1);
    const x = c * hx - s * hy;
    const y = s * hx + c * hy;
    boxX0 = min(boxX0, x);
    boxX1 = max(boxX1, x);
    boxY0 = min(boxY0, y);
    boxY1 = max(boxY1, y);
  }
}

/** Whether the box about it, as it was last asked for, has room on the page. */
export function boxFits(): bool {
  return boxX1 - boxX0 <= width && boxY1 - boxY0 <= height;
}
export function clampedX(x: f32): f32 {
  const low = -boxX0;
  const high = width - boxX1;
  return high < low ? (low + high) * <f32>0.5 : max(low, min(high, x));
}
export function clampedY(y: f32): f32 {
  const low = -boxY0;
  const high = height - boxY1;
  return high < low ? (low + high) * <f32>0.5 : max(low, min(high, y));
}
export function anyX(): f32 {
  return -boxX0 + share() * max(<f32>0, width - boxX1 + boxX0);
}
export function anyY(): f32 {
  return -boxY0 + share() * max(<f32>0, height - boxY1 + boxY0);
}

/** The distance of a place, told from a shell's middle and in its turn, from the shell. */
function distanceAt(record: usize, lx: f32, ly: f32): f32 {
  const u = lx - oxOf(record);
  const v = ly - oyOf(record);
  const nx = nxOf(record);
  if (!(u >= 0 && v >= 0 && u < <f32>(nx - 1) && v < <f32>(nyOf(record) - 1))) return 1e9;
  const i = <i32>u;
  const j = <i32>v;
  const fa = u - <f32>i;
  const q = rasterOf(record) + ((<usize>(j * nx + i)) << 2);
  const low = f32At(q, 0) + fa * (f32At(q, 1) - f32At(q, 0));
  const high = f32At(q, nx) + fa * (f32At(q, nx + 1) - f32At(q, nx));
  return low + (v - <f32>j) * (high - low);
}

function leave(shell: i32): void {
  const record = recordOf(shell);
  const i1 = i32At(record, ENTERED + 2);
  const j1 = i32At(record, ENTERED + 3);
  for (let j = i32At(record, ENTERED + 1); j <= j1; j++)
    for (let i = i32At(record, ENTERED); i <= i1; i++) {
      const cell = cells + <usize>(j * columns + i) * CELL_BYTES;
      const n = cellCount(cell);
      for (let k: i32 = 0; k < n; k++) {
        if (cellShell(cell, k) !== shell) continue;
        store<u16>(cell + 2 + ((<usize>k) << 1), <u16>cellShell(cell, n - 1));
        store<u16>(cell, <u16>(n - 1));
        break;
      }
    }
}

function enter(shell: i32): void {
  const record = recordOf(shell);
  const pose = poseOf(shell);
  const x = f32At(pose, 0);
  const y = f32At(pose, 1);
  const c = f32At(pose, 2);
  const s = f32At(pose, 3);
  boxAt(shell, c, s);
  const near = padding + reach + SLACK;
  const i0 = max(0, <i32>floor<f32>((x + boxX0 - near) / <f32>CELL) + RIM);
  const i1 = min(columns - 1, <i32>floor<f32>((x + boxX1 + near) / <f32>CELL) + RIM);
  const j0 = max(0, <i32>floor<f32>((y + boxY0 - near) / <f32>CELL) + RIM);
  const j1 = min(rows - 1, <i32>floor<f32>((y + boxY1 + near) / <f32>CELL) + RIM);
  putI32(record, ENTERED, i0);
  putI32(record, ENTERED + 1, j0);
  putI32(record, ENTERED + 2, i1);
  putI32(record, ENTERED + 3, j1);
  for (let k: i32 = 0; k < 4; k++) putF32(record, ENTERED_AS + k, f32At(pose, k));
  const limit = near + HALF_DIAGONAL;
  for (let j = j0; j <= j1; j++)
    for (let i = i0; i <= i1; i++) {
      const wx = (<f32>(i - RIM) + <f32>0.5) * <f32>CELL - x;
      const wy = (<f32>(j - RIM) + <f32>0.5) * <f32>CELL - y;
      if (distanceAt(record, c * wx + s * wy, c * wy - s * wx) >= limit) continue;
      const cell = cells + <usize>(j * columns + i) * CELL_BYTES;
      const n = cellCount(cell);
      if (n >= MOST_IN_CELL) continue;
      store<u16>(cell + 2 + ((<usize>n) << 1), <u16>shell);
      store<u16>(cell, <u16>(n + 1));
    }
}

/** Marks all that share a cell with a shell as changed. */
function changeAround(shell: i32): void {
  const record = recordOf(shell);
  const i1 = i32At(record, ENTERED + 2);
  const j1 = i32At(record, ENTERED + 3);
  for (let j = i32At(record, ENTERED + 1); j <= j1; j++)
    for (let i = i32At(record, ENTERED); i <= i1; i++) {
      const cell = cells + <usize>(j * columns + i) * CELL_BYTES;
      const n = cellCount(cell);
      let own = false;
      for (let k: i32 = 0; k < n; k++) own = own || cellShell(cell, k) === shell;
      if (own) for (let k: i32 = 0; k < n; k++) setChanged(cellShell(cell, k), true);
    }
}

/** Gives a shell another pose, within the page. */
export function putAt(shell: i32, x: f32, y: f32, c: f32, s: f32): void {
  const pose = poseOf(shell);
  const record = recordOf(shell);
  boxAt(shell, c, s);
  changeAround(shell);
  putF32(pose, 0, clampedX(x));
  putF32(pose, 1, clampedY(y));
  putF32(pose, 2, c);
  putF32(pose, 3, s);
  setChanged(shell, true);
  const ec = f32At(record, ENTERED_AS + 2);
  const es = f32At(record, ENTERED_AS + 3);
  const dx = f32At(pose, 0) - f32At(record, ENTERED_AS);
  const dy = f32At(pose, 1) - f32At(record, ENTERED_AS + 1);
  const turned = ec * c + es * s < 0 ? <f32>1e9 : abs(ec * s - es * c) * radiusOf(record);
  if (turned + sqrt<f32>(dx * dx + dy * dy) <= SLACK) return;
  leave(shell);
  enter(shell);
  changeAround(shell);
}

/** Bytes of the table of a page of so many nodes. */
export function settleRoom(w: f32, h: f32): i32 {
  return columnsOf(w) * columnsOf(h) * <i32>CELL_BYTES;
}

/** Cells along a side of the page, with those beyond it. */
function columnsOf(side: f32): i32 {
  return <i32>(side / <f32>CELL) + 2 + 2 * RIM;
}

/**
 * Sets the page, and enters all shells where they lie on it, moved into it.
 *
 * @param room for the table: 32 bytes for each cell of 5 nodes, with 8 more on all sides
 * @returns how many are larger than the page
 */
export function settlePage(w: f32, h: f32, apart: f32, room: usize): i32 {
  let misfits: i32 = 0;
  width = w;
  height = h;
  padding = apart;
  columns = columnsOf(w);
  rows = columnsOf(h);
  cells = room;
  memory.fill(cells, 0, <usize>(columns * rows) * CELL_BYTES);
  turnShell = -1;
  for (let a: i32 = 0; a < count; a++) {
    const pose = poseOf(a);
    if (turnsOf(a)) {
      boxAt(a, f32At(pose, 2), f32At(pose, 3));
      if (!boxFits()) misfits++;
      putF32(pose, 0, clampedX(f32At(pose, 0)));
      putF32(pose, 1, clampedY(f32At(pose, 1)));
    }
    enter(a);
    setChanged(a, true);
  }
  return misfits;
}
