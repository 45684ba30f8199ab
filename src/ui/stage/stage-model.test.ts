import { Texture } from "three";
import { beforeAll, describe, expect, it } from "vitest";
import { type Asset, shapesOf } from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { shellName, structureOf } from "@/core/layout/layout";
import { pointNames } from "@/core/layout/point-names";
import type { Edge, Shell } from "@/core/mesh/indices";
import { faceCount } from "@/core/mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "@/core/mesh/topology";
import { trianglesOf } from "@/core/mesh/triangulate";
import { layoutOf } from "@/core/operations/scope";
import { ElementSet } from "@/core/select/element-set";
import { edit, laidOutModel, picking } from "@/testing/assets";
import { marketCart } from "../../../demo/models/market-cart";
import { newBench } from "../session/store";
import { boundsOf, boundsOfFaces, middleOf, radiusOf } from "./bounds";
import { Chunk } from "./chunk";
import { drawnShapes, planChunks } from "./chunk-plan";
import type { Shown } from "./differences";
import { dotsOfItems, edgeLines, formSeams, formWires, innerWires, SeamRuns, sheetSeams } from "./line-ends";
import { HOVERED, LEFT_OUT, SELECTED, UNMAPPED } from "./shaders";
import { StageModel } from "./stage-model";
import { uvBox } from "./uv-box";

// What the stage draws, on the market cart: parts that share shapes, and that are mirrored. Nothing is drawn here; these
// are the tables that the graphics card is sent.

let asset: Asset;
beforeAll(async () => {
  asset = await laidOutModel(marketCart);
});

const shown = (more: Partial<Shown> = {}): Shown => newBench({ asset, set: "s1", ...more }).getState();
const first = () => shapesOf(asset)[0]!;
/** The chunk that holds a shape, filled in, and the shape's slot in it. */
function slotOf(shape = first()) {
  const plan = planChunks(drawnShapes(asset, "s1")).find((p) => p.shapes.some((s) => s.id === shape.id))!;
  const chunk = new Chunk(plan.shapes);
  for (const _ of chunk.fill());
  for (const { id } of plan.shapes) chunk.slots.get(id)!.setLayout(layoutOf(asset.shapes.get(id)!, "s1"));
  return { chunk, slot: chunk.slots.get(shape.id)! };
}

/** A model that has followed a state and has filled in all there is. */
function modelOf(state: Shown): StageModel {
  const model = new StageModel(
    () => new Texture(),
    () => {},
  );
  model.sync(state);
  model.work(Infinity);
  return model;
}

describe("a shape as it is drawn", () => {
  it("finds the vertex, wedge, face and part of every corner, for every part", () => {
    for (const shape of shapesOf(asset)) {
      const { chunk, slot } = slotOf(shape);
      const { base } = slot;
      const t = trianglesOf(shape.mesh);
      const s = structureOf(shape.mesh, layoutOf(shape, "s1"));
      const of = (name: string) => chunk.form.getAttribute(name).array;
      for (let copy = 0; copy < slot.copies; copy++)
        t.corners.forEach((c, k) => {
          const at = slot.cornerOf(copy) + k;
          const found = [of("vertex")[at], of("wedge")[at], of("face")[at]];
          const v = base.vertex + shape.mesh.cornerVertex[c]!;
          expect(found).toEqual([v, base.wedge + s.cornerWedge[c]!, base.face + t.face[Math.floor(k / 3)]!]);
          if (!chunk.instanced) expect(of("part")[at]).toBe(base.part + copy);
        });
      const uv = chunk.uvs.data.subarray(2 * base.wedge);
      layoutOf(shape, "s1").uv.forEach((x, i) => {
        expect(uv[i]).toBe(Math.fround(x));
      });
      shape.mesh.positions.forEach((x, i) => {
        expect(chunk.points.data[4 * (base.vertex + Math.floor(i / 3)) + (i % 3)]).toBe(Math.fround(x));
      });
    }
  });

  it("stands where its parts are, and is shown in Sheet as long as one of them is", () => {
    const shape = shapesOf(asset).find((s) => s.parts.length > 1)!;
    const { chunk, slot } = slotOf(shape);
    const place = (i: number) => [
      ...chunk.places.data.slice(16 * (slot.base.part + i), 16 * (slot.base.part + i) + 16),
    ];
    const { parts } = slot.shape;
    chunk.setParts(shape.id, parts, new Set([parts[0]!.id]));
    expect([place(0)[12], place(0)[13], place(1)[12], place(1)[13]]).toEqual([0, 1, 1, 0]);
    const m = parts[1]!.transform;
    expect(place(1).slice(0, 4)).toEqual([m[0], m[4], m[8], m[12]].map((x) => Math.fround(x!)));
    expect(place(1)[14]! + slot.base.face).toBe(parts[1]!.firstFace);
    chunk.setParts(shape.id, parts, new Set(parts.map((p) => p.id)));
    expect(place(0)[13]).toBe(0);
  });

  it("says whether seams or shells differ, and follows coordinates either way", async () => {
    const shape = first();
    const { chunk, slot } = slotOf();
    const moved = await edit(asset, "move", { du: 0.25 }, picking(asset, "faces", [0], shape.id));
    expect(slot.setLayout(layoutOf(shapesOf(moved)[0]!, "s1"))).toBe(false);
    const uv = chunk.uvs.data.subarray(2 * slot.base.wedge);
    expect([...uv.slice(0, 8)]).toEqual([...layoutOf(shapesOf(moved)[0]!, "s1").uv.slice(0, 8)].map(Math.fround));
    const bare = await edit(asset, "unmap", {}, picking(asset, "faces", [0], shape.id));
    expect(slot.setLayout(layoutOf(shapesOf(bare)[0]!, "s1"))).toBe(true);
    const marks = (f: number) => chunk.shells.data[4 * chunk.faceShell.data[slot.base.face + f]! + 3]!;
    expect([marks(0) & UNMAPPED, marks(1) & UNMAPPED]).toEqual([UNMAPPED, 0]);
  });

  it("marks faces and shells one by one, and knows them again after shells have changed their numbers", async () => {
    const shape = first();
    const { chunk, slot } = slotOf();
    const faces = faceCount(shape.mesh);
    const marks = () => [0, 1, 2, 3].map((f) => chunk.faceMarks.data[slot.base.face + f]!);
    slot.setPicked("faces", ElementSet.of(faces, [1, 2]));
    slot.setHovered({ shells: false, item: 2 });
    expect(marks()).toEqual([0, SELECTED, SELECTED | HOVERED, 0]);
    slot.setPicked("faces", ElementSet.of(faces, [2, 3]));
    slot.setHovered(null);
    expect(marks()).toEqual([0, 0, SELECTED, SELECTED]);
    const s = structureOf(shape.mesh, layoutOf(shape, "s1"));
    const last = (s.shellCount - 1) as Shell;
    slot.setPicked("shells", ElementSet.of(faces, [shellName(s, last)]));
    expect(marks()).toEqual([0, 0, 0, 0]);
    expect(chunk.shells.data[4 * (slot.base.shell + last) + 3]! & SELECTED).toBe(SELECTED);
    const bare = await edit(asset, "unmap", {}, picking(asset, "faces", [0], shape.id));
    slot.setLayout(layoutOf(shapesOf(bare)[0]!, "s1"));
    const shell = chunk.faceShell.data[slot.base.face + shellName(s, last)]! - slot.base.shell;
    const picked = Array.from(
      { length: slot.structure!.shellCount },
      (_, k) => chunk.shells.data[4 * (slot.base.shell + k) + 3]! & SELECTED,
    );
    expect(picked.map((m, k) => (m ? k : -1)).filter((k) => k >= 0)).toEqual([shell]);
  });

  it("paints a triangle without stretch as if it had not changed", () => {
    const { chunk, slot } = slotOf();
    slot.setStretch(Float32Array.from([Number.NaN, 1.5]));
    const at = slot.cornerOf(0) / 3;
    expect([...chunk.stretches.data.slice(at, at + 3)]).toEqual([1, 1.5, 1]);
  });
});

describe("the model of the stage", () => {
  it("finds every drawn face by its number", () => {
    const model = modelOf(shown());
    let faces = 0;
    for (const part of asset.parts) {
      const own = faceCount(asset.shapes.get(part.shape)!.mesh);
      for (const face of [0, own - 1]) expect(model.faceNumbered(faces + face)).toEqual({ part: part.id, face });
      faces += own;
    }
    expect([model.faceNumbered(-1), model.faceNumbered(faces)]).toEqual([null, null]);
    model.dispose();
  });

  it("draws small shapes together, a large one alone, and lets go of no chunk that still serves", async () => {
    const shapes = drawnShapes(asset, "s1");
    const plan = planChunks(shapes);
    expect(plan.length).toBeLessThan(shapes.length);
    expect(plan.flatMap((p) => p.shapes.map((s) => s.id)).sort()).toEqual(shapes.map((s) => s.id).sort());
    const moved = await edit(asset, "move", { du: 0.25 }, picking(asset, "faces", [0], first().id));
    expect(planChunks(drawnShapes(moved, "s1")).map((p) => p.key)).toEqual(plan.map((p) => p.key));
    const large = {
      ...shapes[0]!,
      parts: Array.from({ length: 400 }, (_, i) => ({ ...shapes[0]!.parts[0]!, id: `${i}` })),
    };
    expect(planChunks([large, ...shapes.slice(1)])[0]!.shapes).toHaveLength(1);
  });

  it("touches what differs and nothing else", () => {
    const state = shown({ kind: "faces" });
    const model = modelOf(state);
    const now = (next: Shown) => {
      const { looks, places } = model.sync(next);
      return [[...looks].sort(), [...places].sort()];
    };
    expect(now({ ...state })).toEqual([[], []]);
    const moved = layoutOf(first(), "s1").uv.map((x) => x + 2);
    expect(now({ ...state, live: new Map([[first().id, moved]]) })).toEqual([["sheet"], ["sheet"]]);
    expect(now(state)).toEqual([["sheet"], ["sheet"]]);
    // Marks change how things look, and not which face is under a pixel.
    expect(now({ ...state, hover: { shape: first().id, face: 0, item: 0 } })).toEqual([["form", "sheet"], []]);
    expect(now({ ...state, hidden: new Set([asset.parts[0]!.id]) })[1]).toEqual(["form", "sheet"]);
    model.dispose();
  });

  it("is filled in by stretches, and shows what came meanwhile", () => {
    const model = new StageModel(
      () => new Texture(),
      () => {},
    );
    model.sync(shown());
    expect(model.work(-Infinity)).toEqual({ more: true, ready: false });
    expect(model.scenes.form.children.filter((o) => o.type === "Mesh")).toEqual([]);
    const edges = ElementSet.of(topologyOf(first().mesh).edgeCount, [0]);
    model.sync(shown({ kind: "edges", picked: new Map([[first().id, edges]]) }));
    expect(model.work(Infinity)).toEqual({ more: false, ready: true });
    const over = model.scenes.form.children.find((o) => o.type === "Group")!;
    const picked = over.children.flatMap((g) => g.children).filter((o) => o.renderOrder === 7);
    expect(picked).toHaveLength(1);
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

  it("of isolated faces are those of their edges, and come back with the others", () => {
    const shape = first();
    const { chunk, slot } = slotOf(shape);
    const faces = shape.mesh.faceStart.length - 1;
    const alone = ElementSet.of(faces, [0]);
    const corners = shape.mesh.faceStart[1]!;
    expect(formWires(shape.mesh, alone)).toHaveLength(2 * corners);
    expect(formWires(shape.mesh, null)).toHaveLength(2 * topologyOf(shape.mesh).edgeCount);
    const left = () =>
      chunk.faceMarks.data.slice(slot.base.face, slot.base.face + faces).filter((m) => (m & LEFT_OUT) !== 0).length;
    expect([slot.setAlone(alone), left()]).toEqual([true, faces - 1]);
    expect([slot.setAlone(null), left(), slot.setAlone(null)]).toEqual([true, 0, false]);
    const model = modelOf(shown());
    // Other faces lie under the pointer then.
    const { places } = model.sync(shown({ alone: new Map([[shape.id, alone]]) }));
    expect([...places].sort()).toEqual(["form", "sheet"]);
    model.dispose();
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
    const wedges = Array.from(s.wedgeVertex.keys()).filter((w) => s.wedgeVertex[w] === v);
    expect([...dotsOfItems(shape.mesh, "vertices", vertices, s, layout)].sort()).toEqual(wedges.sort());
    // Each of its points in the sheet is picked by itself, and stands at the vertex on the form.
    const point = ElementSet.of(s.cornerWedge.length, [pointNames(s)[wedges[0]!]!]);
    expect([...dotsOfItems(shape.mesh, "points", point, s, layout)]).toEqual([wedges[0]]);
    expect([...dotsOfItems(shape.mesh, "points", point, s, null)]).toEqual([v]);
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
    const face = new Map([[first().id, ElementSet.of(faceCount(first().mesh), [0])]]);
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
    const live = new Map([[shape.id, layout.uv.map((x) => x + 3)]]);
    expect(uvBox({ ...state, live }, "all")!.u1).toBeGreaterThan(box.u1 + 1);
    const s = structureOf(shape.mesh, layout);
    const picked = new Map([[shape.id, ElementSet.of(faceCount(shape.mesh), [s.shellFaces[0]!])]]);
    const own = uvBox({ ...state, picked }, "selection")!;
    let least = Infinity;
    for (let c = 0; c < s.cornerWedge.length; c++)
      if (s.faceShell[topologyOf(shape.mesh).cornerFace[c]!] === 0)
        least = Math.min(least, layout.uv[2 * s.cornerWedge[c]!]!);
    expect(own.u0).toBeCloseTo(least, 12);
    expect(own.u1).toBeGreaterThan(own.u0);
  });
});
