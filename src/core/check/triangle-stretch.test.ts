import { describe, expect, it } from "vitest";
import { assetOf } from "../../testing/assets";
import { type Asset, shapesOf } from "../layout/asset";
import { layoutFromCorners } from "../layout/layout";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { figuresOfAsset } from "./figures";
import { type StretchKind, stretchOfShape } from "./triangle-stretch";

/** A square of two triangles, laid by a linear map of the plane. */
function laidBy(a: number, b: number, c: number, d: number): Asset {
  const points = [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ];
  const mesh = meshFromPolygons(
    points.flatMap(([x, y]) => [x!, y!, 0]),
    [
      [0, 1, 2],
      [0, 2, 3],
    ],
  );
  const uv = Float64Array.from(
    [...mesh.cornerVertex].flatMap((v) => {
      const [x, y] = points[v]!;
      return [0.1 * (a * x! + b * y!), 0.1 * (c * x! + d * y!)];
    }),
  );
  return assetOf(mesh, layoutFromCorners(mesh, uv));
}
const painted = (asset: Asset, kind: StretchKind) =>
  [...stretchOfShape(shapesOf(asset)[0]!, "s1", kind, figuresOfAsset(asset, "s1").get("p1")!)].map(
    (x) => +x.toFixed(5),
  );

describe("what the stretch view paints", () => {
  it("is nothing of a map that keeps angles and areas, however large it is laid", () => {
    for (const kind of ["area", "angle", "both"] as const) {
      expect(painted(laidBy(1, 0, 0, 1), kind)).toEqual([1, 1]);
      expect(painted(laidBy(0, -3, 3, 0), kind)).toEqual([1, 1]);
    }
  });

  it("is the angle where a map shears and keeps areas, which the area alone does not show", () => {
    const sheared = laidBy(1, 1, 0, 1);
    expect(painted(sheared, "area")).toEqual([1, 1]);
    // Singular values of this shear: the golden ratio and its inverse.
    const golden = (1 + Math.sqrt(5)) / 2;
    for (const x of painted(sheared, "angle")) expect(Math.max(x, 1 / x)).toBeGreaterThan(1.2);
    expect(painted(sheared, "both")).toEqual(painted(sheared, "angle"));
    const [x] = painted(sheared, "angle");
    expect([golden, golden ** 2].some((y) => Math.abs(Math.max(x!, 1 / x!) - y) < 1e-4)).toBe(true);
  });

  it("tells a triangle that is laid too large from one that is too small", () => {
    // Two triangles of one size in the world, one laid twice as long: against the mean of both.
    const mesh = meshFromPolygons(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 0, 0, 6, 0, 0, 5, 1, 0],
      [
        [0, 1, 2],
        [3, 4, 5],
      ],
    );
    const uv = Float64Array.of(0.1, 0.1, 0.2, 0.1, 0.1, 0.2, 0.5, 0.5, 0.7, 0.5, 0.5, 0.7);
    const values = painted(assetOf(mesh, layoutFromCorners(mesh, uv)), "area");
    expect(values[1]!).toBeGreaterThanOrEqual(values[0]!);
  });
});
