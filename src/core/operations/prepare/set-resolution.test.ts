import { describe, expect, it } from "vitest";
import { box } from "../../../../demo/kit";
import { assetOf, edit, layoutAt, shapeAt } from "../../../testing/assets";
import { measure } from "../../check/measure";
import { decodeAsset, encodeAsset } from "../../formats/asset-bundle";
import { meshFromPolygons } from "../../mesh/poly-mesh";

const s = box([2, 2, 2]);
const cube = assetOf(meshFromPolygons(s.points.flat(), s.faces));

describe("the resolution of tiles", () => {
  it("is set for all, and for one, and taken back where it is that of all", async () => {
    const all = await edit(cube, "set-resolution", { resolution: 4096 });
    expect(all.tiles).toEqual({ resolution: 4096, own: {} });
    const one = await edit(all, "set-resolution", { resolution: 512, tile: 1012 });
    expect(one.tiles).toEqual({ resolution: 4096, own: { 1012: 512 } });
    expect((await edit(one, "set-resolution", { resolution: 4096, tile: 1012 })).tiles).toEqual(all.tiles);
    await expect(edit(one, "set-resolution", { resolution: 512, tile: 1012 })).rejects.toThrow("has 512 px already.");
    await expect(edit(cube, "set-resolution", {})).rejects.toThrow("have 2048 px already.");
    await expect(edit(cube, "set-resolution", { resolution: 512, tile: 7 })).rejects.toThrow("the first is 1001.");
    expect(layoutAt(one)).toBe(layoutAt(cube));
    expect(decodeAsset(encodeAsset(one)).tiles).toEqual(one.tiles);
  });

  it("is what packing and levelling reckon in when nothing else is said", async () => {
    const coarse = await edit(cube, "set-resolution", { resolution: 256 });
    const packed = await edit(await edit(coarse, "draft"), "pack", { padding: 8, search: "quick" });
    expect(measure(packed).resolution).toBe(256);
    expect(measure(packed).borderGapPx).toBeGreaterThanOrEqual(8 - 1e-6);
    const level = await edit(packed, "level", { density: 10 });
    for (const shell of measure(level).perShell) expect(shell.density).toBeCloseTo(10, 6);
    expect(shapeAt(level).mesh).toBe(shapeAt(cube).mesh);
  });
});
