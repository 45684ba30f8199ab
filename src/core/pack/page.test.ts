import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  after,
  applyPlacement,
  areaOf,
  extentOf,
  flatPlacements,
  lengthOf,
  type Placement,
  placedItem,
  placementsOf,
  roomOf,
  scaleOf,
} from "./page";
import type { Item } from "./raster";

const number = fc.double({ min: -3, max: 3, noNaN: true });
const placement: fc.Arbitrary<Placement> = fc.record({
  xx: number,
  xy: number,
  yx: number,
  yy: number,
  du: number,
  dv: number,
});
const item: Item = {
  triangles: Float64Array.of(0, 0, 4, 0, 4, 3),
  outline: Float64Array.of(0, 0, 4, 0, 4, 0, 4, 3, 4, 3, 0, 0),
};

describe("placements", () => {
  it("follow one another as the points they move do", () => {
    fc.assert(
      fc.property(placement, placement, number, number, (one, other, u, v) => {
        const [x, y] = applyPlacement(after(one, other), u, v);
        const [p, q] = applyPlacement(other, ...applyPlacement(one, u, v));
        expect(x).toBeCloseTo(p, 9);
        expect(y).toBeCloseTo(q, 9);
      }),
    );
  });

  it("make areas and lengths larger by what they tell", () => {
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 3, noNaN: true }), fc.double({ min: 0, max: 7, noNaN: true }), (k, a) => {
        const [c, s] = [k * Math.cos(a), k * Math.sin(a)];
        for (const turned of [
          { xx: c, xy: -s, yx: s, yy: c, du: 1, dv: 2 },
          { xx: -c, xy: -s, yx: -s, yy: c, du: 1, dv: 2 },
        ]) {
          expect(scaleOf(turned)).toBeCloseTo(k, 9);
          expect(areaOf([placedItem(item, turned)])).toBeCloseTo(6 * k * k, 9);
          expect(lengthOf([placedItem(item, turned), item])).toBeCloseTo(12 * k + 12, 9);
        }
      }),
    );
  });

  it("travel as numbers to the last bit", () => {
    fc.assert(
      fc.property(fc.array(placement, { maxLength: 5 }), number, (list, scale) => {
        const flat = flatPlacements(scale, list);
        expect(flat[0]).toBe(scale);
        expect(placementsOf(flat)).toEqual(list);
      }),
    );
  });
});

describe("shells and pages", () => {
  it("tell their sizes", () => {
    expect(areaOf([item])).toBe(6);
    expect(lengthOf([item])).toBe(12);
    expect(extentOf(item)).toBe(4);
  });

  it("have no room where the border leaves nothing", () => {
    const page = { u0: 0, v0: 0, w: 1, h: 0.5, texels: 1024 };
    expect(roomOf(page, 0.1)).toBeCloseTo(1.1 * 0.6, 12);
    expect(roomOf({ ...page, w: -0.2 }, 0.1)).toBe(0);
  });
});
