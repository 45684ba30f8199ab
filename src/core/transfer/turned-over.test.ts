import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { layoutFromCorners, structureOf } from "../layout/layout";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { turnedOver } from "./turned-over";

/** Two squares joined at the edge x = 0, y from 0 to 1; laid turned by an angle about a place. */
function laid(angle: number, u: number, v: number) {
  const positions = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 2, 0, 0, 2, 1, 0];
  const mesh = meshFromPolygons(positions, [
    [0, 1, 2, 3],
    [1, 4, 5, 2],
  ]);
  const cornerUv = Float64Array.from(
    [...mesh.cornerVertex].flatMap((w) => {
      const [x, y] = [positions[3 * w]! / 10, positions[3 * w + 1]! / 10];
      return [u + x * Math.cos(angle) - y * Math.sin(angle), v + x * Math.sin(angle) + y * Math.cos(angle)];
    }),
  );
  const layout = layoutFromCorners(mesh, cornerUv);
  return { mesh, layout, vertex: structureOf(mesh, layout).wedgeVertex };
}

const place = (uv: Float64Array, w: number): [number, number] => [uv[2 * w]!, uv[2 * w + 1]!];
const apart = (uv: Float64Array, a: number, b: number): number =>
  Math.hypot(uv[2 * a]! - uv[2 * b]!, uv[2 * a + 1]! - uv[2 * b + 1]!);

describe("a layout turned over", () => {
  it("stays where it meets the mirror plane, and keeps every distance", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 7, noNaN: true }),
        fc.double({ min: -2, max: 2, noNaN: true }),
        fc.double({ min: -2, max: 2, noNaN: true }),
        (angle, u, v) => {
          const { mesh, layout, vertex } = laid(angle, u, v);
          const over = turnedOver(mesh, layout, Uint8Array.of(1, 0, 0, 1, 0, 0)).uv;
          const at = (w: number) => [...vertex].indexOf(w as (typeof vertex)[number]);
          for (const w of [0, 3]) expect(place(over, at(w))).toEqual(place(layout.uv, at(w)));
          for (let a = 0; a < 6; a++)
            for (let b = 0; b < a; b++) expect(apart(over, a, b)).toBeCloseTo(apart(layout.uv, a, b), 12);
          // The other side of the line: a vertex and its image are as far apart as it is from the line, twice.
          const [before, after] = [place(layout.uv, at(4)), place(over, at(4))];
          expect(Math.hypot(after[0] - before[0], after[1] - before[1])).toBeCloseTo(0.4, 12);
        },
      ),
    );
  });

  it.each([
    ["nothing lies on the plane", [0, 0, 0, 0, 0, 0]],
    ["one point does", [1, 0, 0, 0, 0, 0]],
    ["what does lies on no line", [1, 1, 0, 1, 0, 0]],
  ])("lies beside itself where %s", (_, onPlane) => {
    const { mesh, layout } = laid(0, 0.1, 0.1);
    const over = turnedOver(mesh, layout, Uint8Array.from(onPlane)).uv;
    for (let w = 0; w < 6; w++) {
      // Turned over at the right edge, 0.3, with 0.02 of room.
      expect(over[2 * w]).toBeCloseTo(0.62 - layout.uv[2 * w]!, 12);
      expect(over[2 * w + 1]).toBe(layout.uv[2 * w + 1]);
    }
    expect(layout.uv).toEqual(laid(0, 0.1, 0.1).layout.uv);
  });
});
