import { describe, expect, it } from "vitest";
import { placedItem } from "../src/core/pack/page";
import type { Item } from "../src/core/pack/raster";
import { grownArea } from "./grown-area";

type Point = readonly [number, number];

/** Rectangles side by side, between closed lines. */
const shell = (boxes: ReadonlyArray<readonly [number, number, number, number]>, lines: readonly Point[][]): Item => ({
  triangles: Float64Array.from(boxes.flatMap(([a, b, c, d]) => [a, b, c, b, c, d, a, b, c, d, a, d])),
  outline: Float64Array.from(lines.flatMap((l) => l.flatMap((p, i) => [...p, ...l[(i + 1) % l.length]!]))),
});
const line = (a: number, b: number): Point[] => [
  [a, a],
  [b, a],
  [b, b],
  [a, b],
];

describe("the area of a grown shell", () => {
  const d = 0.1;

  it("is that of a square with round corners", () => {
    expect(grownArea(shell([[0, 0, 1, 1]], [line(0, 1)]), d)).toBeCloseTo(1 + 4 * d + Math.PI * d * d, 12);
  });

  it("leaves a smaller hole in a frame, with sharp corners, whichever way its lines go", () => {
    const bars = [
      [0, 0, 1, 0.25],
      [0, 0.75, 1, 1],
      [0, 0.25, 0.25, 0.75],
      [0.75, 0.25, 1, 0.75],
    ] as const;
    const grown = 1 + 4 * d + Math.PI * d * d - (0.5 - 2 * d) ** 2;
    for (const hole of [line(0.25, 0.75), line(0.25, 0.75).reverse()]) {
      const frame = shell(bars, [line(0, 1), hole]);
      expect(grownArea(frame, d)).toBeCloseTo(grown, 12);
      const mirrored = placedItem(frame, { xx: -1, xy: 0, yx: 0, yy: 1, du: 3, dv: 2 });
      expect(grownArea(mirrored, d)).toBeCloseTo(grown, 12);
    }
  });

  it("counts what two strips share at a corner that goes in once", () => {
    const rim: Point[] = [
      [0, 0],
      [2, 0],
      [2, 1],
      [1, 1],
      [1, 2],
      [0, 2],
    ];
    const grown = grownArea(
      shell(
        [
          [0, 0, 2, 1],
          [0, 1, 1, 2],
        ],
        [rim],
      ),
      d,
    );
    expect(grown).toBeCloseTo(3 + 8 * d + (5 * Math.PI * d * d) / 4 - d * d, 12);
  });
});
