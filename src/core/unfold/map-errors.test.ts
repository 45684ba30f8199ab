import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { addErrors, errorWords, mapErrors, NO_ERRORS } from "./map-errors";
import type { ShellMesh } from "./shell-mesh";

/** A unit square of two triangles in space, and maps of it. */
const shell: ShellMesh = {
  positions: Float64Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0),
  triangles: Uint32Array.of(0, 1, 2, 0, 2, 3),
  wedges: Uint32Array.of(0, 1, 2, 3),
};
const laid = (a: number, b: number, c: number, d: number): Float64Array =>
  Float64Array.from([0, 0, 1, 0, 1, 1, 0, 1], (_, i) => {
    const [x, y] = [[0, 1, 1, 0][i >> 1]!, [0, 0, 1, 1][i >> 1]!];
    return i % 2 ? c * x + d * y : a * x + b * y;
  });

describe("errors of a map", () => {
  it("are none for one that is moved, turned, scaled or mirrored", () => {
    const Length = fc.double({ min: 0.1, max: 9, noNaN: true });
    fc.assert(
      fc.property(Length, fc.double({ min: 0, max: 7, noNaN: true }), fc.boolean(), (scale, angle, mirrored) => {
        const [c, s] = [scale * Math.cos(angle), scale * Math.sin(angle)];
        const errors = mapErrors(shell, mirrored ? laid(-c, s, s, c) : laid(c, -s, s, c));
        expect(errors.area).toBeCloseTo(1, 12);
        expect(errors.angles).toBeCloseTo(0, 9);
        expect(errors.areas).toBeCloseTo(0, 9);
      }),
    );
  });

  it("are those of the corners and of the areas alone", () => {
    // Twice as wide: corners of 45 degrees become atan(1/2) and atan(2), those of 90 stay; areas keep their shares.
    const wide = mapErrors(shell, laid(2, 0, 0, 1));
    expect(wide.angles).toBeCloseTo(((Math.PI / 4 - Math.atan(0.5)) * 2) / 3, 12);
    expect(wide.areas).toBeCloseTo(0, 12);
    // One of the two triangles is three times the other: shares of 3/4 and 1/4 in place of a half each.
    const uv = Float64Array.of(0, 0, 3, 0, 1, 1, 0, 1);
    expect(mapErrors(shell, uv).areas).toBeCloseTo(0.5, 12);
  });

  it("add up over shells, and are said in degrees and per cent", () => {
    const one = mapErrors(shell, laid(2, 0, 0, 1));
    const both = addErrors(addErrors(NO_ERRORS, one), mapErrors(shell, laid(1, 0, 0, 1)));
    expect(errorWords(both)).toBe("angles off by 6.1°, areas by 0.0 %");
    expect(errorWords(NO_ERRORS)).toBe("angles off by 0.0°, areas by 0.0 %");
  });
});
