import { describe, expect, it } from "vitest";
import { edit, layoutAt, picking, shapeAt } from "../../testing/assets";
import { squares } from "../../testing/squares";
import type { Asset } from "./asset";
import { structureOf } from "./layout";
import { pointNames } from "./point-names";
import { hasPins, isFrozen, markedPins } from "./shell-points";

/** Two squares, a shell each. */
const asset = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.6, 0.1, 0.2, 0.2],
]);
const marked = (a: Asset) => [...markedPins(shapeAt(a).mesh, layoutAt(a))];
const frozen = (a: Asset) => [0, 1].map((shell) => isFrozen(shapeAt(a).mesh, layoutAt(a), shell as never));
const pinned = (a: Asset) => [0, 1].map((shell) => hasPins(shapeAt(a).mesh, layoutAt(a), shell as never));
const nameOf = (wedge: number) => pointNames(structureOf(shapeAt(asset).mesh, layoutAt(asset)))[wedge]!;

describe("pinned points", () => {
  it("are marked one by one, of a shell that is pinned whole only once", async () => {
    expect([marked(asset), frozen(asset), pinned(asset)]).toEqual([[], [false, false], [false, false]]);
    const some = await edit(asset, "pin", {}, picking(asset, "points", [nameOf(1), nameOf(2)]));
    expect([marked(some), frozen(some), pinned(some)]).toEqual([
      [1, 2],
      [false, false],
      [true, false],
    ]);
    const whole = await edit(some, "pin", {}, picking(some, "shells", [1]));
    expect(marked(whole)).toHaveLength(3);
    expect(marked(whole).slice(0, 2)).toEqual([1, 2]);
    expect([frozen(whole), pinned(whole)]).toEqual([
      [false, true],
      [true, true],
    ]);
    const free = await edit(whole, "unpin", {}, picking(whole, "points", [nameOf(marked(whole)[2]!)]));
    expect(frozen(free)).toEqual([false, false]);
    expect(marked(free)).toHaveLength(5);
  });
});
