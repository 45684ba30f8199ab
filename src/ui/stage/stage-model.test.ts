import { Texture } from "three";
import { beforeAll, describe, expect, it } from "vitest";
import { type Asset, shapesOf } from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { shellName, structureOf } from "@/core/layout/layout";
import type { Edge, Shell } from "@/core/mesh/indices";
import { edgeFaceCount, topologyOf } from "@/core/mesh/topology";
import { trianglesOf } from "@/core/mesh/triangulate";
import { layoutOf } from "@/core/operations/scope";
import { ElementSet } from "@/core/select/element-set";
import { edit, laidOut, picking } from "@/testing/assets";
import { marketCart } from "../../../demo/models/market-cart";
import { newBench } from "../session/store";
import { boundsOf, boundsOfFaces, middleOf, radiusOf } from "./bounds";
import { edgeLines, formSeams, innerWires, SeamRuns, sheetSeams, wedgesOf } from "./line-ends";
import { HOVERED, SELECTED, UNMAPPED } from "./shaders";
import { ShapeChunk } from "./shape-chunk";
import { type Shown, StageModel } from "./stage-model";
import { uvBox } from "./uv-box";

// What the stage draws, on the market cart: parts that share shapes, and that are mirrored. Nothing is drawn here; these
// are the tables that the graphics card is sent.

let asset: Asset;
beforeAll(async () => {
  asset = await laidOut(marketCart());
});

const shown = (more: Partial<Shown> = {}): Shown => newBench({ asset, set: "s1", ...more }).getState();
const first = () => shapesOf(asset)[0]!;
const chunkOf = (shape = first()) => {
  const chunk = new ShapeChunk(shape.mesh, 0);
  chunk.setLayout(layoutOf(shape, "s1"));
  return chunk;
};

describe("a shape as it is drawn", () => {
  it("finds every corner's vertex, wedge and face", () => {
    const shape = first();
    const chunk = chunkOf();
    const t = trianglesOf(shape.mesh);
    const s = structureOf(shape.mesh, layoutOf(shape, "s1"));
    const of = (name: string) => chunk.form.getAttribute(name).array;
    t.corners.forEach((c, k) => {
      expect([of("vertex")[k], of("wedge")[k], of("face")[k]]).toEqual([
        shape.mesh.cornerVertex[c],
        s.cornerWedge[c],
        t.face[Math.floor(k / 3)],
      ]);
    });
    layoutOf(shape, "s1").uv.forEach((x, i) => {
      expect(chunk.uvs.data[i]).toBe(Math.fround(x));
    });
    expect(chunk.form.drawRange.count).toBe(3 * t.face.length);
  });

  it("says whether seams or shells differ, and follows coordinates either way", async () => {
    const shape = first();
    const chunk = chunkOf();
    const moved = await edit(asset, "move", { du: 0.25 }, picking(asset, "faces", [0], shape.id));
    expect(chunk.setLayout(layoutOf(shapesOf(moved)[0]!, "s1"))).toBe(false);
    expect([...chunk.uvs.data.slice(0, 8)]).toEqual(
      [...layoutOf(shapesOf(moved)[0]!, "s1").uv.slice(0, 8)].map(Math.fround),
    );
    const bare = await edit(asset, "unmap", {}, picking(asset, "faces", [0], shape.id));
    expect(chunk.setLayout(layoutOf(shapesOf(bare)[0]!, "s1"))).toBe(true);
    const marks = (f: number) => chunk.shells.data[4 * chunk.faceShell.data[f]! + 3]!;
    expect([marks(0) & UNMAPPED, marks(1) & UNMAPPED]).toEqual([UNMAPPED, 0]);
  });

  it("marks faces and shells one by one, and knows them again after shells have changed their numbers", async () => {
    const shape = first();
    const chunk = chunkOf();
    const faces = shape.mesh.faceStart.length - 1;
    const marks = () => [0, 1, 2, 3].map((f) => chunk.faceMarks.data[f]!);
    chunk.setPicked("faces", ElementSet.of(faces, [1, 2]));
    chunk.setHovered({ shells: false, item: 2 });
    expect(marks()).toEqual([0, SELECTED, SELECTED | HOVERED, 0]);
    chunk.setPicked("faces", ElementSet.of(faces, [2, 3]));
    chunk.setHovered(null);
    expect(marks()).toEqual([0, 0, SELECTED, SELECTED]);
    const s = structureOf(shape.mesh, layoutOf(shape, "s1"));
    const last = (s.shellCount - 1) as Shell;
    chunk.setPicked("shells", ElementSet.of(faces, [shellName(s, last)]));
    expect(marks()).toEqual([0, 0, 0, 0]);
    expect(chunk.shells.data[4 * last + 3]! & SELECTED).toBe(SELECTED);
    const bare = await edit(asset, "unmap", {}, picking(asset, "faces", [0], shape.id));
    chunk.setLayout(layoutOf(shapesOf(bare)[0]!, "s1"));
    const shell = chunk.faceShell.data[shellName(s, last)]!;
    const picked = Array.from(
      { length: chunk.structure!.shellCount },
      (_, k) => chunk.shells.data[4 * k + 3]! & SELECTED,
    );
    expect(picked.map((m, k) => (m ? k : -1)).filter((k) => k >= 0)).toEqual([shell]);
  });

  it("paints a triangle without stretch as if it had not changed", () => {
    const chunk = chunkOf();
    chunk.setStretch(Float32Array.from([Number.NaN, 1.5]));
    expect([...chunk.stretches.data.slice(0, 3)]).toEqual([1, 1.5, 1]);
  });
});

describe("the model of the stage", () => {
  it("draws every part that is shown, a shape of many as instances, and finds a face by its number", () => {
    const model = new StageModel(new Texture(), () => {});
    expect([...model.sync(shown())].sort()).toEqual(["form", "sheet"]);
    let faces = 0;
    for (const part of asset.parts) {
      const own = asset.shapes.get(part.shape)!.mesh.faceStart.length - 1;
      for (const face of [0, own - 1]) expect(model.faceNumbered(faces + face)).toEqual({ part: part.id, face });
      faces += own;
    }
    expect([model.faceNumbered(-1), model.faceNumbered(faces)]).toEqual([null, null]);
    const instances = (pane: "form" | "sheet") =>
      model.scenes[pane].children.reduce(
        (n, o) => n + ((o as { geometry?: { instanceCount?: number } }).geometry?.instanceCount ?? 0),
        0,
      );
    expect([instances("form"), instances("sheet")]).toEqual([asset.parts.length, shapesOf(asset).length]);
    const twice = shapesOf(asset).find((s) => s.parts.length > 1)!;
    model.sync(shown({ hidden: new Set([twice.parts[0]!.id]) }));
    expect([instances("form"), instances("sheet")]).toEqual([asset.parts.length - 1, shapesOf(asset).length]);
    model.sync(shown({ hidden: new Set(twice.parts.map((p) => p.id)) }));
    expect(instances("sheet")).toBe(shapesOf(asset).length - 1);
    model.dispose();
  });

  it("touches what differs and nothing else", () => {
    const model = new StageModel(new Texture(), () => {});
    const state = shown({ kind: "faces" });
    model.sync(state);
    expect(model.sync({ ...state })).toEqual(new Set());
    const moved = layoutOf(first(), "s1").uv.map((x) => x + 2);
    expect(model.sync({ ...state, live: new Map([[first().id, moved]]) })).toEqual(new Set(["sheet"]));
    expect(model.sync(state)).toEqual(new Set(["sheet"]));
    expect(model.sync({ ...state, hover: { shape: first().id, face: 0, item: 0 } }).size).toBe(2);
    model.dispose();
  });
});

describe("lines", () => {
  it("show a seam once on the form, and on both of its sides in Sheet", () => {
    for (const shape of shapesOf(asset)) {
      const layout = layoutOf(shape, "s1");
      const t = topologyOf(shape.mesh);
      const runs = new SeamRuns(shape.mesh, layout.cut, 0.5);
      let seams = 0;
      for (let e = 0 as Edge; e < t.edgeCount; e++) if (edgeFaceCount(t, e) === 2 && getBit(layout.cut, e)) seams++;
      const count = ({ along }: { along: Float32Array }) => along.filter((x, i) => i % 2 === 0 && x >= 0).length;
      expect(count(formSeams(shape.mesh, layout.cut, runs))).toBe(seams);
      expect(count(sheetSeams(shape.mesh, layout, structureOf(shape.mesh, layout), runs))).toBe(2 * seams);
    }
  });

  it("carry a seam's ticks on from edge to edge", () => {
    const shape = first();
    const layout = layoutOf(shape, "s1");
    const { edgeVertices, edgeCount } = topologyOf(shape.mesh);
    const runs = new SeamRuns(shape.mesh, layout.cut, 0.5);
    const at = new Map<number, number[]>();
    for (let e = 0; e < edgeCount; e++) {
      const along = runs.of(e);
      if (!along) continue;
      for (const end of [0, 1]) {
        const v = edgeVertices[2 * e + end]!;
        at.set(v, [...(at.get(v) ?? []), along[0] + end * along[1]]);
      }
    }
    // Where two seams meet they meet at the same place of the thread, but where a closed run begins.
    const breaks = [...at.values()].filter((s) => s.length === 2 && Math.abs(s[0]! - s[1]!) > 1e-4);
    expect(breaks.every((s) => s.some((x) => Math.abs(x) < 1e-6))).toBe(true);
  });

  it("of wires in Sheet are those inside shells; marks of edges lie on both sides, of vertices at all their wedges", () => {
    const shape = shapesOf(asset).find((s) => s.parts.length > 1)!;
    const layout = layoutOf(shape, "s1");
    const s = structureOf(shape.mesh, layout);
    const t = topologyOf(shape.mesh);
    expect(innerWires(shape.mesh, layout, s).length).toBeLessThan(2 * t.edgeCount);
    const edge = Array.from({ length: t.edgeCount }, (_, e) => e as Edge).find((e) => getBit(layout.cut, e))!;
    const edges = ElementSet.of(t.edgeCount, [edge]);
    expect([...edgeLines(shape.mesh, edges, null).ends]).toEqual([
      t.edgeVertices[2 * edge],
      t.edgeVertices[2 * edge + 1],
    ]);
    const ends = edgeLines(shape.mesh, edges, { layout, s }).ends;
    expect([...ends].map((w) => s.wedgeVertex[w])).toEqual([0, 1, 0, 1].map((k) => t.edgeVertices[2 * edge + k]));
    const v = t.edgeVertices[2 * edge]!;
    const vertices = ElementSet.of(shape.mesh.positions.length / 3, [v]);
    expect([...wedgesOf(shape.mesh, layout, s, vertices)].sort()).toEqual(
      Array.from(s.wedgeVertex.keys())
        .filter((w) => s.wedgeVertex[w] === v)
        .sort(),
    );
  });
});

describe("what is framed", () => {
  it("in Form lies within its sphere, and is smaller where little is picked", () => {
    const box = boundsOf(asset);
    const middle = middleOf(box);
    for (const part of asset.parts) {
      const { positions: p } = asset.shapes.get(part.shape)!.mesh;
      const m = part.transform;
      for (let i = 0; i < p.length; i += 3) {
        const [x, y, z] = [p[i]!, p[i + 1]!, p[i + 2]!];
        const at = [0, 1, 2].map((k) => m[k]! * x + m[k + 4]! * y + m[k + 8]! * z + m[k + 12]!);
        expect(Math.hypot(...at.map((w, k) => w - middle[k]!))).toBeLessThanOrEqual(radiusOf(box) * 1.0001);
      }
    }
    const face = new Map([[first().id, ElementSet.of(first().mesh.faceStart.length - 1, [0])]]);
    expect(radiusOf(boundsOfFaces(asset, new Set(), face)!)).toBeLessThan(radiusOf(box));
    expect(boundsOfFaces(asset, new Set(asset.parts.map((p) => p.id)), face)).toBeNull();
  });

  it("in Sheet is all with the first tile, or the box of what is picked", () => {
    const state = { asset, set: "s1", kind: "shells", picked: new Map<string, ElementSet>() } as const;
    const box = uvBox(state, "all")!;
    expect([box.u0 <= 0, box.v0 <= 0, box.u1 >= 1, box.v1 >= 1]).toEqual([true, true, true, true]);
    expect(uvBox(state, "selection")).toBeNull();
    const shape = first();
    const layout = layoutOf(shape, "s1");
    const s = structureOf(shape.mesh, layout);
    const picked = new Map([[shape.id, ElementSet.of(shape.mesh.faceStart.length - 1, [s.shellFaces[0]!])]]);
    const own = uvBox({ ...state, picked }, "selection")!;
    let least = Infinity;
    for (let c = 0; c < s.cornerWedge.length; c++)
      if (s.faceShell[topologyOf(shape.mesh).cornerFace[c]!] === 0)
        least = Math.min(least, layout.uv[2 * s.cornerWedge[c]!]!);
    expect(own.u0).toBeCloseTo(least, 12);
    expect(own.u1).toBeGreaterThan(own.u0);
  });
});
