import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Pixels } from "./pixels";
import { redrawn } from "./redraw";

const SIDE = 32;

/** An image whose every texel is another: red tells the column, green the row. */
const ramp = (): Pixels => {
  const data = new Uint8Array(4 * SIDE * SIDE);
  for (let i = 0; i < SIDE * SIDE; i++) data.set([7 * (i % SIDE), 7 * Math.floor(i / SIDE), 99, 255], 4 * i);
  return { width: SIDE, height: SIDE, data };
};

type Point = readonly [number, number];

/** A square of texels as two triangles, from its place before to its place now, by where its corners come to lie. */
const square = (x: number, y: number, size: number, to: (p: Point) => Point): number[] => {
  const uv = ([px, py]: Point): Point => [px / SIDE, 1 - py / SIDE];
  const [a, b, c, d] = [
    [x, y],
    [x + size, y],
    [x + size, y + size],
    [x, y + size],
  ] as const as [Point, Point, Point, Point];
  const triangle = (points: readonly Point[]) => [...points.flatMap((p) => uv(p)), ...points.flatMap((p) => uv(to(p)))];
  return [...triangle([a, b, c]), ...triangle([a, c, d])];
};

const drawn = (image: Pixels, triangles: number[], more: { directions?: boolean; bleed?: number } = {}) =>
  redrawn(image, { triangles: Float64Array.from(triangles), directions: false, bleed: 1, report: () => {}, ...more });

const texel = ({ data, width }: Pixels, x: number, y: number): number[] => [
  ...data.slice(4 * (y * width + x), 4 * (y * width + x) + 4),
];

describe("images drawn for another layout", () => {
  it("moves texels by whole texels to the last bit, wherever they go", () => {
    const place = fc.integer({ min: 2, max: SIDE - 12 });
    fc.assert(
      fc.property(place, place, place, place, (x, y, tx, ty) => {
        const image = ramp();
        const { pixels } = drawn(
          image,
          square(x, y, 8, ([px, py]) => [px - x + tx, py - y + ty]),
        );
        for (let i = -1; i <= 8; i++)
          for (let j = 0; j < 8; j++) expect(texel(pixels, tx + i, ty + j)).toEqual(texel(image, x + i, y + j));
      }),
      { numRuns: 40 },
    );
  });

  it("turns by a quarter to the last bit, and mirrors", () => {
    const image = ramp();
    // A quarter turn against the clock on the sheet, where rows go down: (x, y) from (4, 4) goes to (y, 8 - x).
    const turned = drawn(
      image,
      square(4, 4, 8, ([x, y]) => [16 + (y - 4), 16 + 8 - (x - 4)]),
    ).pixels;
    const mirrored = drawn(
      image,
      square(4, 4, 8, ([x, y]) => [16 + 8 - (x - 4), y]),
    ).pixels;
    for (let i = 0; i < 8; i++)
      for (let j = 0; j < 8; j++) {
        expect(texel(turned, 16 + j, 16 + 7 - i)).toEqual(texel(image, 4 + i, 4 + j));
        expect(texel(mirrored, 16 + 7 - i, 4 + j)).toEqual(texel(image, 4 + i, 4 + j));
      }
  });

  it("takes the mean of what a smaller shell shows, and what lies between where it grows", () => {
    const image = ramp();
    const half = drawn(
      image,
      square(4, 4, 16, ([x, y]) => [4 + (x - 4) / 2, 4 + (y - 4) / 2]),
    ).pixels;
    // The texel holds columns 4 and 5, rows 4 and 5.
    expect(texel(half, 4, 4)).toEqual([Math.round(7 * 4.5), Math.round(7 * 4.5), 99, 255]);
    const twice = drawn(
      image,
      square(4, 4, 8, ([x, y]) => [2 * x - 4, 2 * y - 4]),
    ).pixels;
    // The centre of texel 6 lies at 5.25, a quarter of a texel before that of column 5.
    expect(texel(twice, 6, 6)).toEqual([Math.round(7 * 4.75), Math.round(7 * 4.75), 99, 255]);
  });

  it("turns directions with their shells, and mirrors them", () => {
    const image = ramp();
    image.data.fill(0);
    for (let i = 0; i < SIDE * SIDE; i++) image.data.set([255, 127.5, 127.5, 255], 4 * i);
    const right = texel(image, 0, 0);
    const turned = drawn(
      image,
      square(4, 4, 8, ([x, y]) => [16 + (y - 4), 16 + 8 - (x - 4)]),
      { directions: true },
    );
    // What pointed right points up after a quarter turn against the clock.
    expect(texel(turned.pixels, 20, 20).slice(0, 2)).toEqual([255 - right[1]!, 255]);
    const mirrored = drawn(
      image,
      square(4, 4, 8, ([x, y]) => [16 + 8 - (x - 4), y]),
      { directions: true },
    );
    expect(texel(mirrored.pixels, 20, 6).slice(0, 2)).toEqual([0, right[1]]);
    const half = drawn(
      image,
      square(4, 4, 8, ([x, y]) => [28 - x, 28 - y]),
      { directions: true },
    );
    expect(texel(half.pixels, 20, 20).slice(0, 2)).toEqual([0, 255 - right[1]!]);
  });

  it("keeps sixteen bits", () => {
    const deep = { ...ramp(), data: Uint16Array.from(ramp().data, (x) => 257 * x + 1) };
    const { pixels } = drawn(
      deep,
      square(4, 4, 8, ([x, y]) => [x + 10, y + 3]),
    );
    expect(texel(pixels, 15, 8)).toEqual(texel(deep, 5, 5));
  });

  it("draws on beyond the shells as far as asked, and fills the rest with the mean", () => {
    const image = ramp();
    const { pixels } = drawn(
      image,
      square(8, 8, 4, (p) => p),
      { bleed: 5 },
    );
    // Two rings show what was there; farther ones repeat.
    expect(texel(pixels, 6, 9)).toEqual(texel(image, 6, 9));
    expect(texel(pixels, 3, 9)).toEqual(texel(image, 6, 9));
    expect(texel(pixels, 2, 9)).toEqual(texel(pixels, 30, 30));
    const see = { ...image, data: image.data.slice() };
    see.data[3] = 0;
    expect(
      texel(
        drawn(
          see,
          square(8, 8, 4, (p) => p),
        ).pixels,
        30,
        30,
      )[3],
    ).toBe(0);
  });

  it("tells where shells that lie on each other want the same texels, and not where triangles meet", () => {
    const whole = square(4, 4, 8, ([x, y]) => [x + 10, y + 10]);
    expect(drawn(ramp(), whole).contested).toBe(0);
    const both = [...whole, ...square(18, 18, 8, ([x, y]) => [x - 4, y - 4])];
    expect(drawn(ramp(), both).contested).toBeGreaterThan(50);
  });
});
