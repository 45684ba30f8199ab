import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { factorFront, subtractProducts } from "./dense-kernels";

/** The lower half of B Bᵀ + m I, row-major: symmetric and positive whatever B is. */
function positive(m: number, values: readonly number[]): Float64Array {
  const a = new Float64Array(m * m);
  for (let i = 0; i < m; i++)
    for (let j = 0; j <= i; j++) {
      for (let k = 0; k < m; k++)
        a[i * m + j]! += values[(i * m + k) % values.length]! * values[(j * m + k) % values.length]!;
      if (i === j) a[i * m + j]! += m;
    }
  return a;
}

const matrices = fc
  .tuple(
    fc.integer({ min: 1, max: 30 }),
    fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: 7, maxLength: 41 }),
  )
  .chain(([m, values]) => fc.tuple(fc.constant(m), fc.integer({ min: 0, max: m }), fc.constant(values)));

describe("a front", () => {
  it("is factored so that factor times factor, with the rest, is what it was", () => {
    fc.assert(
      fc.property(matrices, ([m, pivots, values]) => {
        const was = positive(m, values);
        const a = was.slice();
        expect(factorFront(a, m, pivots)).toBe(true);
        for (let i = 0; i < m; i++)
          for (let j = 0; j <= i; j++) {
            // The rest holds what the factored columns do not explain.
            let sum = j < pivots ? 0 : a[i * m + j]!;
            for (let k = 0; k <= Math.min(j, pivots - 1); k++) sum += a[i * m + k]! * a[j * m + k]!;
            expect(Math.abs(sum - was[i * m + j]!)).toBeLessThan(1e-10 * (1 + Math.abs(was[i * m + i]!)));
          }
      }),
    );
  });

  it("is refused where a pivot is zero, negative or no number", () => {
    for (const bad of [0, -1, Number.NaN]) expect(factorFront(Float64Array.of(4, 0, 2, bad + 1), 2, 2)).toBe(bad > 0);
    // Beyond the pivots anything may stand.
    expect(factorFront(Float64Array.of(4, 0, 2, -5), 2, 1)).toBe(true);
  });
});

describe("products of rows", () => {
  it("are taken off the asked block below the diagonal, and off nothing left of it or above", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 14 }),
        fc.array(fc.integer({ min: -9, max: 9 }), { minLength: 5, maxLength: 23 }),
        fc.tuple(fc.nat(100), fc.nat(100), fc.nat(100)),
        (m, values, [x, y, z]) => {
          const [k1, c1] = [x % m, 1 + (y % m)];
          const c0 = Math.max(k1, z % c1);
          if (c0 >= c1) return;
          const a = Float64Array.from({ length: m * m }, (_, i) => values[i % values.length]!);
          const was = a.slice();
          subtractProducts(a, m, c0, m, c0, c1, 0, k1);
          for (let i = 0; i < m; i++)
            for (let j = 0; j < m; j++) {
              const asked = i >= c0 && j >= c0 && j < c1 && j <= i;
              let sum = was[i * m + j]!;
              for (let k = 0; asked && k < k1; k++) sum -= was[i * m + k]! * was[j * m + k]!;
              // The cell right above the diagonal may be written to: nobody reads it.
              if (asked || j < c0 || i < c0) expect(a[i * m + j]).toBe(sum);
            }
        },
      ),
    );
  });
});
