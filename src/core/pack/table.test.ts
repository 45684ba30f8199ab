import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { halfTurn, halfTurnRuns, quarterTurn, runsOf } from "./raster";
import { boxOf, Table } from "./table";

const SIZE = 24;

/** A mask of some width and height with cells set by chance, one at least. */
const mask = fc
  .tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 9 }))
  .chain(([w, h]) =>
    fc
      .array(fc.boolean(), { minLength: w * h, maxLength: w * h })
      .map((cells) => ({ w, h, cells: Uint8Array.from(cells, Number).fill(1, 0, 1) })),
  );

/** The same told cell by cell. */
class Plain {
  readonly taken = new Set<number>();
  take(cells: Uint8Array, w: number, h: number, x: number, y: number): void {
    for (let r = 0; r < h; r++)
      for (let c = 0; c < w; c++) {
        const [px, py] = [x + c, y + r];
        if (cells[r * w + c] && px >= 0 && px < SIZE && py >= 0 && py < SIZE) this.taken.add(py * SIZE + px);
      }
  }
  lowestPlace(cells: Uint8Array, w: number, h: number): { x: number; y: number } | null {
    const fits = (x: number, y: number) => {
      for (let r = 0; r < h; r++)
        for (let c = 0; c < w; c++) {
          if (!cells[r * w + c]) continue;
          const [px, py] = [x + c, y + r];
          if (px < 0 || px >= SIZE || py < 0 || py >= SIZE || this.taken.has(py * SIZE + px)) return false;
        }
      return true;
    };
    for (let y = -h; y < SIZE; y++) for (let x = -w; x < SIZE; x++) if (fits(x, y)) return { x, y };
    return null;
  }
}

describe("the table of free cells", () => {
  it("finds the lowest, then leftmost place, whatever was taken before", () => {
    const put = fc.tuple(mask, fc.integer({ min: -6, max: SIZE }), fc.integer({ min: -6, max: SIZE }));
    fc.assert(
      fc.property(fc.array(put, { maxLength: 14 }), mask, (list, wanted) => {
        const [table, plain] = [new Table(SIZE), new Plain()];
        for (const [m, x, y] of list) {
          table.take(m.cells, m.w, m.h, x, y);
          plain.take(m.cells, m.w, m.h, x, y);
        }
        const runs = runsOf(wanted.cells, wanted.w, wanted.h);
        const expected = plain.lowestPlace(wanted.cells, wanted.w, wanted.h);
        expect(table.lowestPlace(runs, boxOf(runs), SIZE)).toEqual(expected);
        // A copy knows the same, and what it takes is not taken here.
        const copy = new Table(SIZE, table);
        copy.take(new Uint8Array(SIZE * SIZE).fill(1), SIZE, SIZE, 0, 0);
        expect(copy.lowestPlace(runs, boxOf(runs), SIZE)).toBeNull();
        expect(table.lowestPlace(runs, boxOf(runs), SIZE)).toEqual(expected);
      }),
      { numRuns: 400 },
    );
  });
});

describe("turning a mask", () => {
  it("by a half is turning it by a quarter twice, for its cells and for its runs", () => {
    fc.assert(
      fc.property(mask, ({ cells, w, h }) => {
        const twice = quarterTurn(quarterTurn(cells, w, h), h, w);
        expect(halfTurn(cells)).toEqual(twice);
        const sorted = (runs: Int32Array) =>
          Array.from({ length: runs.length / 3 }, (_, k) => [...runs.subarray(3 * k, 3 * k + 3)].join()).sort();
        expect(sorted(halfTurnRuns(runsOf(cells, w, h), w, h))).toEqual(sorted(runsOf(twice, w, h)));
        expect(quarterTurn(twice, w, h)).toEqual(halfTurn(quarterTurn(cells, w, h)));
      }),
    );
  });
});
