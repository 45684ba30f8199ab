import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { turned } from "../layout/orient";
import { alignedLike, sizedLike } from "./align";
import { layoutArea, signedArea } from "./area";

/** A square of two triangles and a third one beside it. */
const TRIANGLES = Uint32Array.of(0, 1, 2, 0, 2, 3, 1, 4, 2);
const MAP = Float64Array.of(0, 0, 2, 0, 2, 2, 0, 2, 3, 1);

describe("areas of a layout", () => {
  it("are signed, and add up", () => {
    expect([0, 3, 6].map((t) => signedArea(MAP, TRIANGLES, t))).toEqual([2, 2, 1]);
    expect(layoutArea(TRIANGLES, MAP)).toBe(5);
    const mirrored = MAP.map((x, i) => (i % 2 ? x : -x));
    expect(layoutArea(TRIANGLES, mirrored)).toBe(-5);
  });
});

describe("a map brought to another layout of its triangles", () => {
  it("has its density and handedness", () => {
    const other = MAP.map((x, i) => (i % 2 ? 3 * x : -3 * x));
    expect(Array.from(sizedLike(TRIANGLES, other, MAP))).toEqual(Array.from(other));
  });

  it("stays as it is where the other has no area", () => {
    const none = new Float64Array(MAP.length);
    expect(sizedLike(TRIANGLES, none, MAP)).toBe(MAP);
    expect(alignedLike(TRIANGLES, none, MAP)).toBe(MAP);
  });

  it("lies exactly on it where only place, turn, size and handedness differ", () => {
    const number = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(number, fc.double({ min: 0.01, max: 20, noNaN: true }), number, number, fc.boolean(), (...how) => {
        const [angle, scale, du, dv, mirrors] = how;
        const other = turned(
          MAP.map((x, i) => scale * (mirrors && i % 2 === 0 ? -x : x)),
          angle,
        ).map((x, i) => x + (i % 2 ? dv : du));
        const aligned = alignedLike(TRIANGLES, other, MAP);
        for (let i = 0; i < other.length; i++)
          expect(Math.abs(aligned[i]! - other[i]!)).toBeLessThan(1e-9 * (1 + scale));
      }),
    );
  });
});
