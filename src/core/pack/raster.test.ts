import { describe, expect, it } from "vitest";
import { quarterTurn, rasterise, runsOf } from "./raster";

const square = (side: number) => ({
  triangles: Float64Array.from([0, 0, side, 0, side, side, 0, 0, side, side, 0, side]),
  outline: Float64Array.from([0, 0, side, 0, side, 0, side, side, side, side, 0, side, 0, side, 0, 0]),
});

describe("rasterise", () => {
  it("marks every cell a square touches, and the cells within the padding", () => {
    const mask = rasterise(square(2.5), 1, 1);
    const count = (cells: Uint8Array) => cells.reduce((a, b) => a + b, 0);
    expect([mask.w, mask.h, mask.pad]).toEqual([7, 7, 2]);
    expect(count(mask.body)).toBe(16); // 3 cells and the touched one on the low side, each way
    expect(count(mask.grown)).toBeGreaterThanOrEqual(25);
    expect(mask.grown[0]).toBe(0);
  });

  it("comes back after four quarter turns", () => {
    const item = {
      triangles: Float64Array.from([0, 0, 5, 1, 2, 3]),
      outline: Float64Array.from([0, 0, 5, 1, 5, 1, 2, 3, 2, 3, 0, 0]),
    };
    const mask = rasterise(item, 2.3, 1.5);
    for (const cells of [mask.body, mask.grown]) {
      const once = quarterTurn(cells, mask.w, mask.h);
      expect(once).not.toEqual(cells);
      const twice = quarterTurn(once, mask.h, mask.w);
      const thrice = quarterTurn(twice, mask.w, mask.h);
      expect(quarterTurn(thrice, mask.h, mask.w)).toEqual(cells);
    }
  });

  it("lists runs, longest first", () => {
    expect(Array.from(runsOf(Uint8Array.from([1, 0, 1, 1, 1, 1]), 3, 2))).toEqual([1, 0, 3, 0, 0, 1, 0, 2, 3]);
  });
});
