import { areaOf } from "../src/core/pack/page";
import type { Item } from "../src/core/pack/raster";

/**
 * Area of a shell grown by a distance: its own, a strip along its rim, and of its corners what the strips leave out or
 * share (Steiner's formula, for lines with corners that go in as well). Hollows narrower than twice the distance count twice.
 */
export function grownArea(item: Item, distance: number): number {
  const { outline: o } = item;
  const keyAt = (i: number): string => `${o[i]} ${o[i + 1]}`;
  const from = new Map<string, number>();
  for (let i = 0; i < o.length; i += 4) from.set(keyAt(i), i);
  let grown = areaOf([item]);
  for (const loop of loopsOf(o, (i) => from.get(keyAt(i + 2))!)) {
    for (const [k, i] of loop.segments.entries()) {
      const next = loop.segments[(k + 1) % loop.segments.length]!;
      const [ax, ay] = [o[i + 2]! - o[i]!, o[i + 3]! - o[i + 1]!];
      const [bx, by] = [o[next + 2]! - o[next]!, o[next + 3]! - o[next + 1]!];
      const turn = loop.side * Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
      grown += distance * Math.hypot(ax, ay);
      grown += distance ** 2 * (turn > 0 ? turn / 2 : Math.tan(turn / 2));
    }
  }
  return grown;
}

interface Loop {
  readonly segments: readonly number[];
  /** 1 where the shell lies to the left of its segments, or -1. */
  readonly side: number;
}

/** Closed lines of an outline; the largest is the outer one, and all others are holes. */
function loopsOf(o: Float64Array, after: (segment: number) => number): Loop[] {
  const seen = new Set<number>();
  const loops: Array<{ segments: number[]; area: number }> = [];
  for (let i = 0; i < o.length; i += 4) {
    if (seen.has(i)) continue;
    const segments: number[] = [];
    let area = 0;
    for (let s = i; !seen.has(s); s = after(s)) {
      seen.add(s);
      segments.push(s);
      area += (o[s]! * o[s + 3]! - o[s + 2]! * o[s + 1]!) / 2;
    }
    loops.push({ segments, area });
  }
  const outer = loops.reduce((a, b) => (Math.abs(b.area) > Math.abs(a.area) ? b : a));
  return loops.map((loop) => ({ segments: loop.segments, side: Math.sign(loop.area) * (loop === outer ? 1 : -1) }));
}
