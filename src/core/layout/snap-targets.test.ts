import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { squares } from "../../testing/squares";
import { pointToSegment } from "../numeric/segments";
import { layoutOf } from "../operations/scope";
import { shapesOf } from "./asset";
import { type Attracting, GRID_STEP, SnapTargets } from "./snap-targets";

const asset = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.6, 0.1, 0.2, 0.2],
  [0.1, 0.6, 0.2, 0.2],
]);
const shape = shapesOf(asset)[0]!;
const layout = layoutOf(shape, asset.sets[0]!.id);
const all: Attracting = { shape, layout, moves: null };
const Place = fc.tuple(
  fc.double({ min: -0.2, max: 1.2, noNaN: true }),
  fc.double({ min: -0.2, max: 1.2, noNaN: true }),
);

/** Corners of the squares, and their sides. */
const corners = Array.from(
  { length: layout.uv.length / 2 },
  (_, w) => [layout.uv[2 * w]!, layout.uv[2 * w + 1]!] as const,
);
const sides = [0, 4, 8].flatMap((k) =>
  [0, 1, 2, 3].map((i) => [corners[k + i]!, corners[k + ((i + 1) % 4)]!] as const),
);

describe("places that points snap to", () => {
  it("are the nearest points, exactly, within the distance", () => {
    fc.assert(
      fc.property(Place, fc.double({ min: 0.001, max: 0.5, noNaN: true }), ([u, v], within) => {
        const found = new SnapTargets([all], "points", within).nearest(u, v);
        const least = Math.min(...corners.map(([a, b]) => Math.hypot(a - u, b - v)));
        if (least > within) expect(found).toBeNull();
        else {
          expect(Math.hypot(found![0] - u, found![1] - v)).toBe(least);
          expect(corners.some(([a, b]) => a === found![0] && b === found![1])).toBe(true);
        }
      }),
    );
  });

  it("are the nearest places on borders", () => {
    fc.assert(
      fc.property(Place, fc.double({ min: 0.001, max: 0.5, noNaN: true }), ([u, v], within) => {
        const found = new SnapTargets([all], "borders", within).nearest(u, v);
        const least = Math.min(...sides.map(([a, b]) => pointToSegment(u, v, ...a, ...b)));
        if (least > within) expect(found).toBeNull();
        else expect(Math.hypot(found![0] - u, found![1] - v)).toBeCloseTo(least, 12);
      }),
    );
  });

  it("are none of what is moved itself", () => {
    const moves = Uint8Array.from(corners, (_, w) => (w < 4 ? 1 : 0));
    const others = { ...all, moves };
    expect(new SnapTargets([all], "points", 0.05).nearest(0.11, 0.11)).toEqual([0.1, 0.1]);
    expect(new SnapTargets([others], "points", 0.05).nearest(0.11, 0.11)).toBeNull();
    expect(new SnapTargets([others], "borders", 0.05).nearest(0.2, 0.11)).toBeNull();
    expect(new SnapTargets([others], "borders", 0.05).nearest(0.7, 0.11)![1]).toBeCloseTo(0.1, 12);
  });

  it("are edges of tiles and lines of the grid, along each axis by itself", () => {
    const tiles = new SnapTargets([all], "tiles", 0.05);
    expect(tiles.nearest(0.97, 0.5)).toEqual([1, 0.5]);
    expect(tiles.nearest(1.02, -0.01)).toEqual([1, -0]);
    expect(tiles.nearest(0.5, 0.5)).toBeNull();
    const grid = new SnapTargets([], "grid", 0.02);
    expect(grid.nearest(3 * GRID_STEP + 0.01, 0.06)).toEqual([3 * GRID_STEP, 0.06]);
  });

  it("are none where there is nothing", () => {
    expect(new SnapTargets([], "points", 0.1).nearest(0, 0)).toBeNull();
    expect(new SnapTargets([], "borders", 0.1).nearest(0, 0)).toBeNull();
  });
});
