import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { outlineMatch, outlineOf } from "./outline";

type Point = readonly [number, number];

const segments = (points: readonly Point[], first = 0): Float64Array =>
  Float64Array.from(
    points.flatMap((_, i) => [...points[(i + first) % points.length]!, ...points[(i + first + 1) % points.length]!]),
  );

/** A boot, which no turn and no mirror takes onto itself. */
const BOOT: readonly Point[] = [
  [0, 0],
  [0.4, 0],
  [0.4, 0.1],
  [0.15, 0.15],
  [0.12, 0.5],
  [0, 0.45],
];

const moved = (points: readonly Point[], turn: number, scale: number, by: Point): Point[] =>
  points.map(([x, y]) => [
    scale * (Math.cos(turn) * x - Math.sin(turn) * y) + by[0],
    scale * (Math.sin(turn) * x + Math.cos(turn) * y) + by[1],
  ]);

describe("outlines", () => {
  it("are known again however they are turned, moved, scaled, and begun", () => {
    const angle = fc.double({ min: -3, max: 3, noNaN: true });
    const place = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        angle,
        fc.double({ min: 0.5, max: 2, noNaN: true }),
        place,
        place,
        fc.nat(5),
        (turn, scale, u, v, first) => {
          const own = outlineOf(segments(BOOT))!;
          const other = outlineOf(segments(moved(BOOT, turn, scale, [u, v]), first))!;
          const match = outlineMatch(own, other, true);
          expect(match.off).toBeLessThan(0.003);
          expect(match.mirrored).toBe(false);
          expect(Math.hypot(match.cos, match.sin)).toBeCloseTo(scale, 2);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("are known mirrored, where that is wanted", () => {
    const own = outlineOf(segments(BOOT))!;
    const mirrored = outlineOf(segments([...BOOT].reverse().map(([x, y]) => [-x, y] as const)))!;
    expect(outlineMatch(own, mirrored, true)).toMatchObject({ mirrored: true });
    expect(outlineMatch(own, mirrored, true).off).toBeLessThan(0.003);
    expect(outlineMatch(own, mirrored, false).off).toBeGreaterThan(0.1);
  });

  it("are the outer ones of shells with holes, and of none that is open", () => {
    const square: Point[] = [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ];
    const hole: Point[] = [
      [0.4, 0.4],
      [0.4, 0.6],
      [0.6, 0.6],
      [0.6, 0.4],
    ];
    const ring = outlineOf(Float64Array.from([...segments(hole), ...segments(square)]))!;
    expect(ring.length).toBeCloseTo(4, 12);
    expect(ring.middle).toEqual([expect.closeTo(0.5, 12), expect.closeTo(0.5, 12)]);
    expect(outlineOf(new Float64Array(0))).toBeNull();
  });
});
