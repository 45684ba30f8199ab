// How much room the points of a border have, and which of them may come close.
import { collect, count, loop, PAIR, pairCount, pairs, range, sortEdges } from "./border";
import { f64At, i32At, putF64, putI32 } from "./lists";

/** Of the distance of a pair, and of the reach where there is none, each point may move so much at most. */
const SHARE: f64 = 0.45;
/** Of a pair's limit, so much stays between them. */
const FLOOR: f64 = 0.4;

/** How far every point of the border may move, all at once, without meeting another. @param out a number a point of the shell */
export function borderRadii(x: usize, reach: f64, out: usize): void {
  const isWhole = sortEdges(x, reach) && collect(reach, 0);
  for (let i: i32 = 0; i < count; i++) putF64(out, i32At(loop, i), isWhole ? SHARE * reach : 0);
  for (let k: i32 = 0; k < pairCount; k++) {
    const pair = pairs + <usize>k * PAIR;
    const e = load<i32>(pair, 4);
    const distance = load<f64>(pair, 16);
    const least = FLOOR * load<f64>(pair, 24);
    const radius = Math.max(0, Math.min(SHARE * distance, 0.5 * (distance - least)));
    lower(out, load<i32>(pair), radius);
    lower(out, e, radius);
    lower(out, e + 1 === count ? 0 : e + 1, radius);
  }
}
function lower(radii: usize, i: i32, radius: f64): void {
  const p = i32At(loop, i);
  putF64(radii, p, Math.min(f64At(radii, p), radius));
}

/** Writes pairs of points that may come to push each other. @returns how many pairs, of two numbers each */
export function closePoints(x: usize, times: f64, out: usize, most: i32): i32 {
  const reach = times * range;
  let found: i32 = 0;
  if (!sortEdges(x, reach)) return found;
  collect(reach, times);
  for (let k: i32 = 0; k < pairCount && found + 2 <= most; k++) {
    const pair = pairs + <usize>k * PAIR;
    const p = i32At(loop, load<i32>(pair));
    const e = load<i32>(pair, 4);
    for (let side = 0; side < 2; side++) {
      putI32(out, 2 * found, p);
      putI32(out, 2 * found + 1, i32At(loop, e + side === count ? 0 : e + side));
      found++;
    }
  }
  return found;
}
