import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { type Asset, drawnParts, placedShape, type ShapeId, shapesOf } from "@/core/layout/asset";
import { getBit } from "@/core/layout/bits";
import { structureOf } from "@/core/layout/layout";
import type { Edge } from "@/core/mesh/indices";
import { edgeFaceCount, topologyOf } from "@/core/mesh/topology";
import { trianglesOf } from "@/core/mesh/triangulate";
import { layoutOf } from "@/core/operations/scope";
import { edit, laidOut, picking } from "@/testing/assets";
import { marketCart } from "../../../demo/models/market-cart";
import { useBench } from "../session/store";
import { edgeSegments, formLines, type LinesOf, sheetLines, vertexPoints, wireGeometry } from "./lines";
import { itemAt, itemsIn, projector } from "./pointing";
import {
  buildScene,
  drawnFace,
  faceTexture,
  fillColors,
  fillStretch,
  fillTints,
  fillUv,
  HIDDEN,
  HOVERED,
  hideParts,
  markFaces,
  type Scene,
  SELECTED,
  UNMAPPED,
} from "./scene";
import { uvBox } from "./sheet-view";

// What the panes draw and how they are pointed into, on the market cart: parts that share shapes, and that are mirrored.

let asset: Asset;
let scene: Scene;
const none: ReadonlySet<string> = new Set();
const all: LinesOf = { wants: () => true, live: new Map() };
const marks = (texture: ReturnType<typeof faceTexture>, face: number) =>
  (texture.image.data as Uint8Array)[4 * face + 3]!;

beforeAll(async () => {
  asset = await laidOut(marketCart());
  scene = buildScene(asset);
});
beforeEach(() => useBench.setState({ ...useBench.getInitialState(), asset, set: "s1", kind: "shells" }, true));

describe("the scene", () => {
  it("draws every part, each shape's first part first, and finds a face by its number", () => {
    expect(scene.drawn.map((d) => d.part.id).sort()).toEqual(asset.parts.map((p) => p.id).sort());
    const shapes = shapesOf(asset).length;
    expect(scene.drawn.slice(0, shapes).every((d) => d.first)).toBe(true);
    expect(scene.drawn.slice(shapes).some((d) => d.first)).toBe(false);
    let faces = 0;
    for (const d of scene.drawn) {
      expect(d.firstFace).toBe(faces);
      for (const face of [0, d.part.mesh.faceStart.length - 2])
        expect(drawnFace(scene, faces + face)).toEqual({ drawn: d, face });
      faces += d.part.mesh.faceStart.length - 1;
    }
    expect(scene.faces).toBe(faces);
    expect([drawnFace(scene, -1), drawnFace(scene, faces)]).toEqual([null, null]);
    const flat = shapesOf(asset).reduce((n, s) => n + trianglesOf(s.mesh).face.length, 0);
    expect(scene.flat.drawRange.count).toBe(3 * flat);
  });

  it("lies within its sphere", () => {
    const p = scene.geometry.getAttribute("position").array;
    for (let i = 0; i < p.length; i += 3) {
      const d = Math.hypot(p[i]! - scene.centre[0], p[i + 1]! - scene.centre[1], p[i + 2]! - scene.centre[2]);
      expect(d).toBeLessThanOrEqual(scene.radius * 1.0001);
    }
  });

  it("writes coordinates of all, then of those alone that follow the pointer", () => {
    fillUv(scene, asset, "s1");
    const uv = scene.geometry.getAttribute("uv").array;
    const before = Float32Array.from(uv);
    const shape = shapesOf(asset)[1]!;
    const live = new Map([[shape.id, layoutOf(shape, "s1").uv.map((x) => x + 2)]]);
    fillUv(scene, asset, "s1", new Set([shape.id]), live);
    for (const d of scene.drawn) {
      const count = trianglesOf(d.part.mesh).face.length;
      const shift = d.part.shape === shape.id ? 2 : 0;
      for (let k = 6 * d.firstTriangle; k < 6 * (d.firstTriangle + count); k++)
        expect(uv[k]).toBeCloseTo(before[k]! + shift, 5);
    }
    fillUv(scene, asset, "s1");
  });

  it("paints stretch by triangle, and one that has none as if it had no stretch", () => {
    const shape = shapesOf(asset)[0]!;
    const values = Float32Array.from(trianglesOf(shape.mesh).face, (_, i) => (i ? 1 + i / 100 : Number.NaN));
    fillStretch(scene, new Map([[shape.id, values]]));
    const out = scene.geometry.getAttribute("stretch").array;
    for (const d of scene.drawn.filter((x) => x.part.shape === shape.id))
      values.forEach((v, i) => {
        for (let k = 0; k < 3; k++) expect(out[3 * (d.firstTriangle + i) + k]).toBeCloseTo(Number.isNaN(v) ? 1 : v, 5);
      });
  });

  it("keeps colours, tints and marks of faces apart", async () => {
    const [colors, state] = [faceTexture(scene.faces), faceTexture(scene.faces)];
    fillColors(colors, scene, asset, "s1");
    const used = new Set(
      scene.drawn.map((d) => (colors.image.data as Uint8Array).slice(4 * d.firstFace, 4 * d.firstFace + 3).join()),
    );
    expect(used.size).toBeGreaterThan(2);
    const shape = shapesOf(asset)[0]!;
    const bare = await edit(asset, "unmap", {}, picking(asset, "faces", [0], shape.id));
    fillTints(state, scene, bare, "s1");
    const first = scene.drawn.find((d) => d.part.shape === shape.id)!;
    expect(marks(state, first.firstFace) & UNMAPPED).toBe(UNMAPPED);
    expect(marks(state, first.firstFace + 1) & UNMAPPED).toBe(0);
    markFaces(state, scene, SELECTED, new Map([[shape.id, [1, 2]]]));
    markFaces(state, scene, HOVERED, new Map([[shape.id, [2]]]));
    // Every part of the shape shows it.
    for (const d of scene.drawn.filter((x) => x.part.shape === shape.id))
      expect([0, 1, 2, 3].map((f) => marks(state, d.firstFace + f) & (SELECTED | HOVERED))).toEqual([
        0,
        SELECTED,
        SELECTED | HOVERED,
        0,
      ]);
    markFaces(state, scene, HOVERED, new Map());
    expect(marks(state, first.firstFace + 2) & (SELECTED | HOVERED)).toBe(SELECTED);
    hideParts(state, scene, new Set([first.part.id]));
    for (const d of scene.drawn) expect(marks(state, d.firstFace) & HIDDEN).toBe(d === first ? HIDDEN : 0);
    hideParts(state, scene, none);
    expect(marks(state, first.firstFace) & HIDDEN).toBe(0);
  });
});

describe("lines", () => {
  const seams = (wanted: (id: ShapeId) => boolean = () => true) =>
    shapesOf(asset)
      .filter((s) => wanted(s.id))
      .reduce((n, shape) => {
        const t = topologyOf(shape.mesh);
        const layout = layoutOf(shape, "s1");
        for (let e = 0 as Edge; e < t.edgeCount; e++) if (edgeFaceCount(t, e) === 2 && getBit(layout.cut, e)) n++;
        return n;
      }, 0);

  it("show a seam once on every part in Form, and on both of its sides in Sheet", () => {
    const form = formLines(scene, asset, "s1", none);
    const drawn = drawnParts(asset).reduce((n, part) => {
      const t = topologyOf(part.mesh);
      const layout = layoutOf(part, "s1");
      for (let e = 0 as Edge; e < t.edgeCount; e++) if (edgeFaceCount(t, e) === 2 && getBit(layout.cut, e)) n++;
      return n;
    }, 0);
    expect(form.seams).toHaveLength(6 * drawn);
    expect(form.ticks.length).toBeGreaterThan(0);
    expect(sheetLines(asset, "s1", none, all).seams).toHaveLength(12 * seams());
  });

  it("are those of the shapes wanted, where they follow the pointer, and of none that is hidden", () => {
    const shape = shapesOf(asset)[0]!;
    const moved = layoutOf(shape, "s1").uv.map((x) => x + 1);
    const live = new Map([[shape.id, moved]]);
    const moving = sheetLines(asset, "s1", none, { wants: (id) => id === shape.id, live });
    const still = sheetLines(asset, "s1", none, { wants: (id) => id !== shape.id, live: new Map() });
    expect(moving.seams).toHaveLength(12 * seams((id) => id === shape.id));
    expect(moving.seams.length + still.seams.length).toBe(12 * seams());
    const plain = sheetLines(asset, "s1", none, { wants: (id) => id === shape.id, live: new Map() });
    moving.seams.forEach((x, i) => {
      expect(x).toBeCloseTo(plain.seams[i]! + (i % 3 === 2 ? 0 : 1), 9);
    });
    const hidden = new Set(asset.parts.map((p) => p.id));
    expect(sheetLines(asset, "s1", hidden, all)).toEqual({ seams: [], ticks: [], borders: [] });
    expect(formLines(scene, asset, "s1", hidden)).toEqual({ seams: [], ticks: [], borders: [] });
  });

  it("are wires of all edges in Form, and of those inside shells in Sheet", () => {
    const count = (pane: "form" | "sheet", of = all) =>
      wireGeometry(scene, asset, "s1", none, pane, of).getAttribute("position").count / 2;
    expect(count("form")).toBe(drawnParts(asset).reduce((n, p) => n + topologyOf(p.mesh).edgeCount, 0));
    const edges = shapesOf(asset).reduce((n, s) => n + topologyOf(s.mesh).edgeCount, 0);
    const inner = count("sheet");
    expect(inner).toBeLessThan(edges);
    const shape = shapesOf(asset)[0]!;
    const own = count("sheet", { wants: (id) => id === shape.id, live: new Map() });
    expect(own + count("sheet", { wants: (id) => id !== shape.id, live: new Map() })).toBe(inner);
  });

  it("of picked edges lie on every part in Form, and points of picked vertices where their wedges lie in Sheet", () => {
    const shape = shapesOf(asset).find((s) => s.parts.length > 1)!;
    const t = topologyOf(shape.mesh);
    const layout = layoutOf(shape, "s1");
    const edge = Array.from({ length: t.edgeCount }, (_, e) => e as Edge).find((e) => getBit(layout.cut, e))!;
    const picked = new Map([[shape.id, new Set<number>([edge])]]);
    expect(edgeSegments(scene, asset, "s1", picked, "form")).toHaveLength(6 * shape.parts.length);
    expect(edgeSegments(scene, asset, "s1", picked, "sheet")).toHaveLength(12);
    const s = structureOf(shape.mesh, layout);
    const v = t.edgeVertices[2 * edge]!;
    const wedges = [...s.wedgeVertex].filter((x) => x === v).length;
    const vertex = new Map([[shape.id, new Set([v])]]);
    expect(vertexPoints(scene, asset, "s1", vertex, "sheet")).toHaveLength(3 * wedges);
    expect(vertexPoints(scene, asset, "s1", vertex, "form")).toHaveLength(3 * shape.parts.length);
  });
});

describe("pointing", () => {
  // One pixel a hundredth of a tile, v up.
  const pixels = (x: number, y: number): [number, number] => [100 * x, 100 * (1 - y)];
  const project = () => projector(scene, asset, "s1", "sheet", pixels);

  it("finds the face, its shell, and the nearest of its edges and corners", () => {
    const d = scene.drawn[0]!;
    const { mesh } = d.part;
    const at = itemAt.bind(null, scene, asset, "s1");
    const corner = mesh.faceStart[3]!;
    const [x, y] = project()(d, corner);
    expect(at("faces", d.firstFace + 3, project(), x, y)).toMatchObject({ shape: d.part.shape, item: 3, face: 3 });
    expect(at("vertices", d.firstFace + 3, project(), x, y)!.item).toBe(mesh.cornerVertex[corner]);
    const t = topologyOf(mesh);
    const [bx, by] = project()(d, t.cornerNext[corner]!);
    expect(at("edges", d.firstFace + 3, project(), (x + bx) / 2, (y + by) / 2)!.item).toBe(t.cornerEdge[corner]);
    const s = structureOf(mesh, layoutOf(placedShape(asset, d.part.shape), "s1"));
    expect(s.faceShell[at("shells", d.firstFace + 3, project(), x, y)!.item]).toBe(s.faceShell[3]);
    expect(at("faces", scene.faces, project(), 0, 0)).toBeNull();
  });

  it("takes edges and corners of a box only whole, faces and shells as they are seen", () => {
    const d = scene.drawn[0]!;
    const ids = new Set([d.firstFace, d.firstFace + 1]);
    const everywhere = { x0: -1e9, y0: -1e9, x1: 1e9, y1: 1e9 };
    const nowhere = { x0: 1e8, y0: 1e8, x1: 1e9, y1: 1e9 };
    const within = (kind: "edges" | "vertices" | "faces" | "shells", box: typeof everywhere) =>
      itemsIn(scene, asset, "s1", kind, ids, project(), box).get(d.part.shape)!.size;
    expect(within("faces", nowhere)).toBe(2);
    expect(within("shells", nowhere)).toBeGreaterThan(0);
    expect([within("edges", nowhere), within("vertices", nowhere)]).toEqual([0, 0]);
    expect(within("vertices", everywhere)).toBeGreaterThanOrEqual(4);
    expect(within("edges", everywhere)).toBeGreaterThanOrEqual(within("vertices", everywhere));
  });
});

describe("what is framed in Sheet", () => {
  it("is all with the first tile, or the box of what is picked", () => {
    const box = uvBox("all")!;
    expect(box.u0).toBeLessThanOrEqual(0);
    expect(box.u1).toBeGreaterThanOrEqual(1);
    expect(uvBox("selection")).toBeNull();
    const shape = shapesOf(asset)[0]!;
    const layout = layoutOf(shape, "s1");
    const s = structureOf(shape.mesh, layout);
    useBench.setState({ picked: new Map([[shape.id, new Set<number>([s.shellFaces[0]!])]]) });
    const own = uvBox("selection")!;
    let least = Infinity;
    for (let c = 0; c < s.cornerWedge.length; c++)
      if (s.faceShell[topologyOf(shape.mesh).cornerFace[c]!] === 0)
        least = Math.min(least, layout.uv[2 * s.cornerWedge[c]!]!);
    expect(own.u0).toBeCloseTo(least, 12);
    expect(own.u1).toBeGreaterThan(own.u0);
  });
});
