import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { symmetricEigen } from "./symmetric-eigen";

const entry = fc.double({ min: -10, max: 10, noNaN: true });
const times = (m: Float64Array, v: readonly number[]) =>
  [0, 1, 2].map((i) => m[3 * i]! * v[0]! + m[3 * i + 1]! * v[1]! + m[3 * i + 2]! * v[2]!);
const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, x, i) => sum + x * b[i]!, 0);

describe("eigenvectors of a symmetric matrix", () => {
  it("are turned nowhere by it, stand square to each other, and come with the largest value first", () => {
    fc.assert(
      fc.property(fc.tuple(entry, entry, entry, entry, entry, entry), ([a, b, c, d, e, f]) => {
        const m = Float64Array.of(a, b, c, b, d, e, c, e, f);
        const axes = symmetricEigen(m);
        const values = axes.map((v) => dot(v, times(m, v)));
        axes.forEach((v, k) => {
          expect(dot(v, v)).toBeCloseTo(1, 9);
          expect(dot(v, axes[(k + 1) % 3]!)).toBeCloseTo(0, 9);
          times(m, v).forEach((x, i) => {
            expect(Math.abs(x - values[k]! * v[i]!)).toBeLessThan(1e-8);
          });
        });
        expect(values[0]! + 1e-9).toBeGreaterThanOrEqual(values[1]!);
        expect(values[1]! + 1e-9).toBeGreaterThanOrEqual(values[2]!);
      }),
    );
  });

  it("are the axes themselves of one that has entries on its diagonal alone", () => {
    expect(symmetricEigen(Float64Array.of(1, 0, 0, 0, 3, 0, 0, 0, 2))).toEqual([
      [0, 1, 0],
      [0, 0, 1],
      [1, 0, 0],
    ]);
  });
});
