import { describe, expect, it } from "vitest";
import { box, lathe, placed } from "../../../../demo/kit";
import { marketCart } from "../../../../demo/models/market-cart";
import { edit, assetOf as meshAsset, picking, quiet, shapeAt } from "../../../testing/assets";
import { measure } from "../../check/measure";
import { type Asset, shapesOf } from "../../layout/asset";
import type { Edge } from "../../mesh/indices";
import { meshFromPolygons } from "../../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { IDENTITY, type Mat4 } from "../../mesh/transform";
import { FAULTS, type FaultKind, findFaults } from "../../prepare/faults";
import { mendOfFault } from "../registry";
import { runEdit, runSelect } from "../run";
import { everything } from "../scope";

const assetOf = (points: number[], faces: number[][], transform: Mat4 = IDENTITY): Asset =>
  meshAsset(meshFromPolygons(points, faces), undefined, transform);
const cube = (transform: Mat4 = IDENTITY) => {
  const s = box([2, 2, 2]);
  return assetOf(s.points.flat(), s.faces, transform);
};
const kinds = (asset: Asset) => [...findFaults(asset).keys()].sort();

describe("the report", () => {
  it("finds nothing on a sound part", () => {
    expect(kinds(cube())).toEqual([]);
  });

  it("names a repair that exists for every kind of fault", async () => {
    for (const kind of Object.keys(FAULTS) as FaultKind[]) {
      const { op, options } = mendOfFault(kind);
      await expect(runEdit(cube(), op.id, options, everything(cube()), quiet)).rejects.toThrow(/\.$/);
    }
  });

  it("finds faults of transforms: turned, uneven and mirrored", () => {
    expect(kinds(cube(placed([1, 2, 3])))).toEqual([]);
    expect(kinds(cube(placed([0, 0, 0], 30)))).toEqual(["turned"]);
    expect(kinds(cube(placed([0, 0, 0], 0, [1, 2, 1])))).toEqual(["uneven"]);
    expect(kinds(cube(placed([0, 0, 0], 0, [-1, 1, 1])))).toEqual(["mirrored"]);
  });
});

describe("repairs", () => {
  it("joins doubled vertices across a crack, and tells how near the others are", async () => {
    const asset = assetOf(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 1.001, 0, 0, 0, 1, 0, 1, 1, 0],
      [
        [0, 1, 2],
        [3, 5, 4],
      ],
    );
    expect(kinds(asset)).toEqual(["borders", "doubled"]);
    const found = await runSelect(asset, "pick-doubled", { distance: 0.01 }, everything(asset), quiet);
    expect(found.words).toBe(
      "2 pairs of vertices within 0.01 cm. The nearest vertices beyond that without an edge between them are 1 cm apart.",
    );
    expect([...found.selection.items.get("p1")!]).toEqual([1, 2, 3, 4]);
    const joined = await edit(asset, "join-doubled", { distance: 0.01 });
    expect(shapeAt(joined, 0).mesh.positions).toHaveLength(12);
    expect(shapeAt(joined, 0).mesh.positions[3]).toBe(1); // the first of a pair stays where it was
    expect(kinds(joined)).toEqual(["borders"]);
    await expect(runEdit(asset, "join-doubled", { distance: 9 }, everything(asset), quiet)).rejects.toThrow(
      "all its faces",
    );
  });

  it("winds faces alike, outwards where the shape is closed, and keeps the layout", async () => {
    const laid = await edit(await edit(cube(), "creased", { angle: 40 }), "unfold");
    const { mesh } = shapeAt(laid);
    const faces = Array.from({ length: 6 }, (_, f) => [
      ...mesh.cornerVertex.subarray(mesh.faceStart[f]!, mesh.faceStart[f + 1]!),
    ]);
    for (const f of [0, 2, 3]) faces[f]!.reverse();
    const broken = assetOf([...mesh.positions], faces);
    expect(kinds(broken)).toEqual(["winding"]);
    const mended = await edit(broken, "wind-alike");
    expect(kinds(mended)).toEqual([]);
    const turned = await edit(laid, "move", { turn: 90 });
    await expect(runEdit(turned, "wind-alike", {}, everything(turned), quiet)).rejects.toThrow("wound alike");
  });

  it("parts edges with three faces", async () => {
    const asset = assetOf(
      [0, 0, 0, 0, 1, 0, 1, 0, 0, -1, 0, 0, 0, 0, 1],
      [
        [0, 1, 2],
        [1, 0, 3],
        [0, 1, 4],
      ],
    );
    expect(kinds(asset)).toContain("manyFaced");
    const parted = await edit(asset, "part-edges");
    expect(kinds(parted)).not.toContain("manyFaced");
    expect(shapeAt(parted, 0).mesh.faceStart).toHaveLength(4);
  });

  it("drops stray vertices and faces without area, collapses needles, cuts polygons, closes gaps", async () => {
    const stray = assetOf([0, 0, 0, 9, 9, 9, 1, 0, 0, 0, 1, 0], [[0, 2, 3]]);
    expect(kinds(stray)).toContain("stray");
    expect(shapeAt(await edit(stray, "drop-stray"), 0).mesh.positions).toHaveLength(9);

    const flat = assetOf(
      [0, 0, 0, 1, 0, 0, 2, 0, 0, 0, 1, 0],
      [
        [0, 1, 2],
        [0, 1, 3],
        [0, 1, 1, 3],
      ],
    );
    expect([...findFaults(flat).get("flat")!.get("p1")!]).toEqual([0, 2]);
    const mended = shapeAt(await edit(flat, "drop-flat"), 0).mesh;
    expect([...mended.faceStart]).toEqual([0, 3, 6]);

    const needle = assetOf(
      [0, 0, 0, 10, 0, 0, 10, 0.01, 0, 5, 5, 0],
      [
        [0, 1, 2],
        [0, 2, 3],
      ],
    );
    expect(kinds(needle)).toContain("needles");
    expect(kinds(await edit(needle, "collapse-needles"))).not.toContain("needles");

    const arrow = assetOf([0, 0, 0, 2, -1, 0, 0.5, 0, 0, 2, 1, 0], [[0, 1, 2, 3]]);
    expect(kinds(arrow)).toContain("concave");
    const cut = await edit(arrow, "cut-polygons", { which: "concave" });
    expect(kinds(cut)).not.toContain("concave");
    expect(shapeAt(cut, 0).mesh.faceStart).toHaveLength(3);

    // Of picked faces only those are cut, and of the others none.
    const arrows = assetOf(
      [0, 0, 0, 2, -1, 0, 0.5, 0, 0, 2, 1, 0, 9, 0, 0, 11, -1, 0, 9.5, 0, 0, 11, 1, 0],
      [
        [0, 1, 2, 3],
        [4, 5, 6, 7],
      ],
    );
    const one = await edit(arrows, "cut-polygons", {}, picking(arrows, "faces", [1]));
    expect(Array.from(shapeAt(one, 0).mesh.faceStart)).toEqual([0, 4, 7, 10]);

    const tube = lathe(
      [
        [1, 0],
        [1, 1],
      ],
      8,
    );
    const open = assetOf(
      tube.points.flat(),
      tube.faces.filter((f) => f.length === 4),
    );
    const closed = await edit(open, "close-gaps");
    expect(kinds(closed)).toEqual(["polygons"]);
    const t = topologyOf(shapeAt(closed, 0).mesh);
    expect(Array.from({ length: t.edgeCount }, (_, e) => edgeFaceCount(t, e as Edge)).every((n) => n === 2)).toBe(true);
  });

  it("applies transforms without changing what is measured", async () => {
    const transform = placed([5, 1, 2], 33, [-1, 2, 0.5]);
    const laid = await edit(await edit(cube(transform), "creased", { angle: 40 }), "unfold");
    const applied = await edit(laid, "apply-transform");
    expect(kinds(applied)).toEqual([]);
    expect(applied.parts[0]!.transform.slice(12)).toEqual([5, 1, 2, 1]);
    const [before, after] = [measure(laid), measure(applied)];
    expect(after.symmetricDirichlet).toBeCloseTo(before.symmetricDirichlet!, 9);
    expect(after.seamLength).toBeCloseTo(before.seamLength!, 9);
    expect(after.shells).toBe(before.shells);
    const cart = marketCart();
    await expect(runEdit(cart, "apply-transform", {}, everything(cart), quiet)).rejects.toThrow("make it unique first");
  });

  it("moves parts, sets pivots and units", async () => {
    const asset = await edit(cube(), "set-pivot", { at: "foot" });
    const scope = picking(asset, "faces", [0]);
    const moved = await edit(asset, "move-part", { x: 3, turn: 90 }, scope);
    expect(moved.parts[0]!.transform[12]).toBeCloseTo(3 + asset.parts[0]!.pivot![0] - asset.parts[0]!.pivot![2], 12);
    await expect(runEdit(asset, "move-part", { x: 1 }, everything(asset), quiet)).rejects.toThrow("Pick the parts");
    expect((await edit(asset, "set-unit", { unit: "mm" })).unit).toBe("mm");
    expect(shapesOf(moved)).toHaveLength(1);
  });
});
