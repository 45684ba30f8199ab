import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { weightedPercentile } from "./percentile";

const lists = (values: readonly number[], weights: readonly number[]) => ({
  values: Float32Array.from(values),
  weights: Float32Array.from(weights),
});

describe("the weighted percentile", () => {
  it("is what sorting finds, over several lists, whatever the signs", () => {
    const value = fc.float({ min: Math.fround(0.001), max: Math.fround(1e6), noNaN: true });
    const item = fc.tuple(value, fc.integer({ min: 1, max: 9 }), fc.boolean());
    fc.assert(
      fc.property(
        fc.array(item, { minLength: 1 }),
        fc.array(item),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        (a, b, share) => {
          const of = (list: typeof a) =>
            lists(
              list.map(([x, , minus]) => (minus ? -x : x)),
              list.map(([, w]) => w),
            );
          const sorted = [...a, ...b].sort((p, q) => p[0] - q[0]);
          let left = share * sorted.reduce((sum, [, w]) => sum + w, 0);
          const wanted = sorted.find(([, w]) => {
            left -= w;
            return left <= 1e-9;
          });
          const exact = Math.fround(wanted![0]);
          for (const guess of [0, exact, exact * 1.001, exact * 0.999, exact * 2])
            expect(weightedPercentile([of(a), of(b)], share - 1e-12, guess)).toBe(exact);
        },
      ),
    );
  });

  it("leaves zeros out, and is 0 of nothing", () => {
    expect(weightedPercentile([lists([0, 0, 3, 4], [100, 100, 1, 1])], 0.5)).toBe(3);
    expect(weightedPercentile([lists([0], [1])], 0.5)).toBe(0);
    expect(weightedPercentile([], 0.5)).toBe(0);
  });
});
