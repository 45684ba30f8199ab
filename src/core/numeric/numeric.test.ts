import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { graphOf, Heap, shortestPaths } from "./heap";
import { endDistance, pointToSegment, SegmentGrid, segmentDistance, segmentsCross, turn } from "./segments";
import { TriangleTree } from "./triangle-tree";
import { rootOf, unite } from "./union-find";

const unit = fc.double({ min: 0, max: 1, noNaN: true });

describe("the heap", () => {
  it("hands out the least key each time", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.double({ noNaN: true }).map((x) => x + 0),
          { maxLength: 60 },
        ),
        (keys) => {
          const heap = new Heap();
          keys.forEach((k, i) => {
            heap.push(k, i);
          });
          const out: number[] = [];
          while (heap.size) {
            const item = heap.pop();
            expect(keys[item]).toBe(heap.key);
            out.push(heap.key);
          }
          expect(out).toEqual([...keys].sort((a, b) => a - b));
        },
      ),
    );
  });
});

describe("shortest ways", () => {
  const graph = fc.record({
    n: fc.integer({ min: 1, max: 12 }),
    links: fc.array(fc.tuple(fc.nat(11), fc.nat(11), fc.double({ min: 0.01, max: 9, noNaN: true })), { maxLength: 30 }),
  });
  it("are as short as trying all of them tells, and lead back to their sources", () => {
    fc.assert(
      fc.property(graph, fc.nat(11), ({ n, links }, from) => {
        const list = links.map(([a, b, w]) => [a % n, b % n, w] as const).filter(([a, b]) => a !== b);
        const length = Float64Array.from(list, (l) => l[2]);
        const g = graphOf(
          n,
          Uint32Array.from(list, (l) => l[0]),
          Uint32Array.from(list, (l) => l[1]),
        );
        const { distance, before, via } = shortestPaths(g, length, [from % n]);
        // Bellman and Ford: n rounds over all links.
        const plain = new Float64Array(n).fill(Infinity);
        plain[from % n] = 0;
        for (let round = 0; round < n; round++)
          for (const [a, b, w] of list) {
            plain[b] = Math.min(plain[b]!, plain[a]! + w);
            plain[a] = Math.min(plain[a]!, plain[b]! + w);
          }
        for (let v = 0; v < n; v++) {
          if (plain[v] === Infinity) expect(distance[v]).toBe(Infinity);
          else expect(distance[v]).toBeCloseTo(plain[v]!, 9);
          if (before[v]! >= 0) expect(distance[v]).toBeCloseTo(distance[before[v]!]! + length[via[v]!]!, 9);
        }
      }),
    );
  });
});

describe("sets that are united", () => {
  it("have the same root where a chain of unions leads, and the least member is it", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(19), fc.nat(19)), { maxLength: 30 }), (pairs) => {
        const parent = Uint32Array.from({ length: 20 }, (_, i) => i);
        const group = Array.from({ length: 20 }, (_, i) => new Set([i]));
        for (const [a, b] of pairs) {
          unite(parent, a, b);
          const joined = new Set([...group[a]!, ...group[b]!]);
          for (const x of joined) group[x] = joined;
        }
        for (let i = 0; i < 20; i++) expect(rootOf(parent, i)).toBe(Math.min(...group[i]!));
      }),
    );
  });
});

describe("segments", () => {
  const segment = fc.tuple(unit, unit, unit, unit);
  const sampled = (s: readonly number[], t: readonly number[]) => {
    let least = Infinity;
    for (let i = 0; i <= 60; i++)
      for (let j = 0; j <= 60; j++) {
        const at = (q: readonly number[], k: number) => [
          q[0]! + ((q[2]! - q[0]!) * k) / 60,
          q[1]! + ((q[3]! - q[1]!) * k) / 60,
        ];
        const [p, q] = [at(s, i), at(t, j)];
        least = Math.min(least, Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!));
      }
    return least;
  };

  it("are as far apart as points along them tell, and as near one way as the other", () => {
    fc.assert(
      fc.property(segment, segment, (a, b) => {
        const list = Float64Array.from([...a, ...b]);
        const d = segmentDistance(list, 0, 1);
        expect(d).toBe(segmentDistance(list, 1, 0));
        const near = sampled(a, b);
        expect(d).toBeLessThanOrEqual(near + 1e-12);
        expect(near - d).toBeLessThan(0.03);
        if (segmentsCross(list, 0, 1)) expect(d).toBe(0);
        else expect(d).toBe(endDistance(list, 0, list, 1));
      }),
      { numRuns: 60 },
    );
  });

  it("measure points from the nearer end where they lie beyond, and turns by their side", () => {
    expect(pointToSegment(0, 1, 0, 0, 2, 0)).toBe(1);
    expect(pointToSegment(-3, 4, 0, 0, 2, 0)).toBe(5);
    expect(pointToSegment(5, 4, 2, 0, 2, 0)).toBe(5);
    expect(Math.sign(turn(0, 0, 1, 0, 0, 1))).toBe(1);
    expect(Math.sign(turn(0, 0, 1, 0, 0, -1))).toBe(-1);
  });

  it("that lie within the margin of one another share a cell of the grid", () => {
    fc.assert(
      fc.property(fc.array(segment, { minLength: 2, maxLength: 30 }), (list) => {
        const s = Float64Array.from(list.flat());
        const met = new Set<string>();
        new SegmentGrid(s, 0.13, 0.02).someCell((items) => {
          for (const i of items) for (const j of items) met.add(`${i} ${j}`);
          return false;
        });
        for (let i = 0; i < list.length; i++)
          for (let j = i + 1; j < list.length; j++)
            if (segmentDistance(s, i, j) <= 0.02) expect(met.has(`${i} ${j}`)).toBe(true);
        // And the search ends where it is told to.
        let cells = 0;
        new SegmentGrid(s, 5, 0.02).someCell(() => ++cells > 0);
        expect(cells).toBeLessThanOrEqual(1);
      }),
    );
  });
});

describe("the tree of triangles", () => {
  it("finds the nearest point as looking at every triangle would", () => {
    const point = fc.tuple(unit, unit, unit);
    fc.assert(
      fc.property(fc.array(point, { minLength: 9, maxLength: 40 }), point, (points, p) => {
        const positions = Float64Array.from(points.flat());
        const triangles = Uint32Array.from({ length: 3 * (points.length - 2) }, (_, i) => Math.floor(i / 3) + (i % 3));
        const found = new TriangleTree(positions, triangles).nearest(p[0], p[1], p[2])!;
        const alone = Array.from(
          { length: triangles.length / 3 },
          (_, t) =>
            new TriangleTree(positions, triangles.subarray(3 * t, 3 * t + 3)).nearest(p[0], p[1], p[2])!.distance,
        );
        expect(found.distance).toBeCloseTo(Math.min(...alone), 9);
        expect(found.a + found.b + found.c).toBeCloseTo(1, 9);
        for (const w of [found.a, found.b, found.c]) expect(w).toBeGreaterThanOrEqual(-1e-12);
      }),
    );
  });
});
