import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { eliminationOrder, Factorisation, factorPlan, type Pattern } from "./factorisation";
import { hasSimd, Kernels } from "./kernels";

/** A matrix over a graph of random edges, positive by its diagonal: dense, row after row. */
function matrixOf(n: number, edges: ReadonlyArray<readonly [number, number, number]>): Float64Array {
  const a = new Float64Array(n * n);
  for (const [i, j, w] of edges) {
    if (i === j) continue;
    a[i * n + j]! -= w;
    a[j * n + i]! -= w;
    a[i * n + i]! += w;
    a[j * n + j]! += w;
  }
  for (let i = 0; i < n; i++) a[i * n + i]! += 0.5;
  return a;
}

/** Solves A x = b for pairs of right sides. */
function solved(
  kernels: Kernels,
  a: Float64Array,
  n: number,
  coordinates: Float64Array,
  b: Float64Array,
): Float64Array {
  return kernels.during(() => {
    const start = new Uint32Array(n + 1);
    const index: number[] = [];
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) if (i !== j && a[i * n + j]) index.push(j);
      start[i + 1] = index.length;
    }
    const tree = eliminationOrder(kernels, start, Uint32Array.from(index), coordinates);
    expect([...tree.order].sort((p, q) => p - q)).toEqual(Array.from({ length: n }, (_, i) => i));
    const rows: Pattern = lowerOf(a, n, tree.order);
    const f = new Factorisation(kernels, factorPlan(rows, tree));
    const values = kernels.f64(f.values, f.size);
    for (let p = 0; p < n; p++)
      for (let k = rows.start[p]!; k < rows.start[p + 1]!; k++)
        values[k] = a[tree.order[p]! * n + tree.order[rows.index[k]!]!]!;
    expect(f.factor()).toBe(true);
    const x = kernels.take(16 * n);
    for (let p = 0; p < n; p++)
      kernels.f64(x, 2 * n).set(b.subarray(2 * tree.order[p]!, 2 * tree.order[p]! + 2), 2 * p);
    f.solve(x);
    const out = new Float64Array(2 * n);
    for (let p = 0; p < n; p++) out.set(kernels.f64(x, 2 * n).subarray(2 * p, 2 * p + 2), 2 * tree.order[p]!);
    return out;
  });
}

function lowerOf(a: Float64Array, n: number, order: Uint32Array): Pattern {
  const start = new Uint32Array(n + 1);
  const index: number[] = [];
  for (let p = 0; p < n; p++) {
    index.push(p);
    for (let q = p + 1; q < n; q++) if (a[order[p]! * n + order[q]!]) index.push(q);
    start[p + 1] = index.length;
  }
  return { n, start, index: Uint32Array.from(index) };
}

const edgesOf = (n: number, most: number) =>
  fc.array(fc.tuple(fc.nat(n - 1), fc.nat(n - 1), fc.double({ min: 0.1, max: 3, noNaN: true })), { maxLength: most });

describe.each([
  ["with SIMD", true],
  ["without", false],
])("kernels %s", (_, simd) => {
  const kernels = new Kernels(simd);

  it("solve sparse systems exactly, whatever their graph", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 90 }).chain((n) => fc.tuple(fc.constant(n), edgesOf(n, 4 * n))),
        fc.integer(),
        ([n, edges], seed) => {
          const a = matrixOf(n, edges);
          const next = random(seed);
          const b = Float64Array.from({ length: 2 * n }, () => next() - 0.5);
          const places = Float64Array.from({ length: 3 * n }, next);
          const x = solved(kernels, a, n, places, b);
          for (let i = 0; i < n; i++)
            for (let d = 0; d < 2; d++) {
              let sum = 0;
              for (let j = 0; j < n; j++) sum += a[i * n + j]! * x[2 * j + d]!;
              expect(sum).toBeCloseTo(b[2 * i + d]!, 9);
            }
        },
      ),
      { numRuns: 40 },
    );
  });

  it("orders every unknown once, parts before what parts them, and couples no two parts", () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 24 }), fc.integer({ min: 2, max: 24 }), (w, h) => {
        const n = w * h;
        const rows = Array.from({ length: n }, (_, i) => {
          const [x, y] = [i % w, Math.floor(i / w)];
          const near = [i];
          if (x > 0) near.push(i - 1);
          if (x + 1 < w) near.push(i + 1);
          if (y > 0) near.push(i - w);
          if (y + 1 < h) near.push(i + w);
          return near.sort((a, b) => a - b);
        });
        const start = new Uint32Array(n + 1);
        for (let i = 0; i < n; i++) start[i + 1] = start[i]! + rows[i]!.length;
        const coords = Float64Array.from(
          { length: 3 * n },
          (_, k) => [Math.floor(k / 3) % w, Math.floor(k / 3 / w), 0][k % 3]!,
        );
        const d = eliminationOrder(kernels, start, Uint32Array.from(rows.flat()), coords);
        expect([...d.order].sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, i) => i));
        d.order.forEach((unknown, at) => {
          expect(d.position[unknown]).toBe(at);
        });
        const nodes = d.nodeParent.length;
        const nodeOf = new Int32Array(n);
        for (let k = 0; k < nodes; k++) {
          if (d.nodeParent[k]! >= 0) expect(d.nodeParent[k]!).toBeGreaterThan(k);
          for (let at = d.nodeStart[k]!; at < d.nodeStart[k + 1]!; at++) nodeOf[d.order[at]!] = k;
        }
        const above = (k: number) => {
          const out = new Set<number>();
          for (let up = k; up >= 0; up = d.nodeParent[up]!) out.add(up);
          return out;
        };
        // Two that are coupled lie in one node, or one in a node above the other's.
        for (let i = 0; i < n; i++)
          for (const j of rows[i]!)
            expect(above(nodeOf[i]!).has(nodeOf[j]!) || above(nodeOf[j]!).has(nodeOf[i]!)).toBe(true);
      }),
      { numRuns: 40 },
    );
  });

  it("factor what is large enough for every size of block", () => {
    // All points beside each other: one front of 300 columns.
    const n = 300;
    const edges = Array.from({ length: (n * (n - 1)) / 2 }, () => [0, 0, 0.01] as [number, number, number]);
    let k = 0;
    for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) edges[k++] = [i, j, 0.01 + ((i * j) % 7) / 100];
    const a = matrixOf(n, edges);
    const wanted = Float64Array.from({ length: 2 * n }, (_, i) => Math.sin(i));
    const b = new Float64Array(2 * n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) for (let d = 0; d < 2; d++) b[2 * i + d]! += a[i * n + j]! * wanted[2 * j + d]!;
    const x = solved(
      kernels,
      a,
      n,
      Float64Array.from({ length: 3 * n }, (_, i) => Math.cos(i * i)),
      b,
    );
    for (let i = 0; i < 2 * n; i++) expect(x[i]).toBeCloseTo(wanted[i]!, 9);
  });

  it("refuse a matrix that is not positive", () => {
    const tree = eliminationOrder(kernels, Uint32Array.of(0, 1, 2), Uint32Array.of(1, 0), new Float64Array(6));
    const pattern = { n: 2, start: Uint32Array.of(0, 2, 3), index: Uint32Array.of(0, 1, 1) };
    const f = new Factorisation(kernels, factorPlan(pattern, tree));
    kernels.f64(f.values, 3).set([1, 2, 1]);
    expect(f.factor()).toBe(false);
  });

  it("multiply and add long vectors", () => {
    const a = kernels.put(Float64Array.of(1, 2, 3, 4));
    const b = kernels.put(Float64Array.of(5, -6, 7, 8));
    expect(kernels.code.dot(4, a, b)).toBe(5 - 12 + 21 + 32);
    kernels.code.addScaled(4, b, a, b, -2);
    expect([...kernels.f64(b, 4)]).toEqual([-9, 14, -11, -12]);
  });
});

it("uses SIMD wherever it is known", () => {
  expect(hasSimd()).toBe(true);
});

it("gives back what was taken, and says when there is no room", () => {
  const kernels = new Kernels();
  const before = kernels.during(() => kernels.take(100));
  expect(kernels.take(8)).toBe(before);
  expect(() => kernels.take(2 ** 33)).toThrow("too large");
});

function random(seed: number): () => number {
  let state = seed >>> 0 || 1;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}
