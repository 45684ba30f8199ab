import { describe, expect, it } from "vitest";
import { PROJECTIONS } from "@/core/project/kinds";
import { wiresOf } from "./projection-wires";

const wires = (kind: string, capsFrom = 0.9) => wiresOf({ kind, reach: [2, 2, 3], capsFrom });

describe("lines of a projection", () => {
  it("are there for every kind, and reach about as far as the form", () => {
    for (const kind of PROJECTIONS) {
      const points = wires(kind).flat();
      expect(points.length, kind).toBeGreaterThan(3);
      for (const p of points) expect(Math.hypot(...p), kind).toBeLessThan(1.01 * Math.hypot(2, 2, 3));
    }
  });

  it("are two rings and what stands between them for a cylinder, as wide as the form", () => {
    const [top, bottom] = wires("cylinder");
    for (const [x, y, z] of top!) {
      expect(Math.hypot(x, y)).toBeCloseTo(2, 9);
      expect(z).toBe(3);
    }
    expect(bottom!.every((p) => p[2] === -3)).toBe(true);
  });

  it("show the caps of a sphere where they begin", () => {
    for (const capsFrom of [0.3, 1.2]) {
      const [top, bottom] = wires("capped sphere", capsFrom);
      for (const [ring, side] of [
        [top!, 1],
        [bottom!, -1],
      ] as const)
        for (const [x, y, z] of ring) expect(Math.atan2(side * z, Math.hypot(x, y))).toBeCloseTo(capsFrom, 9);
    }
  });
});
