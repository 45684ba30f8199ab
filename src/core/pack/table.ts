/** Occupied cells of a square sheet, with the next free and the next occupied cell to the right of each. */
export class Table {
  private readonly nextTaken: Int16Array;
  private readonly nextFree: Int16Array;
  private readonly stride: number;

  /** Empty tables by size: copying one is quicker than making one. */
  private static readonly blanks = new Map<number, Table>();

  /** @param like a table of the same size whose taken cells are taken here as well */
  constructor(
    readonly size: number,
    like: Table | null = Table.blank(size),
  ) {
    this.stride = size + 1;
    this.nextTaken = like?.nextTaken.slice() ?? new Int16Array(this.stride * size).fill(size);
    this.nextFree = like?.nextFree.slice() ?? new Int16Array(this.stride * size);
    if (!like) for (let i = 0; i < this.nextFree.length; i++) this.nextFree[i] = i % this.stride;
  }

  private static blank(size: number): Table {
    const made = Table.blanks.get(size) ?? new Table(size, null);
    Table.blanks.set(size, made);
    return made;
  }

  /**
   * The lowest, then leftmost place for a shape, as the offset of its frame.
   *
   * @param runs of the shape's body
   * @param box of the body in its frame: first and end columns and rows
   * @param below no place whose body ends above this row counts
   */
  lowestPlace(runs: Int32Array, box: Box, below: number): { x: number; y: number } | null {
    const { nextTaken, nextFree, stride, size } = this;
    const lastX = size - box.x1;
    const lastY = Math.min(size, below) - box.y1;
    for (let y = 0 - box.y0; y <= lastY; y++) {
      let x = 0 - box.x0;
      let k = 0;
      let unchecked = runs.length;
      // Start at the run that collided last: its neighbour is the likeliest to collide next.
      while (x <= lastX && unchecked > 0) {
        const row = (y + runs[k]!) * stride;
        const taken = nextTaken[row + x + runs[k + 1]!]!;
        if (taken < x + runs[k + 2]!) {
          x = nextFree[row + taken]! - runs[k + 1]!;
          unchecked = runs.length;
        } else {
          unchecked -= 3;
          k += 3;
          if (k === runs.length) k = 0;
        }
      }
      if (x <= lastX) return { x, y };
    }
    return null;
  }

  /** Takes the cells of a grown mask whose frame lies at (x, y); what reaches over the edge is left out. */
  take(cells: Uint8Array, w: number, h: number, x: number, y: number): void {
    const { size } = this;
    const [left, right] = [Math.max(0, x), Math.min(size, x + w)];
    if (left >= right) return;
    for (let r = Math.max(0, -y); r < h && y + r < size; r++) {
      const base = r * w - x;
      // From the right, one run of cells after another.
      for (let c = right; c > left; ) {
        const last = cells.lastIndexOf(1, base + c - 1) - base;
        if (last < left) break;
        const before = cells.lastIndexOf(0, base + last) - base;
        const first = Math.max(left, before + 1);
        this.takeRun(y + r, first, last + 1);
        c = first;
      }
    }
  }

  /** Takes the cells of a row from one up to another. */
  private takeRun(y: number, from: number, to: number): void {
    const { nextTaken, nextFree, stride } = this;
    const row = y * stride;
    let taken = from;
    let free = nextTaken[row + to] === to ? nextFree[row + to]! : to;
    nextFree.fill(free, row + from, row + to);
    for (let c = from; c < to; c++) nextTaken[row + c] = c;
    // To the left nothing changes any more once one cell has not changed.
    for (let c = from - 1; c >= 0; c--) {
      if (nextTaken[row + c] === c) {
        if (nextFree[row + c] === free) return;
        nextFree[row + c] = free;
        taken = c;
      } else {
        if (nextTaken[row + c] === taken) return;
        nextTaken[row + c] = taken;
        free = c;
      }
    }
  }
}

export interface Box {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** Box of the set cells: first columns and rows, and ends. */
export function boxOf(runs: Int32Array): Box {
  let [x0, y0, x1, y1] = [Infinity, Infinity, 0, 0];
  for (let k = 0; k < runs.length; k += 3) {
    x0 = Math.min(x0, runs[k + 1]!);
    x1 = Math.max(x1, runs[k + 2]!);
    y0 = Math.min(y0, runs[k]!);
    y1 = Math.max(y1, runs[k]! + 1);
  }
  return { x0, y0, x1, y1 };
}
