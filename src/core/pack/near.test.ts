import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { at, box } from "../../testing/packing";
import { moveLeast, placeNear } from "./near";
import { placedItem, STAYS } from "./page";
import { boundsOf, type Item } from "./raster";
import { missing } from "./verify";

const page = { u0: 0, v0: 0, w: 1, h: 1, texels: 1024 };
const options = { page, padding: 4 / 1024, turns: "quarters" as const };

/** A grid of squares with gaps between them, and nothing else. */
const grid = (count: number, side: number): Item[] =>
  Array.from({ length: count * count }, (_, i) =>
    at(box(side, side), 0.01 + ((i % count) * 0.98) / count, 0.01 + (Math.floor(i / count) * 0.98) / count),
  );

describe("the least change", () => {
  it("moves nothing where all is well", () => {
    expect(moveLeast(grid(4, 0.2), options)!.every((p) => p === STAYS)).toBe(true);
  });

  it("moves the smaller of two that lie on each other, to the nearest free place, and nothing else", () => {
    const items = [...grid(4, 0.2), at(box(0.03, 0.1), 0.15, 0.05)];
    const moved = moveLeast(items, options)!;
    expect(moved.flatMap((p, i) => (p === STAYS ? [] : [i]))).toEqual([16]);
    const lie = items.map((item, i) => placedItem(item, moved[i]!));
    expect(missing(lie, page, options.padding)).toBe(0);
    const { u0 } = boundsOf(lie[16]!);
    // The gap to the right of the square that it lay on.
    expect(u0).toBeGreaterThan(0.2);
    expect(u0).toBeLessThan(0.23);
  });

  it("lets its neighbours make room where there is none, as few as that takes", () => {
    const items = [...grid(4, 0.2), at(box(0.08, 0.08), 0.2, 0.2)];
    const moved = moveLeast(items, options)!;
    const count = moved.filter((p) => p !== STAYS).length;
    expect(count).toBeGreaterThan(1);
    expect(count).toBeLessThan(items.length);
    const lie = items.map((item, i) => placedItem(item, moved[i]!));
    expect(missing(lie, page, options.padding)).toBe(0);
  });

  it("finds no room where there is none", () => {
    expect(moveLeast([...grid(2, 0.48), box(0.4, 0.4)], options)).toBeNull();
  });

  it("keeps clear of what stays, and of the page's border, whatever lies where", () => {
    const some = fc.tuple(
      fc.double({ min: 0.02, max: 0.15, noNaN: true }),
      fc.double({ min: 0.02, max: 0.15, noNaN: true }),
      fc.double({ min: -0.3, max: 1.2, noNaN: true }),
      fc.double({ min: -0.3, max: 1.2, noNaN: true }),
    );
    const list = fc.array(some, { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(list, list, (moving, staying) => {
        const [items, obstacles] = [moving, staying].map((l) => l.map(([w, h, u, v]) => at(box(w, h), u, v)));
        const moved = moveLeast(items!, { ...options, obstacles: obstacles! })!;
        const lie = items!.map((item, i) => placedItem(item, moved[i]!));
        expect(missing(lie, page, options.padding, obstacles)).toBe(0);
      }),
      { numRuns: 12, examples: [[[[0.02, 0.02, 0, -5e-324]], [[0.02, 0.02, -0.023906249996093754, 0]]]] },
    );
  });
});

describe("places that are wanted", () => {
  it("are given where they are free, the nearest else", () => {
    const items = [box(0.2, 0.2), box(0.1, 0.1)];
    const wanted: Array<readonly [number, number]> = [
      [0.5, 0.5],
      [0.5, 0.5],
    ];
    const placed = placeNear(items, wanted, { ...options, unit: 1, scale: 1 })!;
    const [first, second] = items.map((item, i) => boundsOf(placedItem(item, placed[i]!)));
    expect((first!.u0 + first!.u1) / 2).toBeCloseTo(0.5, 2);
    const [u, v] = [(second!.u0 + second!.u1) / 2, (second!.v0 + second!.v1) / 2];
    expect(Math.max(Math.abs(u - 0.5), Math.abs(v - 0.5))).toBeCloseTo(0.15 + 4 / 1024, 2);
  });
});
