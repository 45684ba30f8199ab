/** What tells which free rectangle a box goes into: that where it leaves least beside its shorter or longer side, the smallest, or the lowest. */
export const RULES = ["short side", "long side", "area", "low"] as const;
export type Rule = (typeof RULES)[number];

/** Where a box may lie: its lower left corner, whether it lies on its side, and what the rule tells, the least of which is best. */
export interface BoxPlace {
  readonly x: number;
  readonly y: number;
  readonly turned: boolean;
  readonly score: number;
  /** What tells where scores are the same. */
  readonly second: number;
}

/**
 * All largest rectangles of an area in which nothing lies yet. They overlap each other; what is put into one is cut out of all.
 *
 * Source: Jylänki, A thousand ways to pack the bin: a practical approach to two-dimensional rectangle bin packing (2010).
 */
export class FreeRectangles {
  /** 4 numbers each: from and to, across and up. */
  private list: number[];

  /** @param least sides that are smaller are of no use */
  constructor(
    width: number,
    height: number,
    private readonly least: number,
  ) {
    this.list = [0, 0, width, height];
  }

  /** Where a rule tells that a box is to lie. @returns null where there is no room */
  find(w: number, h: number, mayTurn: boolean, rule: Rule): BoxPlace | null {
    const { list } = this;
    let [best, more, at, turned] = [Infinity, Infinity, -1, false];
    for (let side = 0; side < (mayTurn ? 2 : 1); side++) {
      const bw = side ? h : w;
      const bh = side ? w : h;
      for (let i = 0; i < list.length; i += 4) {
        const dw = list[i + 2]! - list[i]! - bw;
        const dh = list[i + 3]! - list[i + 1]! - bh;
        if (dw < 0 || dh < 0) continue;
        const short = dw < dh ? dw : dh;
        const long = dw < dh ? dh : dw;
        const first =
          rule === "short side"
            ? short
            : rule === "long side"
              ? long
              : rule === "area"
                ? (dw + bw) * (dh + bh) - bw * bh
                : list[i + 1]! + bh;
        const second = rule === "short side" ? long : rule === "low" ? list[i]! : short;
        if (first > best || (first === best && second >= more)) continue;
        best = first;
        more = second;
        at = i;
        turned = side === 1;
      }
    }
    return at < 0 ? null : { x: list[at]!, y: list[at + 1]!, turned, score: best, second: more };
  }

  /** Takes a rectangle away from all that it overlaps. */
  take(x0: number, y0: number, x1: number, y1: number): void {
    const { list, least } = this;
    const pieces: number[] = [];
    let kept = 0;
    for (let i = 0; i < list.length; i += 4) {
      const [fx0, fy0, fx1, fy1] = [list[i]!, list[i + 1]!, list[i + 2]!, list[i + 3]!];
      if (x0 >= fx1 || x1 <= fx0 || y0 >= fy1 || y1 <= fy0) {
        for (let k = 0; k < 4; k++) list[kept++] = list[i + k]!;
        continue;
      }
      if (x0 - fx0 >= least) pieces.push(fx0, fy0, x0, fy1);
      if (fx1 - x1 >= least) pieces.push(x1, fy0, fx1, fy1);
      if (y0 - fy0 >= least) pieces.push(fx0, fy0, fx1, y0);
      if (fy1 - y1 >= least) pieces.push(fx0, y1, fx1, fy1);
    }
    list.length = kept;
    // What was not cut was largest before, and is: only a piece may lie within another.
    for (let i = 0; i < pieces.length; i += 4)
      if (!isWithin(pieces, i, list, -1) && !isWithin(pieces, i, pieces, i))
        list.push(pieces[i]!, pieces[i + 1]!, pieces[i + 2]!, pieces[i + 3]!);
  }
}

/** Whether a rectangle lies within another of a list; of two that are the same, only the second does. */
function isWithin(of: readonly number[], i: number, list: readonly number[], self: number): boolean {
  const [x0, y0, x1, y1] = [of[i]!, of[i + 1]!, of[i + 2]!, of[i + 3]!];
  for (let k = 0; k < list.length; k += 4) {
    if (k === self || x0 < list[k]! || y0 < list[k + 1]! || x1 > list[k + 2]! || y1 > list[k + 3]!) continue;
    const isSame = x0 === list[k] && y0 === list[k + 1] && x1 === list[k + 2] && y1 === list[k + 3];
    if (self < 0 || !isSame || k < self) return true;
  }
  return false;
}
