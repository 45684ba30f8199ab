import { describe, expect, it } from "vitest";
import { layoutAt, picking } from "../../../testing/assets";
import { codecs, painted, ramp, reading } from "../../../testing/painted";
import { squares } from "../../../testing/squares";
import { writeGlb } from "../../formats/gltf/write";
import { readAsset } from "../../formats/read-asset";
import { decodeImage, type Pixels } from "../../images/pixels";
import type { Asset } from "../../layout/asset";
import { type Scope, Stopped } from "../operation";
import { runEdit } from "../run";
import { everything } from "../scope";

const SIDE = 64;

/** Two squares of 16 texels, at (8, 8) and (40, 40) from the lower left, with an image painted for them. */
const twoPainted = () =>
  painted(
    squares([
      [8 / SIDE, 8 / SIDE, 16 / SIDE, 16 / SIDE],
      [40 / SIDE, 40 / SIDE, 16 / SIDE, 16 / SIDE],
    ]),
    { color: ramp(SIDE) },
  );

const doEdit = (asset: Asset, id: string, options: object, scope: Scope = everything(asset)) =>
  runEdit(asset, id, options, scope, reading);

const imageOf = async (files: Asset["files"], key: string): Promise<Pixels> =>
  decodeImage(files![key]!, await codecs(), "it");

/** A texel, counted from the lower left. */
const texel = ({ data, width, height }: Pixels, x: number, y: number) => [
  ...data.slice(4 * ((height - 1 - y) * width + x), 4 * ((height - 1 - y) * width + x) + 3),
];

describe("images painted for a layout", () => {
  it("move with a shell when asked, and what they were painted on stays to look at", async () => {
    const asset = await twoPainted();
    const before = await imageOf(asset.files, asset.images[0]!.key);
    const move = { du: 16 / SIDE, dv: 4 / SIDE, images: true };
    const { asset: moved, result } = await doEdit(asset, "move", move, picking(asset, "shells", [0]));
    const [key] = Object.keys(result.files!);
    expect(moved.images).toEqual([{ key, name: "paint 1-moved.png", type: "image/png", redrawn: true }]);
    expect(moved.materials[0]!.texture).toEqual({ image: key, set: "s1" });
    const after = await imageOf(result.files, key!);
    for (let x = 0; x < 16; x++)
      for (let y = 0; y < 16; y++) {
        expect(texel(after, 24 + x, 12 + y)).toEqual(texel(before, 8 + x, 8 + y));
        expect(texel(after, 40 + x, 40 + y)).toEqual(texel(before, 40 + x, 40 + y));
      }
    // The image as it was is not touched.
    expect(asset.files![asset.images[0]!.key]).toBeDefined();
    expect(result.notes).toEqual([]);
  });

  it("go on from where they were drawn, where steps follow each other", async () => {
    const asset = await twoPainted();
    const before = await imageOf(asset.files, asset.images[0]!.key);
    const up = { dv: 8 / SIDE, images: true };
    const { asset: once } = await doEdit(asset, "move", up, picking(asset, "shells", [0]));
    const { asset: twice } = await doEdit(once, "move", up, picking(once, "shells", [0]));
    const after = await imageOf(twice.files, twice.images[0]!.key);
    expect(texel(after, 9, 26)).toEqual(texel(before, 9, 10));
    expect(twice.images[0]!.name).toBe("paint 1-moved.png");
    // What no material uses any more is not carried along.
    expect(Object.keys(twice.files!)).toEqual([twice.images[0]!.key]);
  });

  it("stay where nothing is asked, or where nothing moves", async () => {
    const asset = await twoPainted();
    const { asset: plain } = await doEdit(asset, "move", { du: 0.1 }, picking(asset, "shells", [0]));
    expect(plain.images).toBe(asset.images);
    const { result } = await doEdit(asset, "move", { du: 0, images: true });
    expect(result.files).toBeUndefined();
  });

  it("are refused where one image would have to serve two tiles, and nothing is moved", async () => {
    const asset = await twoPainted();
    const move = { du: 1, dv: 0, images: true };
    await expect(doEdit(asset, "move", move, picking(asset, "shells", [0]))).rejects.toThrow(
      /paint 1\.png is painted for would lie in 2 tiles/,
    );
    // All of it in another tile is one image still.
    const { result } = await doEdit(asset, "move", move);
    const [bytes] = Object.keys(result.files!);
    const [before, after] = [await imageOf(asset.files, asset.images[0]!.key), await imageOf(result.files, bytes!)];
    expect(texel(after, 9, 9)).toEqual(texel(before, 9, 9));
  });

  it("turn directions where a map holds some", async () => {
    const flat = ramp(SIDE);
    for (let i = 0; i < SIDE * SIDE; i++) flat.data.set([255, 128, 200, 255], 4 * i);
    const two = squares([[0.25, 0.25, 0.5, 0.5]]);
    const asset = await painted(two, { normal: flat });
    const { result, asset: moved } = await doEdit(asset, "move", { turn: 90, images: true });
    expect(moved.materials[0]!.maps).toEqual([{ channel: "normal", set: "s1", image: Object.keys(result.files!)[0] }]);
    const after = await imageOf(result.files, moved.images[0]!.key);
    // What pointed right points up when the shell is turned against the clock.
    expect(texel(after, 32, 32).slice(0, 2)).toEqual([127, 255]);
  });

  it("are drawn for another set, once, after any number of steps", async () => {
    const asset = await twoPainted();
    const { asset: two, result } = await doEdit(asset, "duplicate-set", {});
    const scope = { ...everything(two), set: result.target! };
    const { asset: moved } = await doEdit(two, "move", { du: 8 / SIDE, turn: 180 }, scope);
    const { asset: drawn, result: done } = await doEdit(moved, "redraw-images", {}, scope);
    expect(done.words).toMatch(/^Redraw 1 image for /);
    expect(drawn.materials[0]!.texture!.set).toBe(result.target);
    const [before, after] = [
      await imageOf(asset.files, asset.images[0]!.key),
      await imageOf(done.files, drawn.images[0]!.key),
    ];
    // Turned about the middle of both, 32 across and up, and moved by 8: (9, 9) goes to (64 - 1 - 9 + 8, 64 - 1 - 9).
    expect(texel(after, 62, 54)).toEqual(texel(before, 9, 9));
    await expect(doEdit(drawn, "redraw-images", { other: "" }, scope)).rejects.toThrow(/No image is laid by/);
  });

  it("are written into the file they came with, in place of those they were drawn from", async () => {
    const asset = await twoPainted();
    const { bytes } = await writeGlb(asset);
    const read = await readAsset(bytes, { name: "two.glb" });
    expect(read.images).toHaveLength(1);
    const { asset: moved, result } = await doEdit(read, "move", { du: 8 / SIDE, images: true });
    const whole = { ...moved, files: { ...moved.files, ...result.files } };
    const again = await readAsset((await writeGlb(whole)).bytes, { name: "two.glb" });
    expect(again.images).toHaveLength(1);
    expect(again.materials[0]!.texture!.image).toBe(moved.materials[0]!.texture!.image);
    expect(layoutAt(again).uv[0]! - layoutAt(read).uv[0]!).toBeCloseTo(8 / SIDE, 6);
  });

  it("stays for what another set lays by it, beside the one that is drawn anew, in the asset and in the file", async () => {
    const asset = await twoPainted();
    const { asset: two, result } = await doEdit(asset, "duplicate-set", {});
    const [key] = Object.keys(asset.files!);
    const maps = [{ channel: "occlusion" as const, image: key!, set: result.target! }];
    const both = { ...two, files: asset.files!, materials: two.materials.map((m) => ({ ...m, maps })) };
    const read = await readAsset((await writeGlb(both)).bytes, { name: "two.glb" });
    expect(read.materials[0]!.maps).toEqual([{ channel: "occlusion", image: read.images[0]!.key, set: "s2" }]);
    const { asset: moved } = await doEdit(read, "move", { du: 8 / SIDE, images: true });
    expect(moved.images.map((i) => i.redrawn ?? false)).toEqual([false, true]);
    const again = await readAsset((await writeGlb(moved)).bytes, { name: "two.glb" });
    expect(again.images).toHaveLength(2);
    expect(again.materials[0]!.maps![0]!.image).toBe(read.images[0]!.key);
    expect(again.materials[0]!.texture!.image).toBe(moved.materials[0]!.texture!.image);
  });

  it("are drawn for what a pack had found when it was stopped", async () => {
    const asset = await twoPainted();
    let isStopped = false;
    const stopping = {
      ...reading,
      progress: (share: number) => {
        if (share > 0.5) isStopped = true;
        if (isStopped) throw new Stopped("Stopped.");
      },
      check: () => {
        if (isStopped) throw new Stopped("Stopped.");
      },
    };
    const { asset: packed, result } = await runEdit(
      asset,
      "pack",
      { images: true, search: "quick" },
      everything(asset),
      stopping,
    );
    expect(result.stopped).toBe(true);
    expect(packed.images[0]!.redrawn).toBe(true);
  });

  it("refuses what is no image that it can read", async () => {
    const asset = await twoPainted();
    const key = asset.images[0]!.key;
    const odd = { ...asset, files: { [key]: new Uint8Array([1, 2, 3]) } };
    await expect(doEdit(odd, "move", { du: 0.1, images: true })).rejects.toThrow(/neither PNG nor JPEG/);
    const torn = { ...asset, files: { [key]: asset.files![key]!.slice(0, 60) } };
    await expect(doEdit(torn, "move", { du: 0.1, images: true })).rejects.toThrow(/is damaged/);
    const none = { ...asset, files: {} };
    await expect(doEdit(none, "move", { du: 0.1, images: true })).rejects.toThrow(/is not at hand/);
  });
});
