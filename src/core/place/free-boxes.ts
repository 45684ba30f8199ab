import type { SheetBox } from "./box";

/** Cells along a side of the tile. */
const CELLS = 256;

/** Which cells of a tile are taken. */
export class TakenCells {
  private readonly taken = new Uint8Array(CELLS * CELLS);

  /** @param u0 left border of the tile @param v0 its lower one */
  constructor(
    private readonly u0: number,
    private readonly v0: number,
  ) {}

  /** Takes every cell that a triangle touches. */
  addTriangle(au: number, av: number, bu: number, bv: number, cu: number, cv: number): void {
    const us = [this.column(au), this.column(bu), this.column(cu)] as const;
    const vs = [this.row(av), this.row(bv), this.row(cv)] as const;
    const first = Math.max(0, Math.floor(Math.min(...vs)));
    const last = Math.min(CELLS - 1, Math.floor(Math.max(...vs)));
    for (let j = first; j <= last; j++) {
      let low = Infinity;
      let high = -Infinity;
      for (let k = 0; k < 3; k++) {
        const l = (k + 1) % 3;
        const [p, q, x, y] = [vs[k]!, vs[l]!, us[k]!, us[l]!];
        if (Math.max(p, q) < j || Math.min(p, q) > j + 1) continue;
        // Where the side is within the row.
        const at = (v: number) => (p === q ? x : x + ((y - x) * (v - p)) / (q - p));
        const inside = (v: number) => Math.max(Math.min(p, q), Math.min(Math.max(p, q), v));
        for (const u of p === q ? [x, y] : [at(inside(j)), at(inside(j + 1))]) {
          if (u < low) low = u;
          if (u > high) high = u;
        }
      }
      const from = Math.max(0, Math.floor(low));
      const to = Math.min(CELLS - 1, Math.floor(high));
      for (let i = from; i <= to; i++) this.taken[j * CELLS + i] = 1;
    }
  }

  private column = (u: number): number => (u - this.u0) * CELLS;
  private row = (v: number): number => (v - this.v0) * CELLS;

  /**
   * The largest empty boxes, none lying over another, the largest first.
   *
   * @param apart distance kept from what is taken and from the tile's border @param most how many @param least area, tiles
   */
  boxes(apart: number, most: number, least: number): SheetBox[] {
    const taken = this.taken.slice();
    const out: SheetBox[] = [];
    while (out.length < most) {
      const [i0, j0, i1, j1] = largestEmpty(taken);
      const box = {
        u0: this.u0 + i0 / CELLS + apart,
        v0: this.v0 + j0 / CELLS + apart,
        u1: this.u0 + i1 / CELLS - apart,
        v1: this.v0 + j1 / CELLS - apart,
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
