import fc from "fast-check";
import { expect, it } from "vitest";
import { halfTurnRuns, longestFirst, quarterTurnRuns, runsOf } from "./runs";

/** Cells of a frame turned by a quarter, one by one. */
function turned(cells: Uint8Array, w: number, h: number): Uint8Array {
  const out = new Uint8Array(cells.length);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) out[x * h + h - 1 - y] = cells[y * w + x]!;
  return out;
}

const side = fc.integer({ min: 1, max: 12 });
const frames = fc.tuple(side, side).chain(([w, h]) =>
  fc.record({
    w: fc.constant(w),
    h: fc.constant(h),
    cells: fc.uint8Array({ min: 0, max: 1, minLength: w * h, maxLength: w * h }),
  }),
);

it("lists runs row by row, and the longest first", () => {
  const runs = runsOf(Uint8Array.from([1, 0, 1, 1, 1, 1]), 3, 2);
  expect(Array.from(runs)).toEqual([0, 0, 1, 0, 2, 3, 1, 0, 3]);
  expect(Array.from(longestFirst(runs, 3))).toEqual([1, 0, 3, 0, 0, 1, 0, 2, 3]);
});

it("turns runs as turning every cell would", () => {
  fc.assert(
    fc.property(frames, ({ w, h, cells }) => {
      const runs = runsOf(cells, w, h);
      const quarter = turned(cells, w, h);
      expect(quarterTurnRuns(runs, w, h)).toEqual(runsOf(quarter, h, w));
      const half = longestFirst(halfTurnRuns(runs, w, h), w);
      const wanted = longestFirst(runsOf(turned(quarter, h, w), w, h), w);
      expect(half.length).toBe(wanted.length);
      const listed = (r: Int32Array) =>
        Array.from({ length: r.length / 3 }, (_, k) => r.slice(3 * k, 3 * k + 3).join()).sort();
      expect(listed(half)).toEqual(listed(wanted));
    }),
  );
});
