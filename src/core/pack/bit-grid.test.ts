import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../testing/packing";
import { Kernels } from "../kernels/kernels";
import { BitGrid, type GridBox } from "./bit-grid";
import { type GridShape, gridShapes, longestRun } from "./grid-shapes";
import type { Item } from "./raster";
import { waysOf } from "./ways";

const COLUMNS = 128;
const ROWS = 160;

/** An L of three boxes, which has a hollow. */
const ell = (a: number, b: number): Item => {
  const points = [0, 0, a, 0, a, b, b, b, b, a, 0, a];
  const outline: number[] = [];
  for (let i = 0; i < points.length; i += 2)
    outline.push(points[i]!, points[i + 1]!, points[(i + 2) % 12]!, points[(i + 3) % 12]!);
  return {
    triangles: Float64Array.of(0, 0, a, 0, a, b, 0, 0, a, b, 0, b, 0, b, b, b, b, a, 0, b, b, a, 0, a),
    outline: Float64Array.from(outline),
  };
};

/** What kernels were told of a shape, as cells. */
const cellsOf = (kernels: Kernels, at: number, count: number): Array<[x: number, y: number]> => {
  const runs = kernels.i32(at, 4 * count);
  const out: Array<[number, number]> = [];
  for (let r = 0; r < count; r++)
    for (let k = 0; k < runs[4 * r + 2]!; k++) out.push([runs[4 * r + 1]! + k, runs[4 * r]!]);
  return out;
};

describe.each([
  [true, false],
  [true, true],
  [false, false],
])("cells as bits, with SIMD: %s, rows told together: %s", (simd, tall) => {
  it("puts every shape where looking at every cell would put it", () => {
    const size = fc.double({ min: 2, max: 40, noNaN: true });
    const some = fc.array(fc.tuple(size, size, fc.boolean()), { minLength: 1, maxLength: 9 });
    fc.assert(
      fc.property(some, fc.double({ min: 0, max: 3, noNaN: true }), (list, padding) => {
        const kernels = new Kernels(simd);
        const grid = new BitGrid(kernels, COLUMNS, ROWS, tall);
        const taken = new Set<number>();
        for (const [a, b, isEll] of list) {
          const item = isEll ? ell(Math.max(a, b), Math.min(a, b) / 2) : box(a, b);
          const turns = gridShapes(kernels, waysOf(item, { turns: "quarters" }), 1, padding);
          const put = grid.put(turns, ROWS)!;
          expect(put && { ...put }).toEqual(slowly(kernels, turns, taken));
          if (!put) continue;
          const shape = turns[put.turn]!;
          for (const [x, y] of cellsOf(kernels, shape.grown, shape.grownCount)) {
            const [cx, cy] = [put.x + shape.x + x, put.y + shape.y + y];
            if (cx >= 0 && cx < COLUMNS && cy >= 0 && cy < ROWS) taken.add(cy * COLUMNS + cx);
          }
        }
      }),
      { numRuns: 25 },
    );
  });

  it("has no place beyond its first columns where it is narrowed, as if all cells there were taken", () => {
    const kernels = new Kernels(simd);
    const list = [ell(40, 12), box(30, 9), box(9, 30), ell(25, 5), box(14, 14), box(3, 50)];
    const shapes = list.map((item) => gridShapes(kernels, waysOf(item, { turns: "quarters" }), 1, 2));
    const put = (grid: BitGrid) => shapes.map((turns) => grid.put(turns, ROWS));
    for (const columns of [COLUMNS, 127, 100, 64, 63]) {
      const [narrow, taken] = [new BitGrid(kernels, COLUMNS, ROWS, tall), new BitGrid(kernels, COLUMNS, ROWS, tall)];
      narrow.narrow(columns);
      narrow.clear(longestRun(shapes));
      taken.takeCells(new Uint8Array((COLUMNS - columns) * ROWS).fill(1), COLUMNS - columns, ROWS, columns, 0);
      const places = put(narrow);
      expect(places).toEqual(put(taken));
      for (const [i, place] of places.entries())
        expect(place!.x + shapes[i]![place!.turn]!.w).toBeLessThanOrEqual(columns);
    }
  });

  it("frees what it took and nothing else, and puts shapes within a box, only in part of it, as low as they go", () => {
    const size = fc.double({ min: 4, max: 40, noNaN: true });
    const side = fc.tuple(fc.integer({ min: 0, max: 90 }), fc.integer({ min: 1, max: 30 }));
    fc.assert(
      fc.property(
        fc.array(fc.tuple(size, size), { minLength: 2, maxLength: 9 }),
        side,
        side,
        (list, [x0, w], [y0, h]) => {
          const kernels = new Kernels(simd);
          const grid = new BitGrid(kernels, COLUMNS, ROWS, tall);
          const shapes = list.map(([a, b]) =>
            gridShapes(kernels, waysOf(ell(Math.max(a, b), Math.min(a, b) / 2), { turns: "none" }), 1, 1, {
              rough: 0.3,
            }),
          );
          const places = shapes.map((turns) => grid.put(turns, ROWS));
          places.forEach((place, i) => {
            if (i % 2 && place) grid.free(shapes[i]![0]!, place);
          });
          const taken = new Set<number>();
          places.forEach((place, i) => {
            if (!place || i % 2) return;
            const { grown, grownCount, x, y } = shapes[i]![0]!;
            for (const [cx, cy] of cellsOf(kernels, grown, grownCount))
              taken.add((place.y + y + cy) * COLUMNS + place.x + x + cx);
          });
          const within = { x0, y0, x1: x0 + w, y1: y0 + h };
          const slow = slowly(kernels, shapes[1]!, taken, within);
          expect(grid.put(shapes[1]!, ROWS, within)).toEqual(slow);
        },
      ),
      { numRuns: 25 },
    );
  });

  it("keeps no more than the longest run needs once it is cleared, and puts shapes where they went before", () => {
    const kernels = new Kernels(simd);
    const shapes = [box(30, 9), box(7, 22), box(25, 25)].map((item) =>
      gridShapes(kernels, waysOf(item, { turns: "quarters" }), 1, 1),
    );
    const grid = new BitGrid(kernels, COLUMNS, ROWS, tall);
    const put = () => shapes.map((turns) => grid.put(turns, ROWS));
    const first = put();
    const again = [longestRun(shapes), COLUMNS, longestRun(shapes)].map((longest) => {
      grid.clear(longest);
      return put();
    });
    expect(longestRun(shapes)).toBe(Math.max(...shapes.flat().map(({ w }) => w)));
    expect(again).toEqual([first, first, first]);
  });

  it("puts shapes near where they are wanted, at the nearest place that looking at every cell finds", () => {
    const size = fc.double({ min: 4, max: 40, noNaN: true });
    const where = fc.tuple(fc.integer({ min: -20, max: COLUMNS + 20 }), fc.integer({ min: -20, max: ROWS + 20 }));
    fc.assert(
      fc.property(fc.array(fc.tuple(size, size, where), { minLength: 1, maxLength: 9 }), (list) => {
        const kernels = new Kernels(simd);
        const grid = new BitGrid(kernels, COLUMNS, ROWS, tall);
        const taken = new Set<number>();
        for (const [a, b, [x, y]] of list) {
          const item = ell(Math.max(a, b), Math.min(a, b) / 2);
          const [shape] = gridShapes(kernels, waysOf(item, { turns: "none" }), 1, 1);
          const put = grid.putNear([shape!], [[x, y]]);
          expect(put && Math.hypot(put.x - x, put.y - y)).toEqual(nearestSlowly(kernels, shape!, taken, x, y));
          if (!put) continue;
          for (const [cx, cy] of cellsOf(kernels, shape!.body, shape!.bodyCount))
            expect(taken.has((put.y + cy) * COLUMNS + put.x + cx)).toBe(false);
          for (const [cx, cy] of cellsOf(kernels, shape!.grown, shape!.grownCount)) {
            const [gx, gy] = [put.x + shape!.x + cx, put.y + shape!.y + cy];
            if (gx >= 0 && gx < COLUMNS && gy >= 0 && gy < ROWS) taken.add(gy * COLUMNS + gx);
          }
        }
      }),
      { numRuns: 15 },
    );
  });
});

it("finds the same places by contact, whether rows are told together or not", () => {
  const size = fc.double({ min: 3, max: 40, noNaN: true });
  const some = fc.array(fc.tuple(size, size), { minLength: 2, maxLength: 12 });
  fc.assert(
    fc.property(some, (list) => {
      const [plain, together] = [false, true].map((tall) => {
        const kernels = new Kernels(true);
        const grid = new BitGrid(kernels, COLUMNS, ROWS, tall);
        return list.map(([a, b]) => {
          const item = ell(Math.max(a, b), Math.min(a, b) / 2);
          const turns = gridShapes(kernels, waysOf(item, { turns: "quarters" }), 1, 1, { close: true });
          return grid.putClose(turns, ROWS, 1.5);
        });
      });
      expect(together).toEqual(plain);
      expect(plain![0]).toMatchObject({ y: 0 });
    }),
    { numRuns: 25 },
  );
});

it("goes back to its last mark, whatever was taken and freed since", () => {
  const kernels = new Kernels(true);
  const some = [box(30, 9), box(7, 22), box(25, 25), ell(40, 12)];
  const shapes = some.map((item) => gridShapes(kernels, waysOf(item, { turns: "quarters" }), 1, 1));
  const grid = new BitGrid(kernels, COLUMNS, ROWS);
  const first = grid.put(shapes[0]!, ROWS)!;
  grid.mark();
  const after = () => {
    grid.free(shapes[0]![first.turn]!, first);
    return [3, 1, 2, 0].map((i) => grid.put(shapes[i]!, ROWS));
  };
  const once = after();
  grid.goBack();
  expect(after()).toEqual(once);
  grid.goBack();
  const second = grid.put(shapes[1]!, ROWS)!;
  grid.mark();
  grid.free(shapes[1]![second.turn]!, second);
  grid.goBack();
  expect(grid.put(shapes[1]!, ROWS)).not.toEqual(second);
});

/** How far the nearest free place is, by looking at every cell of every place; null for none. */
function nearestSlowly(kernels: Kernels, shape: GridShape, taken: ReadonlySet<number>, x: number, y: number) {
  const cells = cellsOf(kernels, shape.body, shape.bodyCount);
  let best: number | null = null;
  for (let row = 0; row + shape.h <= ROWS; row++)
    for (let column = 0; column + shape.w <= COLUMNS; column++) {
      const far = Math.hypot(column - x, row - y);
      if (best !== null && far >= best) continue;
      if (!cells.some(([cx, cy]) => taken.has((row + cy) * COLUMNS + column + cx))) best = far;
    }
  return best;
}

/** The lowest, then leftmost place, by looking at every cell of every place. */
function slowly(kernels: Kernels, turns: readonly GridShape[], taken: ReadonlySet<number>, within?: GridBox) {
  const { x0, y0, x1, y1 } = within ?? { x0: 0, y0: 0, x1: COLUMNS, y1: ROWS };
  let best: { turn: number; x: number; y: number; end: number } | null = null;
  turns.forEach((shape, turn) => {
    const cells = cellsOf(kernels, shape.body, shape.bodyCount);
    for (let y = 0; y + shape.h <= ROWS; y++)
      for (let x = 0; x + shape.w <= COLUMNS; x++) {
        const end = y + shape.h;
        if (x >= x1 || y >= y1 || x + shape.w <= x0 || end <= y0) continue;
        if (best && (end > best.end || (end === best.end && x >= best.x))) continue;
        if (cells.some(([cx, cy]) => taken.has((y + cy) * COLUMNS + x + cx))) continue;
        best = { turn, x, y, end };
      }
  });
  return best as { turn: number; x: number; y: number; end: number } | null;
}
