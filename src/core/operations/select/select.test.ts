import { describe, expect, it } from "vitest";
import { assemble, lathe } from "../../../../demo/kit";
import { assetOf, edit, picking, quiet, shapeAt } from "../../../testing/assets";
import { squares } from "../../../testing/squares";
import type { Asset } from "../../layout/asset";
import { layoutFromCorners } from "../../layout/layout";
import { faceCount, meshFromPolygons } from "../../mesh/poly-mesh";
import { topologyOf } from "../../mesh/topology";
import type { Scope } from "../operation";
import { runSelect } from "../run";
import { everything } from "../scope";

/** A drum of 8 sides, 4 rings of quads high, closed by two n-gons. */
const drum = (): Asset =>
  assemble(
    "Drum",
    "cm",
    [],
    [
      {
        name: "Drum",
        shape: lathe(
          [0, 1, 2, 3, 4].map((y): [number, number] => [2, y]),
          8,
        ),
      },
    ],
  );
const asset = drum();
const { mesh } = shapeAt(asset);
const t = topologyOf(mesh);
const height = (v: number) => mesh.positions[3 * v + 1]!;
const ends = (e: number) => [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!] as const;
const edgesWhere = (is: (a: number, b: number) => boolean) =>
  Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => is(height(ends(e)[0]), height(ends(e)[1])));

const pick = async (id: string, scope: Scope, options: unknown = {}, of = asset) => {
  const { selection, words } = await runSelect(of, id, options, scope, quiet);
  return { kind: selection.kind, items: [...(selection.items.values().next().value ?? [])], words };
};

describe("picking", () => {
  const level = edgesWhere((a, b) => a === 2 && b === 2);
  const upright = edgesWhere((a, b) => a !== b);

  it("goes along loops and across rings", async () => {
    const loop = await pick("pick-loops", picking(asset, "edges", [level[0]!]));
    expect(loop).toEqual({ kind: "edges", items: level, words: "8 edges picked." });
    // Upright edges go up to the rims, where three edges meet.
    expect((await pick("pick-loops", picking(asset, "edges", [upright[0]!]))).items).toHaveLength(4);
    const ring = await pick("pick-rings", picking(asset, "edges", [upright[0]!]));
    expect(ring.items).toHaveLength(8);
    expect(new Set(ring.items.map((e) => Math.min(...ends(e).map(height))))).toHaveLength(1);
    expect((await pick("pick-rings", picking(asset, "edges", [level[0]!]))).items).toHaveLength(5);
  });

  it("joins what is picked by the shortest ways, and leaves what none leads to", async () => {
    // Two upright edges of one line with one between them, and one a side further on.
    const line = upright.filter((e) => ends(e)[0] % 8 === ends(upright[0]!)[0] % 8);
    const [low, high] = [line[0]!, line.at(-1)!];
    const path = await pick("pick-path", picking(asset, "edges", [low, high]));
    expect(path.items).toEqual(line);
    const lone = await pick("pick-path", picking(asset, "edges", [low]));
    expect(lone.items).toEqual([low]);
    const three = await pick("pick-path", picking(asset, "edges", [low, high, level[4]!]));
    expect(three.items).toEqual(expect.arrayContaining([...line, level[4]!]));
    // A tree: every vertex but one has an edge of its own.
    expect(new Set(three.items.flatMap((e) => ends(e)))).toHaveLength(three.items.length + 1);
  });

  it("finds sharp edges and seams, on what is picked or on everything visible", async () => {
    const rims = edgesWhere((a, b) => a === b && (a === 0 || a === 4));
    expect((await pick("pick-sharp", everything(asset))).items).toEqual(rims);
    expect((await pick("pick-sharp", everything(asset), { angle: 40 })).items).toHaveLength(
      rims.length + upright.length,
    );
    expect((await pick("pick-seams", everything(asset))).words).toBe("0 edges picked.");
    const cut = await edit(asset, "cut", {}, picking(asset, "edges", level));
    expect((await pick("pick-seams", everything(cut), {}, cut)).items).toEqual(level);
  });

  it("grows, shrinks and takes what hangs together", async () => {
    expect((await pick("grow", picking(asset, "vertices", [0]))).items).toHaveLength(4);
    const faces = await pick("pick-connected", picking(asset, "faces", [0]));
    expect(faces.items).toHaveLength(faceCount(mesh));
    expect((await pick("shrink", picking(asset, "faces", [0]))).words).toBe("0 faces picked.");
  });

  it("turns a selection round: twice it is the same again, and hidden parts stay out", async () => {
    const some = [0, 3, 7];
    const rest = await pick("invert", picking(asset, "edges", some));
    expect(rest.items).toHaveLength(t.edgeCount - some.length);
    expect((await pick("invert", picking(asset, "edges", rest.items))).items).toEqual(some);
    const hidden = { ...picking(asset, "faces", [0]), parts: [] };
    expect((await pick("invert", hidden)).words).toBe("0 faces picked.");
  });

  it("goes over to another kind, and to the rim", async () => {
    const faces = await pick("convert", picking(asset, "edges", [level[0]!]));
    expect(faces).toMatchObject({ kind: "faces", words: "2 faces picked." });
    const inside = { to: "edges", how: "contained" };
    expect((await pick("convert", picking(asset, "faces", faces.items), inside)).items).toEqual([level[0]]);
    const rim = await pick("pick-rim", picking(asset, "faces", faces.items));
    expect(rim).toMatchObject({ kind: "edges", words: "6 edges picked." });
    expect(rim.items).not.toContain(level[0]);
    await expect(pick("pick-rim", picking(asset, "edges", [0]))).rejects.toThrow("Pick faces or shells first.");
  });

  it("takes part of a loop, and says where none leads", async () => {
    const ring = level.map((e) => ends(e));
    const start = level[0]!;
    // The edge two further on, by the vertices they share.
    const next = (e: number) => level.filter((o) => o !== e && ends(o).some((v) => ends(e).includes(v)));
    const second = next(start)[0]!;
    const third = next(second).find((e) => e !== start)!;
    const part = await pick("pick-loop-part", picking(asset, "edges", [start, third]));
    expect(part.items).toEqual([start, second, third].sort((a, b) => a - b));
    expect(ring).toHaveLength(8);
    await expect(pick("pick-loop-part", picking(asset, "edges", [start]))).rejects.toThrow("Pick two edges of a loop");
    await expect(pick("pick-loop-part", picking(asset, "edges", [start, upright[0]!]))).rejects.toThrow(
      "No loop leads",
    );
  });

  it("takes the row of quads that two faces lie in", async () => {
    // The drum's quads: 4 rows of 8, one above the other.
    const quads = Array.from({ length: faceCount(mesh) }, (_, f) => f).filter(
      (f) => mesh.faceStart[f + 1]! - mesh.faceStart[f]! === 4,
    );
    const low = (f: number) =>
      Math.min(...[...mesh.cornerVertex.subarray(mesh.faceStart[f]!, mesh.faceStart[f + 1]!)].map(height));
    const ring = quads.filter((f) => low(f) === 1);
    expect((await pick("pick-strip", picking(asset, "faces", ring.slice(0, 2)))).items).toEqual(ring);
    expect((await pick("pick-strip", picking(asset, "faces", [ring[0]!, ring[2]!]))).items).toEqual(ring.slice(0, 3));
    await expect(pick("pick-strip", picking(asset, "faces", [ring[0]!]))).rejects.toThrow(
      "Pick two faces of a row on Drum",
    );
  });

  it("takes the mirror image as well, of every kind", async () => {
    const middle = (f: number) => {
      const corners = [...mesh.cornerVertex.subarray(mesh.faceStart[f]!, mesh.faceStart[f + 1]!)];
      return [0, 1, 2].map((d) => corners.reduce((sum, v) => sum + mesh.positions[3 * v + d]!, 0) / corners.length);
    };
    const side = Array.from({ length: faceCount(mesh) }, (_, f) => f).find((f) => middle(f)[0]! > 0.5)!;
    const both = await pick("pick-mirror", picking(asset, "faces", [side]));
    expect(both.items).toHaveLength(2);
    const [x, y, z] = middle(both.items.find((f) => f !== side)!);
    expect([x, y, z]).toEqual(middle(side).map((c, d) => expect.closeTo(d ? c : -c, 9)));
    for (const kind of ["vertices", "edges", "faces"] as const) {
      const some = [0, 5, 9];
      const other = await pick("pick-mirror", picking(asset, kind, some), { axis: "z", keep: "other" });
      const back = await pick("pick-mirror", picking(asset, kind, other.items), { axis: "z", keep: "other" });
      expect(back.items).toEqual(some);
    }
  });

  it("says what must be picked first", async () => {
    await expect(pick("grow", everything(asset))).rejects.toThrow(
      "Pick vertices or UV points or edges or faces or shells first.",
    );
    await expect(pick("pick-loops", picking(asset, "faces", [0]))).rejects.toThrow("Pick edges first.");
  });
});

describe("picking what is wrong", () => {
  // A sound square, one that lies half on it, one without coordinates below, one in the next tile and mirrored.
  const sheet = squares([
    [0.1, 0.1, 0.2, 0.2],
    [0.2, 0.1, 0.2, 0.2],
    [0.6, 0.6, 0.4, 0.1],
    [1.3, 0.1, -0.2, 0.2],
  ]);
  const faces = async (what: string, limit = 1.5) =>
    (await pick("pick-faulty", everything(sheet), { what, limit }, sheet)).items;

  it("finds the faces by their fault", async () => {
    expect(await faces("overlapping")).toEqual([0, 1]);
    expect(await faces("stretched")).toEqual([2]);
    expect(await faces("stretched", 5)).toEqual([]);
    expect(await faces("mirrored")).toEqual([3]);
    expect(await faces("flipped")).toEqual([]);
    expect(await faces("unmapped")).toEqual([]);
    const bare = await edit(sheet, "unmap", {}, picking(sheet, "faces", [1]));
    expect((await pick("pick-faulty", everything(bare), { what: "unmapped" }, bare)).items).toEqual([1]);
  });

  it("finds flipped faces and those without area, of shells that hold others", async () => {
    // Three quads in a row, one shell; the corners of the last are drawn over to the left, and then onto its neighbour.
    const row = meshFromPolygons(
      [0, 1, 2, 3].flatMap((x) => [x, 0, 0, x, 1, 0]),
      [0, 1, 2].map((i) => [2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1]),
    );
    const at = (u: number) =>
      assetOf(
        row,
        layoutFromCorners(
          row,
          Float64Array.from([...row.cornerVertex].flatMap((v) => [v < 6 ? (v >> 1) / 4 : u, (v & 1) / 4])),
        ),
      );
    const found = async (u: number, what: string) =>
      (await pick("pick-faulty", everything(at(u)), { what }, at(u))).items;
    expect(await found(0.75, "flipped")).toEqual([]);
    expect(await found(0.3, "flipped")).toEqual([2]);
    expect(await found(0.5, "collapsed")).toEqual([2]);
  });

  it("finds small shells by the texels that they take", async () => {
    // The squares take 0.04 of a tile of 2048 texels a side, which is 410 by 410: the strip as much.
    expect((await pick("pick-small", everything(sheet), { side: 409 }, sheet)).items).toEqual([]);
    expect((await pick("pick-small", everything(sheet), { side: 411 }, sheet)).items).toEqual([0, 1, 2, 3]);
    const shrunk = await edit(sheet, "move", { scale: 0.1 }, picking(sheet, "shells", [1]));
    expect((await pick("pick-small", everything(shrunk), { side: 42 }, shrunk)).items).toEqual([1]);
  });

  it("finds the shells of a tile", async () => {
    const second = await pick("pick-tile", everything(sheet), { tile: 1002 }, sheet);
    expect(second).toEqual({ kind: "shells", items: [3], words: "1 shell in tile 1002." });
    await expect(pick("pick-tile", everything(sheet), { tile: 1005 }, sheet)).rejects.toThrow(
      "No shell lies in tile 1005.",
    );
  });
});
