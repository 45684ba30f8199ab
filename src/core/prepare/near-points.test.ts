import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { leastDistance, nearPairs } from "./near-points";

/** Points on a small grid, so that many lie on one another and many exactly a step apart. */
const points = (scale: number) =>
  fc
    .array(
      fc.tuple(fc.integer({ min: -3, max: 3 }), fc.integer({ min: -3, max: 3 }), fc.integer({ min: -3, max: 3 })),
      {
        maxLength: 60,
      },
    )
    .map((list) => Float64Array.from(list.flat(), (x) => x * scale));

const distance = (p: Float64Array, a: number, b: number): number =>
  Math.sqrt((p[3 * a]! - p[3 * b]!) ** 2 + (p[3 * a + 1]! - p[3 * b + 1]!) ** 2 + (p[3 * a + 2]! - p[3 * b + 2]!) ** 2);

/** All pairs, each looked at. */
function allPairs(p: Float64Array, accept: (d: number, a: number, b: number) => boolean): Map<string, number> {
  const out = new Map<string, number>();
  for (let b = 0; b < p.length / 3; b++)
    for (let a = 0; a < b; a++) {
      const d = distance(p, a, b);
      if (accept(d, a, b)) out.set(`${a} ${b}`, d);
    }
  return out;
}

const found = ({ pairs, distances }: { pairs: number[]; distances: number[] }): Map<string, number> =>
  new Map(distances.map((d, k) => [`${pairs[2 * k]} ${pairs[2 * k + 1]}`, d]));

const sorted = (m: Map<string, number>) => [...m].sort(([a], [b]) => (a < b ? -1 : 1));

describe("points near each other", () => {
  it("are those that looking at every pair finds, each pair once", () => {
    fc.assert(
      fc.property(fc.constantFrom(1, 0.25, 1024, 2 ** -40), fc.constantFrom(0, 1, 1.5, 3), (scale, steps) => {
        fc.assert(
          fc.property(points(scale), (p) => {
            const got = nearPairs(p, steps * scale);
            expect(got.pairs).toHaveLength(2 * got.distances.length);
            expect(sorted(found(got))).toEqual(sorted(allPairs(p, (d) => d <= steps * scale)));
            expect(found(got).size).toBe(got.distances.length);
          }),
          { numRuns: 20 },
        );
      }),
      { numRuns: 16 },
    );
  });

  it("are found far from the origin, where the cells are as small as numbers go", () => {
    const p = Float64Array.of(1e12, 0, 0, 1e12, 0, 0, 1e12 + 1, 0, 0, -1e12, 5, 5);
    expect(nearPairs(p, 0).pairs).toEqual([0, 1]);
    expect(nearPairs(p, 1).distances.sort()).toEqual([0, 1, 1]);
  });

  it("count only where asked for, and end after the most that is wanted", () => {
    const p = new Float64Array(30);
    expect(nearPairs(p, 1, (a) => a === 4).pairs.filter((_, i) => i % 2 === 0)).toEqual([4, 4, 4, 4, 4]);
    expect(nearPairs(p, 1, undefined, 7).distances).toHaveLength(7);
  });
});

describe("the least distance beyond another", () => {
  it("is that which looking at every pair finds, wherever the search begins", () => {
    fc.assert(
      fc.property(points(1), fc.constantFrom(0, 1, 2), fc.constantFrom(0, 0.3, 5), (p, beyond, start) => {
        const related = (a: number, b: number) => (a + b) % 3 === 0;
        const all = allPairs(p, (d, a, b) => d > beyond && !related(a, b));
        const least = Math.min(Infinity, ...all.values());
        expect(leastDistance(p, beyond, related, 12, start)).toBe(least);
      }),
    );
  });
});
