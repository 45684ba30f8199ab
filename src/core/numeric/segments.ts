/** Distance of point (px, py) from segment a-b. */
export function pointToSegment(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax;
  const dy = by - ay;
  const square = dx * dx + dy * dy;
  const t = square > 0 ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / square)) : 0;
  return Math.hypot(ax + dx * t - px, ay + dy * t - py);
}

/** The place on segment i of a list (4 numbers each, i counted in numbers) that is nearest to a point. */
export function nearestOnSegment(px: number, py: number, s: Float64Array, i: number): readonly [number, number] {
  const [ax, ay, bx, by] = [s[i]!, s[i + 1]!, s[i + 2]!, s[i + 3]!];
  const [dx, dy] = [bx - ax, by - ay];
  const square = dx * dx + dy * dy;
  const t = square > 0 ? ((px - ax) * dx + (py - ay) * dy) / square : 0;
  // The ends exactly, where one of them is nearest.
  return t <= 0 ? [ax, ay] : t >= 1 ? [bx, by] : [ax + t * dx, ay + t * dy];
}

/** Twice the signed area of triangle a b c: positive when c lies left of a-b. */
export const turn = (ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number =>
  (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);

/** Whether segments i and j of a list (4 numbers each) cross in a point inside both. */
export function segmentsCross(s: Float64Array, i: number, j: number): boolean {
  const [a, c] = [4 * i, 4 * j];
  return straddles(s, a, c) && straddles(s, c, a);
}

/** Whether the segment at `other` has its ends on either side of the line through the one at `line`. */
function straddles(s: Float64Array, line: number, other: number): boolean {
  const [ax, ay, bx, by] = [s[line]!, s[line + 1]!, s[line + 2]!, s[line + 3]!];
  return turn(ax, ay, bx, by, s[other]!, s[other + 1]!) * turn(ax, ay, bx, by, s[other + 2]!, s[other + 3]!) < 0;
}

/** Distance of segments i and j of a list (4 numbers each); 0 where they cross. */
export const segmentDistance = (s: Float64Array, i: number, j: number): number =>
  segmentsCross(s, i, j) ? 0 : endDistance(s, i, s, j);

/** Whether two segments have a point in common, their ends included. */
export function meet(s: Float64Array, i: number, t: Float64Array, j: number): boolean {
  const [a, c] = [4 * i, 4 * j];
  const [ax, ay, bx, by] = [s[a]!, s[a + 1]!, s[a + 2]!, s[a + 3]!];
  const [cx, cy, dx, dy] = [t[c]!, t[c + 1]!, t[c + 2]!, t[c + 3]!];
  if (Math.max(ax, bx) < Math.min(cx, dx) || Math.max(cx, dx) < Math.min(ax, bx)) return false;
  if (Math.max(ay, by) < Math.min(cy, dy) || Math.max(cy, dy) < Math.min(ay, by)) return false;
  return (
    turn(ax, ay, bx, by, cx, cy) * turn(ax, ay, bx, by, dx, dy) <= 0 &&
    turn(cx, cy, dx, dy, ax, ay) * turn(cx, cy, dx, dy, bx, by) <= 0
  );
}

/** Least distance of an end of segment i of one list, or of segment j of another, from the other segment. */
export function endDistance(s: Float64Array, i: number, t: Float64Array, j: number): number {
  const [a, c] = [4 * i, 4 * j];
  const [ax, ay, bx, by] = [s[a]!, s[a + 1]!, s[a + 2]!, s[a + 3]!];
  const [cx, cy, dx, dy] = [t[c]!, t[c + 1]!, t[c + 2]!, t[c + 3]!];
  return Math.min(
    pointToSegment(ax, ay, cx, cy, dx, dy),
    pointToSegment(bx, by, cx, cy, dx, dy),
    pointToSegment(cx, cy, ax, ay, bx, by),
    pointToSegment(dx, dy, ax, ay, bx, by),
  );
}

/**
 * A uniform grid over segments: each is entered in every cell its box meets. Pairs of segments that share a cell are
 * handed out once per shared cell.
 */
export class SegmentGrid {
  private readonly start: Uint32Array;
  private readonly items: Uint32Array;
  private readonly columns: number;
  private readonly rows: number;

  constructor(
    segments: Float64Array,
    private readonly cell: number,
    margin: number,
  ) {
    let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < segments.length; i += 2) {
      x0 = Math.min(x0, segments[i]!);
      x1 = Math.max(x1, segments[i]!);
      y0 = Math.min(y0, segments[i + 1]!);
      y1 = Math.max(y1, segments[i + 1]!);
    }
    this.columns = Math.max(1, Math.ceil((x1 - x0 + 2 * margin) / cell) + 1);
    this.rows = Math.max(1, Math.ceil((y1 - y0 + 2 * margin) / cell) + 1);
    const counts = new Uint32Array(this.columns * this.rows + 1);
    const visit = (act: (cell: number, i: number) => void) => {
      for (let i = 0; 4 * i < segments.length; i++) {
        const k = 4 * i;
        const c0 = Math.floor((Math.min(segments[k]!, segments[k + 2]!) - x0) / this.cell);
        const c1 = Math.floor((Math.max(segments[k]!, segments[k + 2]!) - x0 + 2 * margin) / this.cell);
        const r0 = Math.floor((Math.min(segments[k + 1]!, segments[k + 3]!) - y0) / this.cell);
        const r1 = Math.floor((Math.max(segments[k + 1]!, segments[k + 3]!) - y0 + 2 * margin) / this.cell);
        for (let r = r0; r <= r1; r++) for (let c = c0; c <= c1; c++) act(r * this.columns + c, i);
      }
    };
    visit((at) => counts[at + 1]!++);
    for (let i = 0; i + 1 < counts.length; i++) counts[i + 1]! += counts[i]!;
    this.start = counts;
    const fill = counts.slice(0, -1);
    this.items = new Uint32Array(counts[counts.length - 1]!);
    visit((at, i) => {
      this.items[fill[at]!++] = i;
    });
  }

  /** Calls `act` with the segments of every cell that holds two or more; stops when it returns true. */
  someCell(act: (items: Uint32Array) => boolean): boolean {
    for (let c = 0; c + 1 < this.start.length; c++) {
      if (this.start[c + 1]! - this.start[c]! < 2) continue;
      if (act(this.items.subarray(this.start[c]!, this.start[c + 1]!))) return true;
    }
    return false;
  }
}
