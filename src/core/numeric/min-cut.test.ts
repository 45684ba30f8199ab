import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { graphOf } from "./heap";
import { minCut } from "./min-cut";

const capacityOf = (a: number[], b: number[], capacity: number[], near: ArrayLike<number>): number =>
  capacity.reduce((sum, c, l) => sum + (near[a[l]!] !== near[b[l]!] ? c : 0), 0);

describe("the least cut", () => {
  it("is no dearer than any other way of parting the nodes", () => {
    const n = 9;
    const link = fc.tuple(fc.nat(n - 1), fc.nat(n - 1), fc.integer({ min: 0, max: 9 }));
    fc.assert(
      fc.property(fc.array(link, { maxLength: 30 }), (links) => {
        const used = links.filter(([a, b]) => a !== b);
        const [a, b, c] = [used.map((l) => l[0]), used.map((l) => l[1]), used.map((l) => l[2])];
        const side = new Uint8Array(n);
        side.set([1, 2]);
        const near = minCut(graphOf(n, a, b), Float64Array.from(c), side);
        expect([near[0], near[1]]).toEqual([1, 0]);
        let least = Number.POSITIVE_INFINITY;
        for (let bits = 0; bits < 2 ** (n - 2); bits++)
          least = Math.min(
            least,
            capacityOf(
              a,
              b,
              c,
              Array.from({ length: n }, (_, i) => (i < 2 ? 1 - i : (bits >> (i - 2)) & 1)),
            ),
          );
        expect(capacityOf(a, b, c, near)).toBe(least);
      }),
      { numRuns: 300 },
    );
  });

  it("runs across a strip where it is cheapest", () => {
    const [w, h] = [60, 8];
    const a: number[] = [];
    const b: number[] = [];
    const c: number[] = [];
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        if (x + 1 < w) {
          a.push(y * w + x);
          b.push(y * w + x + 1);
          c.push(x === 37 + (y % 2) ? 0.5 : 2);
        }
        if (y + 1 < h) {
          a.push(y * w + x);
          b.push((y + 1) * w + x);
          c.push(0.01);
        }
      }
    const side = new Uint8Array(w * h);
    for (let y = 0; y < h; y++) side.set([1, 1], y * w);
    for (let y = 0; y < h; y++) side[y * w + w - 1] = 2;
    const near = minCut(graphOf(w * h, a, b), Float64Array.from(c), side);
    for (let y = 0; y < h; y++) {
      const row = near.subarray(y * w, y * w + w);
      expect(row.lastIndexOf(1)).toBe(37 + (y % 2));
    }
  });
});
