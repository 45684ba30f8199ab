import { describe, expect, it } from "vitest";
import { at, box } from "../../testing/packing";
import { Kernels } from "../kernels/kernels";
import { BitGrid } from "./bit-grid";
import { gridShapes } from "./grid-shapes";
import { takeObstacle } from "./obstacles";
import type { Item } from "./raster";
import { waysOf } from "./ways";

const CELLS = 64;

const boxAt = (u0: number, v0: number, w: number, h: number): Item => at(box(w, h), u0, v0);

/** Where a square of some cells goes lowest beside what stays: on a sheet of 64 cells that begins at (from, 0). */
function lowest(stays: readonly Item[], side: number, padding = 0, from = 0): readonly [x: number, y: number] | null {
  const kernels = new Kernels();
  const grid = new BitGrid(kernels, CELLS, CELLS);
  for (const item of stays) takeObstacle(grid, item, CELLS, padding, { u0: from, v0: 0 });
  const shapes = gridShapes(kernels, waysOf(boxAt(0, 0, side / CELLS, side / CELLS), { turns: "none" }), CELLS, 0);
  const put = grid.put(shapes, CELLS);
  return put && [put.x, put.y];
}

describe("what stays in the way", () => {
  it("takes its cells, and those nearer than the padding", () => {
    expect(lowest([], 16)).toEqual([0, 0]);
    const left = boxAt(0, 0, 0.5, 1);
    const [x, y] = lowest([left], 16)!;
    expect(y).toBe(0);
    expect(x).toBeGreaterThanOrEqual(32);
    expect(x).toBeLessThanOrEqual(33);
    expect(lowest([left], 16, 4)![0] - x).toBe(4);
    expect(lowest([left], 30, 4)).toBeNull();
  });

  it("counts from where the sheet begins, and not at all where it lies beyond it", () => {
    const own = boxAt(3, 0, 0.5, 1);
    expect(lowest([own], 16, 0, 3)![0]).toBeGreaterThanOrEqual(32);
    expect(lowest([own], 16)).toEqual([0, 0]);
    // Beyond the sheet, and nearer to it than the padding.
    expect(lowest([boxAt(-0.5, 0, 0.5 - 1 / CELLS, 1)], 16, 4)![0]).toBeGreaterThanOrEqual(3);
  });

  it("takes what reaches over many tiles only where it lies", () => {
    // Its two triangles leave the upper left of the diagonal from (0, 0) free where only the lower one is there.
    const half: Item = {
      triangles: Float64Array.of(0, 0, 3, 0, 3, 3, 3, 0, 6, 0, 6, 3),
      outline: Float64Array.of(0, 0, 3, 0, 3, 0, 6, 0, 6, 0, 6, 3, 6, 3, 3, 0, 3, 0, 3, 3, 3, 3, 0, 0),
    };
    const [x, y] = lowest([half], 16)!;
    expect(x).toBe(0);
    expect(y).toBeGreaterThanOrEqual(16);
    // A cell each for the diagonal, and for the square as it is laid into cells.
    expect(y).toBeLessThanOrEqual(19);
    expect(lowest([boxAt(-20, -20, 40, 40)], 1)).toBeNull();
  });
});
