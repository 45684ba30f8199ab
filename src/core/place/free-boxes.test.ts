import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { TakenCells } from "./free-boxes";

const takeBox = (cells: TakenCells, u0: number, v0: number, u1: number, v1: number) => {
  cells.addTriangle(u0, v0, u1, v0, u1, v1);
  cells.addTriangle(u0, v0, u1, v1, u0, v1);
};

describe("empty boxes of a tile", () => {
  it("are what is left beside a shell, the largest first, and keep their distance", () => {
    const cells = new TakenCells(1, 0);
    // The left half, and the upper half of the right one, but for a hair of a cell.
    takeBox(cells, 1, 0, 1.4999, 1);
    takeBox(cells, 1.5, 0.5001, 2, 1);
    const [first, ...others] = cells.boxes(0, 4, 1e-6);
    expect(others).toEqual([]);
    expect(first).toEqual({ u0: 1.5, v0: 0, u1: 2, v1: 0.5 });
    expect(cells.boxes(1 / 16, 4, 1e-6)[0]).toEqual({ u0: 1.5625, v0: 0.0625, u1: 1.9375, v1: 0.4375 });
  });

  it("touch no triangle and not each other, whatever lies there", () => {
    const point = fc.tuple(
      fc.double({ min: -0.2, max: 1.2, noNaN: true }),
      fc.double({ min: -0.2, max: 1.2, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(point, point, point), { minLength: 1, maxLength: 8 }), (list) => {
        const cells = new TakenCells(0, 0);
        for (const [a, b, c] of list) cells.addTriangle(...a, ...b, ...c);
        const boxes = cells.boxes(0, 6, 1e-4);
        for (const [i, a] of boxes.entries())
          for (const b of boxes.slice(i + 1))
            expect(
              Math.max(Math.max(a.u0, b.u0) - Math.min(a.u1, b.u1), Math.max(a.v0, b.v0) - Math.min(a.v1, b.v1)),
            ).toBeGreaterThanOrEqual(0);
        // Points within the triangles lie in no box.
        for (const [a, b, c] of list)
          for (const [x, y, z] of [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 1],
            [1 / 3, 1 / 3, 1 / 3],
            [0.5, 0.5, 0],
            [0.1, 0.2, 0.7],
          ] as const) {
            const [u, v] = [0, 1].map((d) => x * a[d]! + y * b[d]! + z * c[d]!) as [number, number];
            for (const box of boxes)
              expect(u > box.u0 + 1e-9 && u < box.u1 - 1e-9 && v > box.v0 + 1e-9 && v < box.v1 - 1e-9).toBe(false);
          }
      }),
      { numRuns: 40 },
    );
  });
});
