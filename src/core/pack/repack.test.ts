import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../testing/packing";
import { Kernels } from "../kernels/kernels";
import { Stopped } from "../layout/stopped";
import { BitGrid, type GridPlace } from "./bit-grid";
import { type GridShape, gridShapes } from "./grid-shapes";
import { type Laid, Repacking } from "./repack";
import { waysOf } from "./ways";

const [COLUMNS, ROWS] = [128, 128];

/** Lays boxes low on a page, and repacks them. */
function repacked(sizes: readonly (readonly [w: number, h: number])[], changes: number, look = () => {}) {
  const kernels = new Kernels();
  const grid = new BitGrid(kernels, COLUMNS, ROWS);
  const shapes = sizes.map(([w, h]) =>
    gridShapes(kernels, waysOf(box(w, h), { turns: "quarters" }), 1, 0, { rough: 0.3 }),
  );
  const places = shapes.map((turns) => grid.put(turns, ROWS)!);
  const told: Laid[] = [];
  const run = () =>
    new Repacking(grid, shapes, { columns: COLUMNS, rows: ROWS, places }, 1, look, (laid) => told.push(laid)).run(
      changes,
    );
  return { shapes, told, run };
}

/** Cells that shapes take, how many of these no other takes, and how many lie on the page. */
function countCells(shapes: readonly (readonly GridShape[])[], { places, columns, rows }: Laid) {
  const cells = new Set<number>();
  let [all, inside] = [0, 0];
  places.forEach(({ turn, x, y }: GridPlace, i) => {
    const { w, h } = shapes[i]![turn]!;
    for (let cy = y; cy < y + h; cy++)
      for (let cx = x; cx < x + w; cx++) {
        all++;
        if (cx < columns && cy < rows) inside++;
        cells.add(cy * COLUMNS + cx);
      }
  });
  return { all, alone: cells.size, inside };
}

describe("repacking", () => {
  it("brings nine squares into the page that they just fill", () => {
    const { told, run } = repacked(
      Array.from({ length: 9 }, () => [20, 20] as const),
      400,
    );
    run();
    expect([told.at(-1)!.columns, told.at(-1)!.rows]).toEqual([60, 60]);
  });

  it("comes near to how rectangles lay that a page was cut into", () => {
    // 64 x 64, cut into columns and those into rows.
    const sizes = [24, 12, 28].flatMap((w, i) =>
      [
        [32, 20, 12],
        [16, 48],
        [6, 21, 37],
      ][i]!.map((h) => [w, h] as const),
    );
    const { told, run } = repacked(sizes, 4000);
    run();
    const { columns, rows } = told.at(-1)!;
    expect(columns * rows).toBeGreaterThanOrEqual(64 * 64);
    expect(columns * rows).toBeLessThanOrEqual(67 * 67);
  });

  it("tells smaller and smaller pages, on each of which all lie beside each other, the same for a seed", () => {
    const side = fc.integer({ min: 4, max: 40 });
    fc.assert(
      fc.property(fc.array(fc.tuple(side, side), { minLength: 2, maxLength: 9 }), (sizes) => {
        const [one, other] = [repacked(sizes, 60), repacked(sizes, 60)];
        one.run();
        other.run();
        expect(other.told).toEqual(one.told);
        let last = COLUMNS * ROWS;
        for (const laid of one.told) {
          expect(laid.columns * laid.rows).toBeLessThan(last);
          last = laid.columns * laid.rows;
          const { all, alone, inside } = countCells(one.shapes, laid);
          expect([alone, inside]).toEqual([all, all]);
        }
      }),
      { numRuns: 20 },
    );
  });

  it("ends where the longest no longer goes in, and where it is stopped", () => {
    const { told, run } = repacked(
      [
        [126, 4],
        [10, 10],
      ],
      1e6,
    );
    run();
    expect(Math.max(told.at(-1)!.columns, told.at(-1)!.rows)).toBe(126);
    const stopped = repacked(
      Array.from({ length: 30 }, () => [20, 21] as const),
      1e6,
      () => {
        throw new Stopped("Stopped.");
      },
    );
    expect(stopped.run).toThrow(Stopped);
  });
});
