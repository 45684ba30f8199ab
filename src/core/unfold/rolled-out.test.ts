import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { rolledOut } from "./rolled-out";
import { stretchTail, triangleEnergy } from "./triangle-energy";

/** A strip bent about an axis, with vertices at any heights: needles as well. */
function bentStrip(steps: readonly number[], turn: number) {
  const positions: number[] = [];
  let [x, z, angle] = [0, 0, 0];
  for (const step of [0, ...steps]) {
    x += step * Math.cos(angle);
    z += step * Math.sin(angle);
    angle += turn;
    positions.push(x, 0, z, x, 1, z);
  }
  const triangles = steps.flatMap((_, i) => [2 * i, 2 * i + 2, 2 * i + 1, 2 * i + 1, 2 * i + 2, 2 * i + 3]);
  const points = positions.length / 3;
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    wedges: Uint32Array.from({ length: points }, (_, i) => i),
  };
}

describe("a shell that can be rolled out", () => {
  it("comes out in its true shape, whatever its triangles are like", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 1e-4, max: 3, noNaN: true }), { minLength: 1, maxLength: 12 }),
        fc.double({ min: -0.4, max: 0.4, noNaN: true }),
        (steps, turn) => {
          const shell = bentStrip(steps, turn);
          const uv = rolledOut(shell);
          for (let t = 0; t < shell.triangles.length; t += 3) {
            const points = shell.triangles.subarray(t, t + 3);
            expect(triangleEnergy(shell.positions, points, uv, points)).toBeCloseTo(1, 4);
          }
          expect(stretchTail(shell, uv)).toBeCloseTo(1, 4);
        },
      ),
    );
  });

  it("has the stretch of a map that is drawn out to twice its length", () => {
    const shell = bentStrip([1], 0);
    const uv = rolledOut(shell).map((x, i) => (i % 2 ? x : 2 * x));
    const points = shell.triangles.subarray(0, 3);
    const energy = triangleEnergy(shell.positions, points, uv, points);
    expect(energy).toBeCloseTo((4 + 1 + 1 / 4 + 1) / 4, 9);
    expect(stretchTail(shell, uv)).toBeCloseTo((4 + 1 + 1 / 4 + 1) / 4, 6);
  });
});
