import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readSum, shownNumber } from "./sums";

describe("what is typed into a number", () => {
  it("may be a sum, with signs, brackets and either point", () => {
    expect(readSum("5.4/2")).toBe(2.7);
    expect(readSum(" 2*(3+1) - 10/4 ")).toBe(5.5);
    expect(readSum("-3")).toBe(-3);
    expect(readSum("2--1")).toBe(3);
    expect(readSum("1,5 + .5")).toBe(2);
    expect(readSum("10-2-3")).toBe(5);
    expect(readSum("16/4/2")).toBe(2);
  });

  it("may have units, which are brought into the field's own", () => {
    expect(readSum("3 cm", "mm")).toBeCloseTo(30, 12);
    expect(readSum("1 m + 20", "cm")).toBeCloseTo(120, 12);
    expect(readSum("1in", "mm")).toBeCloseTo(25.4, 12);
    expect(readSum("90/2 °", "°")).toBe(45);
    expect(readSum("8px", "px")).toBe(8);
    expect(readSum("0.5 tiles", "tiles")).toBe(0.5);
  });

  it("is refused when it is no number", () => {
    for (const text of ["", "two", "1 +", "(2", "2)", "3 cm", "1..2", "4 5", "1/0", "px"])
      expect(readSum(text), text).toBeNull();
    expect(readSum("3 px", "cm")).toBeNull();
  });

  it("reads every number as it is shown", () => {
    const number = fc.double({ min: -1e4, max: 1e4, noNaN: true }).map((x) => Number(x.toFixed(4)) + 0);
    fc.assert(
      fc.property(number, (x) => {
        expect(readSum(shownNumber(x))).toBe(x);
      }),
    );
  });
});
