import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { ShellRow } from "../check/measure";
import { densityBins, densityOutliers } from "./histogram";

const row = (density: number, ratio = 1): ShellRow => ({
  shape: "p1",
  face: 0,
  area: 1,
  uvArea: 1,
  energy: 1,
  density,
  ratio,
  lettering: false,
  flipped: 0,
  mirrored: false,
  turn: 0,
  side: "front",
  tile: 1001,
});

describe("shells by density", () => {
  it("are in one bin where they hardly differ, and none where there are none", () => {
    expect(densityBins([], 8)).toEqual([]);
    expect(densityBins([row(10), row(10.001), row(20, 2)], 8)).toHaveLength(1);
  });

  it("are each in the bin that their density lies in", () => {
    const bins = densityBins(
      [10, 11, 19.9, 20, 30].map((d) => row(d)),
      4,
    );
    expect(bins.map((b) => b.shells.length)).toEqual([2, 1, 1, 1]);
    expect([bins[0]!.low, bins[3]!.high]).toEqual([10, 30]);
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.01, max: 1e4, noNaN: true }), { minLength: 1, maxLength: 50 }),
        (list) => {
          const found = densityBins(
            list.map((d) => row(d)),
            12,
          );
          expect(found.reduce((sum, b) => sum + b.shells.length, 0)).toBe(list.length);
          for (const { low, high, shells } of found)
            for (const { density } of shells) {
              expect(density).toBeGreaterThanOrEqual(low * (1 - 1e-12));
              expect(density).toBeLessThanOrEqual(high * (1 + 1e-12));
            }
        },
      ),
    );
  });

  it("are outliers by what they would be without their ratio", () => {
    expect(densityOutliers([row(10), row(20, 2), row(13)], 10, 0.2).map((r) => r.density)).toEqual([13]);
  });
});
