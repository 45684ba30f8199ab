import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assetOf, layoutAt, shapeAt } from "../../testing/assets";
import { layoutFromCorners, structureOf } from "../layout/layout";
import { subdividedShape } from "../layout/subdivide";
import { faceCount, meshFromPolygons, vertexCount } from "./poly-mesh";
import { BORDER_RULES, smoothedPoints, subdividedMesh } from "./subdivide";
import { topologyOf } from "./topology";

/** A cube of side 2 about the origin. */
const cube = meshFromPolygons(
  [-1, 1].flatMap((z) => [-1, 1].flatMap((y) => [-1, 1].flatMap((x) => [x, y, z]))),
  [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ],
);
/** A sheet of N x N squares in a plane. */
const N = 3;
const sheet = meshFromPolygons(
  Array.from({ length: (N + 1) ** 2 }, (_, p) => [p % (N + 1), Math.floor(p / (N + 1)), 0]).flat(),
  Array.from({ length: N * N }, (_, f) => {
    const a = Math.floor(f / N) * (N + 1) + (f % N);
    return [a, a + 1, a + N + 2, a + N + 1];
  }),
);

describe("a form smoothed by one step", () => {
  it("has the points of Catmull and Clark", () => {
    const fine = subdividedMesh(cube, "catmull-clark");
    expect([vertexCount(fine), faceCount(fine)]).toEqual([8 + 12 + 6, 24]);
    const at = (v: number) => [...fine.positions.subarray(3 * v, 3 * v + 3)].map(Math.abs);
    // (Q + 2 R + (n - 3) S) / n with n = 3: middles of faces 1/3, of edges 2/3.
    for (let v = 0; v < 8; v++) for (const x of at(v)) expect(x).toBeCloseTo(5 / 9, 12);
    for (let e = 8; e < 20; e++) expect(at(e).sort()).toEqual([0, 0.75, 0.75]);
    for (let f = 20; f < 26; f++) expect(at(f).sort()).toEqual([0, 0, 1]);
  });

  it("is closed where it was, wound alike, and leaves a plane plane", () => {
    const t = topologyOf(subdividedMesh(cube, "catmull-clark"));
    for (let e = 0; e < t.edgeCount; e++) expect(t.edgeCornerStart[e + 1]! - t.edgeCornerStart[e]!).toBe(2);
    const flat = subdividedMesh(subdividedMesh(sheet, "catmull-clark"), "catmull-clark");
    for (let v = 0; v < vertexCount(flat); v++) expect(flat.positions[3 * v + 2]).toBe(0);
    const area = (f: number) => {
      const [a, , c] = [0, 1, 2].map((k) => 3 * flat.cornerVertex[4 * f + k]!) as [number, number, number];
      const [b, d] = [1, 3].map((k) => 3 * flat.cornerVertex[4 * f + k]!) as [number, number];
      const p = flat.positions;
      return ((p[c]! - p[a]!) * (p[d + 1]! - p[b + 1]!) - (p[d]! - p[b]!) * (p[c + 1]! - p[a + 1]!)) / 2;
    };
    for (let f = 0; f < faceCount(flat); f++) expect(area(f)).toBeGreaterThan(0);
  });

  it("moves, turns and scales with the form", () => {
    const Number3 = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -9, max: 9, noNaN: true }))) as fc.Arbitrary<
      [number, number, number]
    >;
    fc.assert(
      fc.property(Number3, fc.constantFrom(...BORDER_RULES), (shift, rule) => {
        const patch = { mesh: sheet, points: 16, dimensions: 3 as const };
        const moved = sheet.positions.map((x, i) => 2 * x + shift[i % 3]!);
        const plain = smoothedPoints({ ...patch, values: sheet.positions }, rule);
        const both = smoothedPoints({ ...patch, values: moved }, rule);
        both.forEach((x, i) => {
          expect(x).toBeCloseTo(2 * plain[i]! + shift[i % 3]!, 9);
        });
      }),
    );
  });
});

/** A tetrahedron about the origin. */
const tetrahedron = meshFromPolygons(
  [1, 1, 1, -1, -1, 1, -1, 1, -1, 1, -1, -1],
  [
    [0, 2, 1],
    [0, 1, 3],
    [0, 3, 2],
    [1, 2, 3],
  ],
);

describe("triangles smoothed by one step of Loop's", () => {
  it("have the points of Loop", () => {
    const fine = subdividedMesh(tetrahedron, "loop");
    expect([vertexCount(fine), faceCount(fine)]).toEqual([4 + 6, 16]);
    const at = (v: number) => [...fine.positions.subarray(3 * v, 3 * v + 3)];
    // A point with three neighbours that sum to its opposite: 7/16 of it less 3/16.
    for (let v = 0; v < 4; v++)
      at(v).forEach((x, d) => {
        expect(x).toBeCloseTo(tetrahedron.positions[3 * v + d]! / 4, 12);
      });
    // Three eighths of the ends and one eighth of the others, which sum to their opposite.
    for (let e = 4; e < 10; e++) expect(at(e).map(Math.abs).sort()).toEqual([0, 0, 0.5]);
  });

  it("are closed where they were, wound alike, and leave a plane plane", () => {
    const t = topologyOf(subdividedMesh(subdividedMesh(tetrahedron, "loop"), "loop"));
    for (let e = 0; e < t.edgeCount; e++) expect(t.edgeCornerStart[e + 1]! - t.edgeCornerStart[e]!).toBe(2);
    const pair = meshFromPolygons(
      [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0],
      [
        [0, 1, 2],
        [0, 2, 3],
      ],
    );
    const flat = subdividedMesh(pair, "loop");
    for (let f = 0; f < faceCount(flat); f++) {
      const [a, b, c] = [0, 1, 2].map((k) => 3 * flat.cornerVertex[3 * f + k]!) as [number, number, number];
      const p = flat.positions;
      const twice = (p[b]! - p[a]!) * (p[c + 1]! - p[a + 1]!) - (p[c]! - p[a]!) * (p[b + 1]! - p[a + 1]!);
      expect(twice).toBeGreaterThan(0);
    }
  });

  it("keep their layouts, seams among them; other faces are refused", () => {
    const uv = Float64Array.from([...tetrahedron.cornerVertex.keys()].flatMap((c) => [Math.floor(c / 3), (c % 3) / 3]));
    const asset = assetOf(tetrahedron, layoutFromCorners(tetrahedron, uv));
    const { shape, fromFace } = subdividedShape(shapeAt(asset), { levels: 2, rule: "sharp", scheme: "loop" });
    const layout = [...shape.layouts.values()][0]!;
    const s = structureOf(shape.mesh, layout);
    expect(s.shellCount).toBe(4);
    for (let c = 0; c < shape.mesh.cornerVertex.length; c++)
      expect(layout.uv[2 * s.cornerWedge[c]!]).toBeCloseTo(fromFace[Math.floor(c / 3)]!, 12);
    const quads = shapeAt(assetOf(cube));
    expect(() => subdividedShape(quads, { levels: 1, rule: "sharp", scheme: "loop" })).toThrow("choose Catmull-Clark");
  });
});

describe("borders", () => {
  const values = Float64Array.from(sheet.positions);
  const patch = { mesh: sheet, points: 16, values, dimensions: 3 as const };
  const place = (out: Float64Array, p: number) => [...out.subarray(3 * p, 3 * p + 2)];

  it("stay, are rounded but for corners, or are rounded whole", () => {
    const [sharp, corners, round] = BORDER_RULES.map((rule) => smoothedPoints(patch, rule));
    expect(place(sharp!, 0)).toEqual([0, 0]);
    expect(place(corners!, 0)).toEqual([0, 0]);
    // The cubic B-spline: an eighth of either neighbour.
    expect(place(round!, 0)).toEqual([1 / 8, 1 / 8]);
    expect(place(sharp!, 1)).toEqual([1, 0]);
    expect(place(corners!, 1)).toEqual([1, 0]);
  });
});

describe("a layout smoothed with its form", () => {
  /** The sheet with its layout as it lies, cut along the middle. */
  const uv = Float64Array.from(
    [...sheet.cornerVertex].flatMap((v) => [sheet.positions[3 * v]! / 4, sheet.positions[3 * v + 1]! / 4]),
  );
  const asset = assetOf(sheet, layoutFromCorners(sheet, uv));

  it("keeps its shells, seams and faces without coordinates, and goes along its face's own points", () => {
    const apart = uv.slice();
    // The last row of faces lies elsewhere: a seam.
    for (let c = 24; c < 36; c++) apart[2 * c]! += 2;
    const cutAsset = assetOf(sheet, layoutFromCorners(sheet, apart));
    for (const rule of BORDER_RULES) {
      const { shape, fromFace } = subdividedShape(shapeAt(cutAsset), {
        levels: 2,
        rule: rule,
        scheme: "catmull-clark",
      });
      const layout = [...shape.layouts.values()][0]!;
      const s = structureOf(shape.mesh, layout);
      expect(s.shellCount).toBe(2);
      expect(faceCount(shape.mesh)).toBe(9 * 16);
      // In the plane they lie where their faces do.
      for (let c = 0; rule === "sharp" && c < shape.mesh.cornerVertex.length; c++) {
        const u = shape.mesh.positions[3 * shape.mesh.cornerVertex[c]!]! / 4 + (fromFace[c >> 2]! >= 6 ? 2 : 0);
        expect(layout.uv[2 * s.cornerWedge[c]!]!).toBeCloseTo(u, 12);
      }
      for (let f = 0; f < fromFace.length; f++) {
        const isLast = fromFace[f]! >= 6;
        expect(layout.uv[2 * s.cornerWedge[4 * f]!]! >= 1.9).toBe(isLast);
      }
    }
    const empty = subdividedShape(shapeAt(assetOf(sheet)), { levels: 1, rule: "sharp", scheme: "catmull-clark" }).shape;
    expect([...empty.layouts.values()][0]!.mapped.some(Boolean)).toBe(false);
  });

  it("with sharp borders covers what it covered; rounded it covers less", () => {
    const areaOf = (rule: (typeof BORDER_RULES)[number]): number => {
      const { shape } = subdividedShape(shapeAt(asset), { levels: 3, rule, scheme: "catmull-clark" });
      const layout = [...shape.layouts.values()][0]!;
      const { cornerWedge } = structureOf(shape.mesh, layout);
      let area = 0;
      for (let f = 0; f < faceCount(shape.mesh); f++)
        for (let k = 0; k < 4; k++) {
          const [a, b] = [2 * cornerWedge[4 * f + k]!, 2 * cornerWedge[4 * f + ((k + 1) % 4)]!];
          area += (layout.uv[a]! * layout.uv[b + 1]! - layout.uv[b]! * layout.uv[a + 1]!) / 2;
        }
      return area;
    };
    expect(areaOf("sharp")).toBeCloseTo(9 / 16, 12);
    expect(areaOf("corners")).toBeCloseTo(9 / 16, 12);
    expect(areaOf("round")).toBeLessThan(0.99 * areaOf("sharp"));
    expect(layoutAt(asset).uv.length).toBeGreaterThan(0);
  });
});
