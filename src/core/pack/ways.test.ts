import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  after,
  applyPlacement,
  areaOf,
  flatPlacements,
  type Placement,
  placedItem,
  placementsOf,
  STAYS,
  scaleOf,
} from "./page";
import type { Item } from "./raster";
import { waysOf } from "./ways";

const bar: Item = {
  triangles: Float64Array.of(0, 0, 4, 1, 3.8, 2, 0, 0, 3.8, 2, -0.2, 1),
  outline: Float64Array.of(0, 0, 4, 1, 4, 1, 3.8, 2, 3.8, 2, -0.2, 1, -0.2, 1, 0, 0),
};
const turnOf = ({ xx, yx }: Placement) => Math.round((Math.atan2(yx, xx) * 180) / Math.PI + 360) % 360;
const turns = (how: Parameters<typeof waysOf>[1]) =>
  waysOf(bar, how)
    .flatMap(({ by, quarters }) => quarters.map((q) => (turnOf(by) + 90 * q) % 360))
    .sort((a, b) => a - b);

describe("ways to put a shell", () => {
  it("are as many turns as are allowed, each once", () => {
    expect(turns({ turns: "none" })).toEqual([0]);
    expect(turns({ turns: "halves" })).toEqual([0, 180]);
    expect(turns({ turns: "quarters" })).toEqual([0, 90, 180, 270]);
    expect(turns({ turns: "steps", step: 30 })).toEqual(Array.from({ length: 12 }, (_, k) => 30 * k));
    expect(turns({ turns: "steps", step: 40 })).toEqual(Array.from({ length: 9 }, (_, k) => 40 * k));
  });

  it("stand along the page where any angle is allowed", () => {
    const [, along] = waysOf(bar, { turns: "free" });
    const [x, y] = applyPlacement(along!.by, 4, 1);
    const [x0, y0] = applyPlacement(along!.by, 0, 0);
    expect(Math.min(Math.abs(x - x0), Math.abs(y - y0))).toBeLessThan(1e-9);
  });

  it("are mirrored as well where that is allowed, and only as it stands for what stands", () => {
    const ways = waysOf(bar, { turns: "quarters", mirrored: true });
    expect(ways.map(({ by }) => Math.sign(by.xx * by.yy - by.xy * by.yx))).toEqual([1, -1]);
    expect(waysOf({ ...bar, stands: true }, { turns: "free" }).map((w) => w.quarters)).toEqual([[0]]);
    for (const { item, by } of ways) expect([...item.outline]).toEqual([...placedItem(bar, by).outline]);
  });
});

describe("placements", () => {
  const number = fc.double({ min: -3, max: 3, noNaN: true });
  const placement = fc.record({ xx: number, xy: number, yx: number, yy: number, du: number, dv: number });

  it("follow one another as they do point by point", () => {
    fc.assert(
      fc.property(placement, placement, number, number, (one, other, u, v) => {
        const both = applyPlacement(after(one, other), u, v);
        const step = applyPlacement(other, ...applyPlacement(one, u, v));
        expect(both[0]).toBeCloseTo(step[0], 9);
        expect(both[1]).toBeCloseTo(step[1], 9);
      }),
    );
  });

  it("scale areas by the square of what they are said to scale by", () => {
    fc.assert(
      fc.property(placement, (p) => {
        expect(areaOf([placedItem(bar, p)])).toBeCloseTo(areaOf([bar]) * scaleOf(p) ** 2, 6);
      }),
    );
    expect(scaleOf(STAYS)).toBe(1);
  });

  it("come back as they were sent", () => {
    fc.assert(
      fc.property(fc.array(placement), (list) => {
        expect(placementsOf(flatPlacements(2, list))).toEqual(list);
      }),
    );
  });
});
