import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { FreeRectangles, RULES } from "./free-rectangles";

const side = fc.integer({ min: 1, max: 9 });

describe("the largest free rectangles", () => {
  it("go to a box as the rule tells", () => {
    const free = new FreeRectangles(10, 8, 1);
    free.take(4, 0, 10, 5);
    // What is left: a column of 4 x 8 on the left, and a row of 10 x 3 on top.
    expect(free.find(4, 3, false, "short side")).toMatchObject({ x: 0, y: 0, turned: false, score: 0 });
    expect(free.find(9, 3, false, "low")).toMatchObject({ x: 0, y: 5 });
    expect(free.find(3, 9, true, "area")).toMatchObject({ x: 0, y: 5, turned: true, score: 3 });
    expect(free.find(3, 9, false, "area")).toBeNull();
    expect(free.find(5, 5, true, "long side")).toBeNull();
  });

  it("hold a box wherever there is room for one, and never where there is none", () => {
    const boxes = fc.array(fc.tuple(side, side, fc.constantFrom(...RULES)), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(boxes, (list) => {
        const free = new FreeRectangles(12, 12, 1);
        const taken = new Set<number>();
        const isFree = (x: number, y: number, w: number, h: number) => {
          if (x + w > 12 || y + h > 12) return false;
          for (let i = x; i < x + w; i++) for (let j = y; j < y + h; j++) if (taken.has(12 * j + i)) return false;
          return true;
        };
        for (const [w, h, rule] of list) {
          const place = free.find(w, h, false, rule);
          let room = false;
          for (let k = 0; k < 144; k++) room ||= isFree(k % 12, Math.floor(k / 12), w, h);
          expect(place !== null).toBe(room);
          if (!place) continue;
          expect(isFree(place.x, place.y, w, h)).toBe(true);
          free.take(place.x, place.y, place.x + w, place.y + h);
          for (let i = 0; i < w; i++) for (let j = 0; j < h; j++) taken.add(12 * (place.y + j) + place.x + i);
        }
      }),
    );
  });
});
