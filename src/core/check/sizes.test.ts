import { describe, expect, it } from "vitest";
import { placed } from "../../../demo/kit";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { assetOf, laidOutModel, shapeAt } from "../../testing/assets";
import { shapesOf } from "../layout/asset";
import { emptyLayout, layoutFromCorners } from "../layout/layout";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { allElements } from "../select/stand-for";
import { figuresOfAsset } from "./figures";
import { sizesOf } from "./sizes";

// Two quads side by side, 3 wide and 2 high each, at twice their size: they lie in UV at a tenth of it.
const mesh = meshFromPolygons(
  [0, 1, 2].flatMap((i) => [3 * i, 0, 0, 3 * i, 2, 0]),
  [
    [0, 2, 3, 1],
    [2, 4, 5, 3],
  ],
);
const uv = Float64Array.from([...mesh.cornerVertex].flatMap((v) => [(v >> 1) * 0.3, (v & 1) * 0.2]));
const asset = assetOf(mesh, layoutFromCorners(mesh, uv), placed([5, 5, 5], 0, [2, 2, 2]));
const of = (kind: "vertices" | "edges" | "faces" | "shells", items: number[], a = asset) =>
  sizesOf(a, "s1", { kind, items: new Map([["p1", Uint32Array.from(items)]]) });
const inUv = (u: number, v: number) => ({ tiles: near(u, v), texels: near(2048 * u, 2048 * v) });
const near = (...values: number[]) => values.map((x) => expect.closeTo(x, 9));

describe("sizes of what is picked", () => {
  it("of edges are their lengths and what they reach over", () => {
    const t = topologyOf(mesh);
    const low = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
      [0, 1].every((k) => t.edgeVertices[2 * e + k]! % 2 === 0),
    );
    expect(of("edges", low)).toEqual({
      count: 2,
      groups: 1,
      extent: near(12, 0, 0),
      edges: { total: expect.closeTo(12, 9), shortest: expect.closeTo(6, 9), longest: expect.closeTo(6, 9) },
      uv: inUv(0.6, 0),
    });
  });

  it("of faces and shells are their area, in space and in the sheet", () => {
    expect(of("faces", [1])).toEqual({
      count: 1,
      groups: 1,
      extent: near(6, 4, 0),
      area: expect.closeTo(24, 9),
      uv: inUv(0.3, 0.2),
    });
    expect(of("shells", [0])).toMatchObject({ count: 1, extent: near(12, 4, 0), uv: inUv(0.6, 0.2) });
  });

  it("tell strays: groups of edges that meet, and of faces that share an edge", () => {
    const t = topologyOf(mesh);
    const edge = (a: number, b: number) =>
      Array.from({ length: t.edgeCount }, (_, e) => e).find((e) => {
        const ends = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
        return ends.includes(a) && ends.includes(b);
      })!;
    expect(of("edges", [edge(0, 1), edge(4, 5)]).groups).toBe(2);
    expect(of("edges", [edge(0, 1), edge(0, 2), edge(4, 5)]).groups).toBe(2);
    expect(of("faces", [0, 1]).groups).toBe(1);
    expect(of("shells", [0]).groups).toBeUndefined();
  });

  it("agree with what is measured of the same shells, instances and bent faces as well", async () => {
    const mill = await laidOutModel(pepperMill);
    const items = new Map(shapesOf(mill).map((s) => [s.id, allElements(s.mesh, emptyLayout(s.mesh), "faces").items()]));
    const areas = shapesOf(mill).flatMap((s) => [...figuresOfAsset(mill, "s1").get(s.id)!.area]);
    expect(sizesOf(mill, "s1", { kind: "faces", items }).area).toBeCloseTo(
      areas.reduce((a, b) => a + b),
      6,
    );
  });

  it("of vertices are their distance along the axes; nothing in UV where nothing lies there", () => {
    expect(of("vertices", [0, 5])).toEqual({ count: 2, extent: near(12, 4, 0), uv: inUv(0.6, 0.2) });
    const bare = assetOf(shapeAt(asset).mesh);
    expect(of("vertices", [0, 1], bare)).toEqual({ count: 2, extent: near(0, 2, 0) });
  });
});
