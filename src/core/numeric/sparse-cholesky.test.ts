import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dissect, type Pattern } from "./nested-dissection";
import { SparseCholesky } from "./sparse-cholesky";

/** The five-point grid graph of w x h unknowns, diagonal first in every row. */
function gridPattern(w: number, h: number): { pattern: Pattern; coords: Float64Array } {
  const start = [0];
  const index: number[] = [];
  const coords = new Float64Array(2 * w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      coords.set([x, y], 2 * (y * w + x));
      index.push(y * w + x);
      if (x > 0) index.push(y * w + x - 1);
      if (x + 1 < w) index.push(y * w + x + 1);
      if (y > 0) index.push((y - 1) * w + x);
      if (y + 1 < h) index.push((y + 1) * w + x);
      start.push(index.length);
    }
  }
  return { pattern: { n: w * h, start: Uint32Array.from(start), index: Uint32Array.from(index) }, coords };
}

/** Random symmetric numbers with a dominant diagonal. */
function randomValues(pattern: Pattern, random: () => number): Float64Array {
  const values = new Float64Array(pattern.index.length);
  const known = new Map<string, number>();
  for (let i = 0; i < pattern.n; i++)
    for (let e = pattern.start[i]!; e < pattern.start[i + 1]!; e++) {
      const j = pattern.index[e]!;
      const x = i === j ? 9 : (known.get(`${j},${i}`) ?? random() - 0.5);
      known.set(`${i},${j}`, x);
      values[e] = x;
    }
  return values;
}

function multiply(pattern: Pattern, values: Float64Array, x: Float64Array): Float64Array {
  const y = new Float64Array(x.length);
  for (let i = 0; i < pattern.n; i++)
    for (let e = pattern.start[i]!; e < pattern.start[i + 1]!; e++) y[i]! += values[e]! * x[pattern.index[e]!]!;
  return y;
}

describe("nested dissection", () => {
  it("orders every unknown once, children before parents", () => {
    const { pattern, coords } = gridPattern(23, 17);
    const { order, position, nodeParent, nodeStart } = dissect(pattern, coords, 2);
    expect(Array.from(order).sort((a, b) => a - b)).toEqual(Array.from({ length: 23 * 17 }, (_, i) => i));
    expect(position[order[5]!]).toBe(5);
    expect(nodeParent.every((p, i) => p === -1 || p > i)).toBe(true);
    expect(nodeStart[nodeStart.length - 1]).toBe(23 * 17);
  });

  it("keeps the fill of a 100 x 100 grid below half of that in rows order", () => {
    const { pattern, coords } = gridPattern(100, 100);
    expect(new SparseCholesky(pattern, coords, 2).fill).toBeLessThan(100 ** 3 / 2);
  });
});

describe("sparse Cholesky", () => {
  it("solves what it is given, one right side or two at once", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 1, max: 20 }),
        fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })),
        (w, h, stream) => {
          const random = () => stream.next().value as number;
          const { pattern, coords } = gridPattern(w, h);
          const values = randomValues(pattern, random);
          const [x, y] = [0, 1].map(() => Float64Array.from({ length: w * h }, () => random() - 0.5)) as [
            Float64Array,
            Float64Array,
          ];
          const [bx, by] = [multiply(pattern, values, x), multiply(pattern, values, y)];
          const solver = new SparseCholesky(pattern, coords, 2);
          expect(solver.factor(values)).toBe(true);
          const pair = Float64Array.from({ length: 2 * w * h }, (_, i) => (i % 2 ? by : bx)[i >> 1]!);
          solver.solvePair(pair);
          solver.solve(bx);
          for (let i = 0; i < x.length; i++) {
            expect(bx[i]).toBeCloseTo(x[i]!, 9);
            expect(pair[2 * i]).toBeCloseTo(x[i]!, 9);
            expect(pair[2 * i + 1]).toBeCloseTo(y[i]!, 9);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it("says so when a matrix is not positive definite, and can be used again", () => {
    const { pattern, coords } = gridPattern(2, 1);
    const solver = new SparseCholesky(pattern, coords, 2);
    expect(solver.factor(Float64Array.from([1, 2, 1, 2]))).toBe(false);
    expect(solver.factor(Float64Array.from([2, 1, 2, 1]))).toBe(true);
    const b = Float64Array.from([3, 3]);
    solver.solve(b);
    expect(Array.from(b)).toEqual([expect.closeTo(1), expect.closeTo(1)]);
  });
});
