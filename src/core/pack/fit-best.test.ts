import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../testing/packing";
import { withKernels } from "../kernels/kernels";
import type { Turns } from "../layout/pack-wishes";
import { fitBest, type LaidInOrder } from "./fit-best";
import type { Item } from "./raster";
import { type Laying, sheetOf } from "./sheet";
import { waysOf } from "./ways";

const page = { u0: 0, v0: 0, w: 1, h: 1, texels: 1024 };

/** Does something with shells as cells, at the sizes they have. */
const laid = <T>(items: readonly Item[], act: (laying: Laying) => T, turns: Turns = "quarters"): T =>
  withKernels((kernels) => {
    const ways = items.map((item) => waysOf(item, { turns }));
    const options = { page, unit: 1, padding: 0, ways };
    return sheetOf(kernels, items, options, { cells: 128, close: true, rough: 0 }, () => {}).at(1, act);
  });
const choose = (laying: Laying, among: number): LaidInOrder =>
  fitBest(
    laying,
    laying.shapes.map((_, i) => i),
    { among, worth: 2, largeFirst: 2.5 },
    () => {},
  )!;

const side = fc.double({ min: 0.05, max: 0.3, noNaN: true });
const boxes = fc
  .array(fc.tuple(side, side), { minLength: 2, maxLength: 14 })
  .map((list) => list.map(([w, h]) => box(w, h)).sort((a, b) => area(b) - area(a)));
const area = ({ outline }: Item): number => outline[2]! * outline[7]!;

describe("shells of which the one that fits best is put first", () => {
  it("lie on the page without sharing a cell, each once, and end where they are said to", () => {
    fc.assert(
      fc.property(boxes, fc.integer({ min: 1, max: 8 }), (items, among) => {
        laid(items, (laying) => {
          const { order, places, height } = choose(laying, among);
          expect([...order].sort((a, b) => a - b)).toEqual(items.map((_, i) => i));
          const ends = places.map(({ turn, y }, i) => y + laying.shapes[i]![turn]!.h);
          expect(height).toBe(Math.max(...ends));
          // Where there is nothing about them, boxes are boxes of cells.
          places.forEach((a, i) => {
            const p = laying.shapes[i]![a.turn]!;
            expect(a.x + p.w).toBeLessThanOrEqual(laying.columns);
            for (const [j, b] of places.entries()) {
              if (j <= i) continue;
              const q = laying.shapes[j]![b.turn]!;
              const apart = a.x + p.w <= b.x || b.x + q.w <= a.x || a.y + p.h <= b.y || b.y + q.h <= a.y;
              expect(apart).toBe(true);
            }
          });
        });
      }),
      { numRuns: 40 },
    );
  });

  it("are put in their order where there is none to choose from", () => {
    fc.assert(
      fc.property(boxes, (items) => {
        laid(items, (laying) => {
          const { order, places } = choose(laying, 1);
          expect(order).toEqual(items.map((_, i) => i));
          const { grid, shapes, longest } = laying;
          grid.clear(longest);
          for (const i of order) {
            const { turn, x, y } = grid.putClose(shapes[i]!, grid.rows, 2)!;
            expect(places[i]).toEqual({ turn, x, y });
          }
        });
      }),
      { numRuns: 25 },
    );
  });

  it("fill a gap that one of them just goes into with that one, though another comes before it", () => {
    const cells = (w: number, h: number) => box((w - 0.5) / 128, (h - 0.5) / 128);
    const items = [cells(88, 40), cells(30, 40), cells(40, 38)];
    expect(laid(items, (laying) => choose(laying, 1), "none").order).toEqual([0, 1, 2]);
    const { order, places } = laid(items, (laying) => choose(laying, 2), "none");
    expect(order).toEqual([0, 2, 1]);
    expect(places[2]).toMatchObject({ x: 88, y: 0 });
  });
});
