import type { SheetBox } from "./box";

/** Cells along each side. */
const CELLS = 256;

/** Which cells of a tile, or of another rectangle, are taken. */
export class TakenCells {
  private readonly taken = new Uint8Array(CELLS * CELLS);

  /** @param u0 left border @param v0 lower one */
  constructor(
    private readonly u0: number,
    private readonly v0: number,
    private readonly w = 1,
    private readonly h = 1,
  ) {}

  /** The columns that a triangle reaches within a row, while it is taken. */
  private low = 0;
  private high = 0;

  /** Takes every cell that a triangle touches. */
  addTriangle(au: number, av: number, bu: number, bv: number, cu: number, cv: number): void {
    const across = CELLS / this.w;
    const up = CELLS / this.h;
    const ax = (au - this.u0) * across;
    const ay = (av - this.v0) * up;
    const bx = (bu - this.u0) * across;
    const by = (bv - this.v0) * up;
    const cx = (cu - this.u0) * across;
    const cy = (cv - this.v0) * up;
    const first = Math.max(0, Math.floor(Math.min(ay, by, cy)));
    const last = Math.min(CELLS - 1, Math.floor(Math.max(ay, by, cy)));
    for (let j = first; j <= last; j++) {
      this.low = Infinity;
      this.high = -Infinity;
      this.reach(ax, ay, bx, by, j);
      this.reach(bx, by, cx, cy, j);
      this.reach(cx, cy, ax, ay, j);
      const from = Math.max(0, Math.floor(this.low));
      const to = Math.min(CELLS - 1, Math.floor(this.high));
      for (let i = from; i <= to; i++) this.taken[j * CELLS + i] = 1;
    }
  }

  /** Widens the reach within a row by what of a side lies in it. */
  private reach(px: number, py: number, qx: number, qy: number, j: number): void {
    const bottom = Math.min(py, qy);
    const top = Math.max(py, qy);
    if (top < j || bottom > j + 1) return;
    let from = px;
    let to = qx;
    if (top > bottom) {
      const slope = (qx - px) / (qy - py);
      from = px + slope * (Math.max(bottom, Math.min(top, j)) - py);
      to = px + slope * (Math.max(bottom, Math.min(top, j + 1)) - py);
    }
    this.low = Math.min(this.low, from, to);
    this.high = Math.max(this.high, from, to);
  }

  /**
   * The largest empty boxes, none lying over another, the largest first.
   *
   * @param apart distance kept from what is taken and from the border @param most how many @param least area, tiles
   */
  boxes(apart: number, most: number, least: number): SheetBox[] {
    const { u0, v0, w, h } = this;
    const taken = this.taken.slice();
    const out: SheetBox[] = [];
    while (out.length < most) {
      const [i0, j0, i1, j1] = largestEmpty(taken);
      const box = {
        u0: u0 + (w * i0) / CELLS + apart,
        v0: v0 + (h * j0) / CELLS + apart,
        u1: u0 + (w * i1) / CELLS - apart,
        v1: v0 + (h * j1) / CELLS - apart,
      };
      if (!(box.u1 > box.u0 && box.v1 > box.v0) || (box.u1 - box.u0) * (box.v1 - box.v0) < least) break;
      out.push(box);
      for (let j = j0; j < j1; j++) taken.fill(1, j * CELLS + i0, j * CELLS + i1);
    }
    return out;
  }
}

/** The largest box of empty cells: columns and rows from, and to before. By heights of empty columns and a stack, row by row. */
function largestEmpty(taken: Uint8Array): [number, number, number, number] {
  const heights = new Int32Array(CELLS + 1);
  const stack = new Int32Array(CELLS + 1);
  let best: [number, number, number, number] = [0, 0, 0, 0];
  let most = 0;
  for (let j = 0; j < CELLS; j++) {
    for (let i = 0; i < CELLS; i++) heights[i] = taken[j * CELLS + i] ? 0 : heights[i]! + 1;
    heights[CELLS] = 0;
    let top = 0;
    for (let i = 0; i <= CELLS; i++) {
      while (top > 0 && heights[stack[top - 1]!]! >= heights[i]!) {
        const height = heights[stack[--top]!]!;
        const from = top > 0 ? stack[top - 1]! + 1 : 0;
        if (height * (i - from) <= most) continue;
        most = height * (i - from);
        best = [from, j + 1 - height, i, j + 1];
      }
      stack[top++] = i;
    }
  }
  return best;
}
