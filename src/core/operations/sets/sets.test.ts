import { describe, expect, it } from "vitest";
import { paperLantern } from "../../../../demo/models/paper-lantern";
import { pepperMill } from "../../../../demo/models/pepper-mill";
import { laidOutModel, layoutAt, picking, quiet } from "../../../testing/assets";
import { measure } from "../../check/measure";
import { decodeAsset, encodeAsset } from "../../formats/asset-bundle";
import { type Asset, shapesOf } from "../../layout/asset";
import { countBits } from "../../layout/bits";
import { deltaBetween, withDelta } from "../../layout/delta";
import { faceCount } from "../../mesh/poly-mesh";
import { runEdit } from "../run";
import { everything } from "../scope";

const run = async (asset: Asset, id: string, options: unknown = {}, set = 0) => {
  const { asset: after, result } = await runEdit(asset, id, options, everything(asset, asset.sets[set]!.id), quiet);
  expect(withDelta(asset, deltaBetween(asset, after))).toEqual(after);
  expect(withDelta(after, deltaBetween(after, asset))).toEqual(asset);
  expect(decodeAsset(encodeAsset(after))).toEqual(after);
  return { after, result };
};
const edit = async (asset: Asset, id: string, options: unknown = {}, set = 0) =>
  (await run(asset, id, options, set)).after;
const names = (asset: Asset) => asset.sets.map((s) => `${s.name}:${s.exportAs}`);
const layouts = (asset: Asset, set: number) => shapesOf(asset).map((s) => s.layouts.get(asset.sets[set]!.id));

describe("UV sets", () => {
  it("are added, named, reordered, swapped and deleted, their layouts with them", async () => {
    const lantern = await laidOutModel(paperLantern);
    const { after: two, result } = await run(lantern, "add-set", { name: "Light", purpose: "light" });
    expect(names(two)).toEqual(["Unique:0", "Light:1"]);
    expect(result.target).toBe(two.sets[1]!.id);
    expect(layouts(two, 1).every((l) => l === undefined)).toBe(true);
    const three = await edit(two, "duplicate-set");
    expect(names(three)).toEqual(["Unique:0", "Unique copy:2", "Light:1"]);
    const up = await edit(three, "move-set", { by: "up" }, 1);
    expect(names(up)).toEqual(["Unique copy:0", "Unique:2", "Light:1"]);
    const swapped = await edit(up, "swap-sets", { other: "Light" }, 1);
    expect(names(swapped)).toEqual(["Unique copy:0", "Light:2", "Unique:1"]);
    expect(layouts(swapped, 2)).toEqual(layouts(lantern, 0));
    const gone = await edit(swapped, "delete-set", {}, 0);
    expect(names(gone)).toEqual(["Light:2", "Unique:1"]);
    const named = await edit(gone, "describe-set", { name: "Lamp light", purpose: "tiling", written: "1" }, 0);
    expect(names(named)).toEqual(["Lamp light:1", "Unique:2"]);
    await expect(run(named, "describe-set", { name: "Unique" }, 0)).rejects.toThrow("called Unique already");
    const only = await edit(named, "delete-set", {}, 0);
    await expect(run(only, "delete-set")).rejects.toThrow("one UV set at least");
    await expect(run(only, "describe-set", { written: "not at all" })).rejects.toThrow("must be written");
  });

  it("take copies of faces, merges, and let them be cleared and set aside", async () => {
    const lantern = await laidOutModel(paperLantern);
    const two = await edit(lantern, "add-set", { name: "Second" });
    const part = shapesOf(two)[0]!;
    const half = Uint32Array.from({ length: faceCount(part.mesh) >> 1 }, (_, f) => f);
    const scope = picking(two, "faces", half, part.id);
    const copied = (await runEdit(two, "copy-to-set", { other: "Second" }, scope, quiet)).asset;
    expect(countBits(layoutAt(copied, 0, 1).mapped)).toBe(half.length);
    expect(layoutAt(copied, 1, 1)).toBeUndefined();
    const merged = await edit(copied, "merge-sets", { other: "Unique" }, 1);
    shapesOf(merged).forEach((_, i) => {
      expect(layoutAt(merged, i, 1).uv).toEqual(layoutAt(merged, i, 0).uv);
      expect(layoutAt(merged, i, 1).cut).toEqual(layoutAt(merged, i, 0).cut);
    });
    const aside = await edit(lantern, "set-aside");
    expect(names(aside)).toEqual(["Unique:0", "Unique as it was:null"]);
    expect(layouts(aside, 1)).toEqual(layouts(lantern, 0));
    expect(measure(aside).shells).toBe(0);
    await expect(run(aside, "clear-set")).rejects.toThrow("nothing to clear");
    const cleared = await edit(aside, "clear-set", {}, 1);
    expect(layouts(cleared, 1).every((l) => l === undefined)).toBe(true);
  });

  it("get a packed one beside the working one in one step", async () => {
    const mill = await edit(await edit(pepperMill(), "open-up"), "unfold", { skip: true, passes: 0 });
    const { after, result } = await run(mill, "packed-set", { resolution: 512, search: "quick" });
    expect(after.sets[1]).toMatchObject({ name: "Packed", purpose: "packed", exportAs: 1 });
    expect(result.target).toBe(after.sets[1]!.id);
    expect(layouts(after, 0)).toEqual(layouts(mill, 0));
    expect(measure(after, 512, after.sets[1]!.id).overlapShare).toBe(0);
    expect(measure(after, 512, after.sets[1]!.id).outOfBoundsTriangles).toBe(0);
  });

  it("lose faces that are taken out of them", async () => {
    const lantern = await laidOutModel(paperLantern);
    const part = shapesOf(lantern)[0]!;
    const scope = picking(lantern, "faces", [0, 1, 5], part.id);
    const { asset } = await runEdit(lantern, "unmap", {}, scope, quiet);
    const faces = faceCount(part.mesh);
    expect(countBits(layoutAt(asset).mapped)).toBe(faces - 3);
  });

  it("are told of textures that lie by them", async () => {
    const lantern = paperLantern();
    const key = "k";
    const pictured: Asset = {
      ...lantern,
      images: [{ key, name: "paper.png", type: "image/png" }],
      materials: lantern.materials.map((m, i) => (i ? m : { ...m, texture: { image: key, set: "s1" } })),
    };
    const two = await edit(pictured, "add-set", { name: "Light" });
    const laid = await edit(two, "texture-set", {}, 1);
    expect(laid.materials[0]!.texture!.set).toBe(two.sets[1]!.id);
    const gone = await edit(laid, "delete-set", {}, 1);
    expect(gone.materials[0]!.texture!.set).toBe("s1");
  });
});
