import { SegmentGrid, segmentDistance, segmentsCross } from "../numeric/segments";

/** A cell no smaller than this share of the box keeps the grid within a few million cells. */
const FINEST = 1 / 2000;

/** Side of cells about as long as a segment, within bounds. */
function cellSide(outline: Float64Array, least: number): number {
  let length = 0;
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < outline.length; i += 4) {
    length += Math.hypot(outline[i + 2]! - outline[i]!, outline[i + 3]! - outline[i + 1]!);
    x0 = Math.min(x0, outline[i]!);
    x1 = Math.max(x1, outline[i]!);
    y0 = Math.min(y0, outline[i + 1]!);
    y1 = Math.max(y1, outline[i + 1]!);
  }
  const extent = Math.max(x1 - x0, y1 - y0);
  return Math.max(least, (2 * length) / (outline.length / 4), extent * FINEST) || 1;
}

/**
 * Exact least distance between border edges of different shells; null with fewer than two shells. Looks within a
 * radius and doubles it until a pair is found.
 *
 * @param outline 4 per edge
 * @param radius where to begin
 */
export function leastGap(outline: Float64Array, shell: Uint32Array, radius: number): number | null {
  if (!shell.length || shell.every((s) => s === shell[0])) return null;
  for (let reach = radius; ; reach *= 2) {
    let least = Infinity;
    const grid = new SegmentGrid(outline, cellSide(outline, 2 * reach), reach);
    grid.someCell((items) => {
      // Most cells hold one shell only; the others are sorted by shell, so that no pair of one shell is looked at.
      const first = shell[items[0]!];
      if (items.every((i) => shell[i] === first)) return false;
      items.sort((i, j) => shell[i]! - shell[j]!);
      for (let a = 1, own = 0; a < items.length; a++) {
        if (shell[items[a]!] !== shell[items[a - 1]!]) own = a;
        for (let b = 0; b < own; b++) {
          if (apart(outline, items[a]!, items[b]!) >= least) continue;
          least = Math.min(least, segmentDistance(outline, items[a]!, items[b]!));
        }
      }
      return least === 0;
    });
    if (least <= reach) return least;
  }
}

/** Distance of two edges' boxes. */
function apart(s: Float64Array, i: number, j: number): number {
  const a = 4 * i;
  const b = 4 * j;
  const du = between(s[a]!, s[a + 2]!, s[b]!, s[b + 2]!);
  const dv = between(s[a + 1]!, s[a + 3]!, s[b + 1]!, s[b + 3]!);
  return Math.sqrt(du * du + dv * dv);
}

/** Distance of the intervals p..q and r..t, given in either order. */
function between(p: number, q: number, r: number, t: number): number {
  return Math.max(0, Math.min(r, t) - Math.max(p, q), Math.min(p, q) - Math.max(r, t));
}

/** Whether a shell's border crosses itself: a map without flips overlaps itself only if it does. */
export function crossesItself(outline: Float64Array): boolean {
  if (outline.length < 16) return false;
  return new SegmentGrid(outline, cellSide(outline, 0), 0).someCell((items) => {
    for (let a = 1; a < items.length; a++)
      for (let b = 0; b < a; b++) if (segmentsCross(outline, items[a]!, items[b]!)) return true;
    return false;
  });
}
