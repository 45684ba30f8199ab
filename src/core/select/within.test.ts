import { describe, expect, it } from "vitest";
import { shapeAt } from "@/testing/assets";
import { squares } from "@/testing/squares";
import { structureOf } from "../layout/layout";
import { layoutOf } from "../operations/scope";
import { ElementSet } from "./element-set";
import { elementsOfFace, elementsOfFaces, facesOfElements } from "./stand-for";
import { elementsWithin, isMostlyWithin, pointsWithin } from "./within";

// Two squares, in UV at 0..0.2 and 0.5..0.7; a hundred pixels to a tile, v up.
const asset = squares([
  [0, 0, 0.2, 0.2],
  [0.5, 0, 0.2, 0.2],
]);
const { mesh } = shapeAt(asset);
const layout = layoutOf(shapeAt(asset), "s1");
const PIXELS = [100, 0, 0, 0, 0, -100, 0, 0, 0, 0, 1, 0, 0, 100, 0, 1];
const box = (x0: number, x1: number) => (x: number, y: number) => x >= x0 && x <= x1 && y >= 0 && y <= 101;
const { cornerWedge } = structureOf(mesh, layout);
const place = (corner: number): [number, number] => {
  const w = 2 * cornerWedge[corner]!;
  return [100 * layout.uv[w]!, 100 - 100 * layout.uv[w + 1]!];
};
const within = (kind: "vertices" | "edges" | "faces" | "shells", x0: number, x1: number) => [
  ...elementsWithin(mesh, layout, kind, pointsWithin(layout.uv, true, PIXELS, box(x0, x1)), "wedge", (face) =>
    isMostlyWithin(mesh, face, place, box(x0, x1)),
  ),
];

describe("what lies within a region", () => {
  it("is taken: faces by more than half, edges whole, shells by a face", () => {
    expect(within("faces", -1, 21)).toEqual([0]);
    expect(within("faces", -1, 16)).toEqual([0]);
    expect(within("faces", -1, 4)).toEqual([]);
    // Just half of its pieces: the middle, at 10, decides.
    expect([within("faces", -1, 11), within("faces", -1, 9)]).toEqual([[0], []]);
    expect(within("vertices", -1, 19)).toEqual([0, 3]);
    expect(within("edges", -1, 19)).toHaveLength(1);
    expect(within("edges", -1, 71)).toHaveLength(8);
    expect(within("shells", 49, 71)).toEqual([1]);
  });

  it("leaves out what lies behind the eye", () => {
    // A perspective along -z: w is -z.
    const eye = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, -1, 0, 0, 0, 0];
    const points = Float64Array.from([0, 0, -5, 0, 0, 5, 9, 0, -1]);
    expect([...pointsWithin(points, false, eye, (x, y) => Math.hypot(x, y) < 2)]).toEqual([1, 0, 0]);
  });
});

describe("what elements stand for", () => {
  it("leads from faces to all kinds and back, a single face as all do", () => {
    const one = ElementSet.of(2, [1]);
    for (const kind of ["vertices", "edges", "faces", "shells"] as const) {
      const items = elementsOfFaces(mesh, layout, one, kind);
      expect([...items]).toEqual([...elementsOfFace(mesh, layout, 1, kind)].sort((a, b) => a - b));
      expect([...facesOfElements(mesh, layout, items, kind)]).toEqual([1]);
    }
  });
});
