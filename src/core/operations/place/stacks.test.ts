import { describe, expect, it } from "vitest";
import { assetOf, edit, picking } from "../../../testing/assets";
import { sides } from "../../../testing/sides";
import { measure } from "../../check/measure";
import type { Asset } from "../../layout/asset";
import { layoutFromCorners } from "../../layout/layout";
import { saidOf } from "../../layout/shell-marks";
import { meshFromPolygons } from "../../mesh/poly-mesh";
import type { SheetBox } from "../../place/box";
import { everything } from "../scope";
import { shellsAt } from "./shells-at";
import { stacksAmong } from "./twins";

const boxes = (asset: Asset): SheetBox[] => shellsAt(asset, everything(asset)).map((s) => s.box);

describe("stacks of twins", () => {
  it("lie point on point, spread again, and their copies a tile away and back", async () => {
    // Opposite sides of a box are twins.
    const asset = sides([10, 20, 30, 40, 50, 60]);
    const stacked = await edit(asset, "stack-twins");
    const list = (a: Asset) => stacksAmong(shellsAt(a, everything(a)));
    expect(list(stacked)).toEqual([
      [0, 1],
      [2, 3],
      [4, 5],
    ]);
    const away = await edit(stacked, "copies-away");
    expect(list(away)).toEqual([]);
    expect(boxes(away)[1]!.u0).toBeCloseTo(boxes(away)[0]!.u0 + 1, 12);
    const back = await edit(away, "copies-away", { way: "back" });
    expect(list(back)).toHaveLength(3);
    const spread = await edit(back, "spread-stacks");
    expect(list(spread)).toEqual([]);
    boxes(spread).forEach((b, k) => {
      const was = boxes(back)[k]!;
      expect(b.u1 - b.u0).toBeCloseTo(was.u1 - was.u0, 12);
      expect(b.v1 - b.v0).toBeCloseTo(was.v1 - was.v0, 12);
    });
    await expect(edit(spread, "spread-stacks")).rejects.toThrow("No two");
  });

  it("take in mirrored twins and other numbers, but not what bears lettering, and say so", async () => {
    const lop = [0, 0, 0, 3, 0, 0, 2, 1, 0, 0, 1, 0];
    const mirrored = [5, 0, 0, 8, 0, 0, 8, 1, 0, 6, 1, 0];
    const mesh = meshFromPolygons(
      [...lop, ...mirrored],
      [
        [0, 1, 2, 3],
        [6, 7, 4, 5],
      ],
    );
    const uv = [0, 0, 0.3, 0, 0.2, 0.1, 0, 0.1, 0.8, 0.1, 0.6, 0.1, 0.5, 0, 0.8, 0];
    const asset = assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
    await expect(edit(asset, "stack-twins", { mirrored: false })).rejects.toThrow("twins");
    const stacked = await edit(asset, "stack-twins");
    expect(stacksAmong(shellsAt(stacked, everything(stacked)))).toEqual([[0, 1]]);
    expect(measure(stacked).mirroredShells).toBe(1);
    const lettered = await edit(asset, "lettering", {}, picking(asset, "shells", [0]));
    expect(saidOf(lettered, "s1", { shape: "p1", face: 0 }).lettering).toBe(true);
    await expect(edit(lettered, "stack-twins")).rejects.toThrow("lettering");
  });

  it("are laid like copied ones, and what has other faces is left, with a word", async () => {
    const asset = sides([10, 20, 30, 40, 50, 60]);
    const laid = await edit(asset, "lay-like", { from: "p1/0" }, picking(asset, "shells", [1]));
    expect(stacksAmong(shellsAt(laid, everything(laid)))).toEqual([[0, 1]]);
    await expect(edit(asset, "lay-like", { from: "p1/0" }, picking(asset, "shells", [2]))).rejects.toThrow(
      "same faces",
    );
    await expect(edit(asset, "lay-like", {}, picking(asset, "shells", [2]))).rejects.toThrow("Copy the layout");
    await expect(edit(asset, "lay-like", { from: "gone/1" }, picking(asset, "shells", [2]))).rejects.toThrow("Copy");
  });

  it("of left and right are laid as mirror images of each other, and read the right way round", async () => {
    const left = [-3, 0, 0, -1, 0, 0, -2, 1, 0, -3, 1, 0];
    const right = left.map((x, i) => (i % 3 ? x : -x));
    const mesh = meshFromPolygons(
      [...left, ...right],
      [
        [0, 1, 2, 3],
        [6, 5, 4, 7],
      ],
    );
    const uv = [0.1, 0.1, 0.3, 0.1, 0.2, 0.2, 0.1, 0.2, 0.9, 0.6, 0.8, 0.5, 0.8, 0.6, 0.9, 0.7];
    const asset = assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
    const laid = await edit(asset, "left-and-right");
    const [a, b] = shellsAt(laid, everything(laid));
    expect([b!.box.u0, b!.box.u1]).toEqual([expect.closeTo(1 - a!.box.u1, 12), expect.closeTo(1 - a!.box.u0, 12)]);
    expect([b!.box.v0, b!.box.v1]).toEqual([a!.box.v0, a!.box.v1]);
    expect(measure(laid).mirroredShells).toBe(0);
    expect(measure(laid).flippedTriangles).toBe(0);
    await expect(edit(asset, "left-and-right", { axis: "y" })).rejects.toThrow("across y");
  });

  it("stay one when they are packed, unless that is turned off; a draft makes none", async () => {
    const stacked = await edit(sides([0, 0, 0, 0, 0, 0]), "stack-twins");
    const packed = await edit(stacked, "pack", { search: "quick", turns: "none" });
    expect(stacksAmong(shellsAt(packed, everything(packed)))).toHaveLength(3);
    expect(measure(packed).overlapShareUnstacked).toBe(0);
    const list = (a: Asset) => stacksAmong(shellsAt(a, everything(a)));
    expect(list(await edit(stacked, "pack", { search: "quick", turns: "none", keepStacks: false }))).toEqual([]);
    const strict = { ...stacked, rules: { ...stacked.rules, stacks: false } };
    expect(list(await edit(strict, "pack", { search: "quick", turns: "none" }))).toEqual([]);
    // A packed set has a place for every shell, whatever lies on one another in the set that it is made of.
    const beside = await edit(stacked, "packed-set", { name: "Light", turns: "none", search: "quick" });
    expect(stacksAmong(shellsAt(beside, everything(beside, beside.sets[1]!.id)))).toEqual([]);
    // What is laid out anew gets places of its own, twins or not.
    expect(list(await edit(sides([]), "draft"))).toEqual([]);
  });

  it("are stacked by outline where they are alike in nothing else", async () => {
    const positions = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 5, 0, 0, 6, 0, 0, 6, 1, 0, 5, 1, 0];
    const mesh = meshFromPolygons(positions, [
      [0, 1, 2, 3],
      [4, 5, 6],
      [4, 6, 7],
    ]);
    const uv = [0, 0, 0.2, 0, 0.2, 0.2, 0, 0.2, 0.5, 0.5, 0.7, 0.5, 0.7, 0.7, 0.5, 0.5, 0.7, 0.7, 0.5, 0.7];
    const asset = assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(uv)));
    await expect(edit(asset, "stack-twins")).rejects.toThrow("No two of these shells are twins.");
    const [a, b] = boxes(await edit(asset, "stack-twins", { by: "their outlines" }));
    for (const side of ["u0", "v0", "u1", "v1"] as const) expect(a![side]).toBeCloseTo(b![side], 9);
  });
});
