import type { ShellRef } from "../layout/layout";
import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";
import type { Figures } from "./figures";

/** Boxes and areas that differ by less than this share of a tile are the same. */
const NEAR = 1e-5;

/**
 * For every shell the first one that it lies right on: same box and same area; itself where there is none. Values are
 * compared by their distance, in the order of one of them, so that none is cut apart by the border of a cell.
 *
 * @param box u0, v0, u1, v1 of every shell
 * @param area UV area of every shell
 */
export function stackedOn(box: Float64Array, area: Float64Array): Uint32Array {
  const n = area.length;
  const twin = iota(n);
  const order = twin.slice().sort((a, b) => box[4 * a]! - box[4 * b]! || a - b);
  const alike = (a: number, b: number): boolean => {
    for (let d = 1; d < 4; d++) if (Math.abs(box[4 * a + d]! - box[4 * b + d]!) > NEAR) return false;
    return Math.abs(Math.sqrt(area[a]!) - Math.sqrt(area[b]!)) <= NEAR;
  };
  for (let i = 0; i < n; i++)
    for (let j = i - 1; j >= 0 && box[4 * order[i]!]! - box[4 * order[j]!]! <= NEAR; j--) {
      if (!alike(order[i]!, order[j]!)) continue;
      // One earlier shell of the pile is enough: it was compared with those before it.
      unite(twin, order[i]!, order[j]!);
      break;
    }
  return twin.map((_, k) => rootOf(twin, k));
}

/** Shells that lie right on one another: lists of two or more. */
export function stacksIn(figures: Figures): ShellRef[][] {
  const shells: ShellRef[] = [];
  const [boxes, areas]: [number[], number[]] = [[], []];
  for (const [shape, f] of figures)
    for (let k = 0; k < f.count; k++) {
      if (!f.mapped[k]) continue;
      shells.push({ shape, face: f.face[k]! });
      for (let d = 0; d < 4; d++) boxes.push(f.box[4 * k + d]!);
      areas.push(f.uvArea[k]!);
    }
  const lists = new Map<number, ShellRef[]>();
  stackedOn(Float64Array.from(boxes), Float64Array.from(areas)).forEach((first, k) => {
    const own = lists.get(first);
    if (own) own.push(shells[k]!);
    else lists.set(first, [shells[k]!]);
  });
  return [...lists.values()].filter((list) => list.length > 1);
}
