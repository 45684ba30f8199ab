import fc from "fast-check";
import { expect, it } from "vitest";
import { CellTable } from "./cell-table";

it("tells every segment once whose box lies within reach of another's, and no other", () => {
  const place = fc.double({ min: -3, max: 3, noNaN: true });
  const side = fc.double({ min: 0.05, max: 2, noNaN: true });
  fc.assert(
    fc.property(fc.array(place, { minLength: 8, maxLength: 80 }), side, side, (numbers, cell, reach) => {
      const ends = Float64Array.from(numbers.slice(0, numbers.length - (numbers.length % 4)));
      const table = new CellTable(ends, cell);
      const [low, high] = [Math.min, Math.max].map(
        (pick) => (i: number, k: number) => pick(ends[4 * i + k]!, ends[4 * i + k + 2]!),
      );
      const near = (i: number, j: number) =>
        [0, 1].every((k) => low!(i, k) - reach <= high!(j, k) && low!(j, k) <= high!(i, k) + reach);
      const all = Array.from({ length: ends.length / 4 }, (_, i) => i);
      for (const i of all) {
        const told: number[] = [];
        table.eachNear(4 * i, reach, (j) => told.push(j));
        expect(told.sort((a, b) => a - b)).toEqual(all.filter((j) => near(i, j)));
      }
    }),
  );
});
