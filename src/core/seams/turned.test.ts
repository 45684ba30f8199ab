import { describe, expect, it } from "vitest";
import { bar, box, lathe, type Shape, type Vec } from "../../../demo/kit";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { ball, sourceFrom, torus } from "../../testing/seam-forms";
import { shapesOf } from "../layout/asset";
import { makeBits } from "../layout/bits";
import { structureOf } from "../layout/layout";
import { worldPositions } from "../mesh/transform";
import { iota } from "../numeric/iota";
import { draftLayout } from "./draft";
import { edgeAngles, edgeLengths, seamCosts } from "./edge-cost";
import { flowFigures, flowShare, straightEdges } from "./flow";
import { sourceOf } from "./piece";
import { turnedBody } from "./turned";
import { faceVisibility } from "./visibility";

const can: Shape = lathe(
  [
    [1, 0],
    [1, 1],
    [1, 2],
  ],
  24,
);
const found = (s: Shape) => {
  const source = sourceFrom(s);
  return turnedBody(source, iota(s.faces.length), makeBits(source.topology.edgeCount));
};
const bow: Vec[] = Array.from({ length: 9 }, (_, i) => [Math.cos(i / 4), Math.sin(i / 4), 0]);

describe("turned bodies", () => {
  it("are found from caps, poles, borders and closed rows, bent or not", () => {
    expect(found(can)).toMatchObject({ columns: 24, startClosed: true, endClosed: true, isTorus: false });
    expect(found(can)!.layers).toHaveLength(4);
    expect(found(ball(8))).toMatchObject({ columns: 16, startClosed: true, endClosed: true });
    expect(found(bar(bow, 0.1, 12))!.columns).toBe(12);
    expect(found(torus(16, 10))).toMatchObject({ isTorus: true, startClosed: false });
    const open = lathe(
      [
        [1, 0],
        [2, 1],
      ],
      12,
      0,
      false,
    );
    expect(found(open)).toMatchObject({ startClosed: false, endClosed: false });
    expect(found(box([1, 1, 1], [3, 2, 2]))).toBeNull();
  });

  it("have their meridians in one column from ring to ring", () => {
    const { topology: t } = sourceFrom(ball(8));
    const { layers } = found(ball(8))!;
    for (let i = 1; i < layers.length; i++)
      layers[i]!.meridians.forEach((e, k) => {
        const before = layers[i - 1]!.meridians[k]!;
        const ends = new Set([0, 1].flatMap((d) => [t.edgeVertices[2 * e + d]!, t.edgeVertices[2 * before + d]!]));
        expect(ends.size).toBe(3);
      });
  });

  it("fall into a wall with one straight seam behind, and their caps", async () => {
    const source = sourceFrom(can);
    const { cut } = await draftLayout(source, { angle: 1, limit: 1.06, back: [0, 0, -1] });
    const layout = { cut, mapped: new Uint8Array(can.faces.length).fill(255) };
    expect(structureOf(source.mesh, layout).shellCount).toBe(3);
    const { topology: t, mesh } = source;
    const along = iota(t.edgeCount).filter((e) => {
      const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
      return ((cut[e >> 3]! >> (e & 7)) & 1) === 1 && mesh.positions[3 * a + 1] !== mesh.positions[3 * b + 1];
    });
    expect(along).toHaveLength(2);
    const back = Math.min(...mesh.positions.filter((_, i) => i % 3 === 2));
    for (const e of along) expect(mesh.positions[3 * t.edgeVertices[2 * e]! + 2]).toBeCloseTo(back, 9);
  });
});

describe("the paper lantern", () => {
  it("is cut along its flow alone, each of its parts without a turn", async () => {
    const asset = paperLantern();
    const seen = faceVisibility(asset);
    for (const shape of shapesOf(asset)) {
      const { mesh } = shape;
      const world = worldPositions(mesh, shape.metric);
      const source = sourceOf(mesh, world, seamCosts(mesh, world, seen.get(shape.id)));
      const { cut } = await draftLayout(source, { angle: Math.PI / 3, limit: 1.06 });
      const flow = flowFigures(mesh, cut, edgeLengths(mesh, world), edgeAngles(mesh, world));
      expect([flow.turns, flow.along]).toEqual([0, 1]);
    }
  });
});

describe("flow", () => {
  it("goes straight on across quads and round caps, and tells meshes of triangles", () => {
    const source = sourceFrom(can);
    const straight = straightEdges(source.mesh);
    for (let e = 0; e < source.topology.edgeCount; e++)
      for (const end of [0, 1]) {
        const next = straight[2 * e + end]!;
        if (next < 0) continue;
        const v = source.topology.edgeVertices[2 * e + end]!;
        const back = source.topology.edgeVertices[2 * next] === v ? 0 : 1;
        expect(straight[2 * next + back]).toBe(e);
      }
    expect(flowShare(source.mesh)).toBe(1);
    const triangles = sourceFrom({
      ...can,
      faces: can.faces.flatMap((f) => f.slice(2).map((v, i) => [f[0]!, f[i + 1]!, v])),
      material: [],
    });
    expect(flowShare(triangles.mesh)).toBeLessThan(0.3);
  });
});
