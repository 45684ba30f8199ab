import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { largestScale } from "./largest-scale";

describe("the largest scale at which something is found", () => {
  it("is told within what is near, from whichever side it is looked for", () => {
    const scale = fc.double({ min: 0.05, max: 20, noNaN: true });
    fc.assert(
      fc.property(scale, scale, (limit, first) => {
        const tried: number[] = [];
        const at = (s: number) => {
          tried.push(s);
          return s <= limit ? { s } : null;
        };
        const found = largestScale(at, first, Infinity, 200)!;
        expect(found.found.s).toBe(found.scale);
        expect(found.scale).toBeLessThanOrEqual(limit);
        expect(found.scale * 1.004).toBeGreaterThanOrEqual(limit);
        expect(tried[0]).toBe(first);
      }),
    );
  });

  it("is no larger than the most there is, which is tried once", () => {
    const tried: number[] = [];
    const at = (s: number) => {
      tried.push(s);
      return true as const;
    };
    expect(largestScale(at, 1, 1.05, 20)!.scale).toBe(1.05);
    expect(tried).toEqual([1, 1.05]);
  });

  it("is none where nothing is found in the tries that are given", () => {
    let tries = 0;
    const at = () => {
      tries++;
      return null;
    };
    expect(largestScale(at, 1, 9, 7)).toBeNull();
    expect(tries).toBe(7);
  });
});
