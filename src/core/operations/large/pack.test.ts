import { describe, expect, it } from "vitest";
import { marketCart } from "../../../../demo/models/market-cart";
import { pepperMill } from "../../../../demo/models/pepper-mill";
import { edit, laidOutModel, picking, quiet } from "../../../testing/assets";
import { squares } from "../../../testing/squares";
import { measure } from "../../check/measure";
import type { Asset } from "../../layout/asset";
import { structureOf } from "../../layout/layout";
import { plotsOf } from "../../layout/plots";
import type { UserError } from "../../layout/user-error";
import type { SheetBox } from "../../place/box";
import { shellsAt } from "../place/shells-at";
import { runEdit } from "../run";
import { everything } from "../scope";

const boxes = (asset: Asset): SheetBox[] => shellsAt(asset, everything(asset)).map((s) => s.box);
const set = (asset: Asset): string => asset.sets[0]!.id;
const within = (a: SheetBox, b: SheetBox): boolean =>
  a.u0 >= b.u0 - 1e-9 && a.v0 >= b.v0 - 1e-9 && a.u1 <= b.u1 + 1e-9 && a.v1 <= b.v1 + 1e-9;
const apart = (a: SheetBox, b: SheetBox): number =>
  Math.max(Math.max(a.u0, b.u0) - Math.min(a.u1, b.u1), Math.max(a.v0, b.v0) - Math.min(a.v1, b.v1));
const some = (count: number, w = 0.2, h = 0.15) =>
  squares(Array.from({ length: count }, (_, i) => [0.3 * i, 0, w + 0.01 * i, h] as const));

const cart = (): Promise<Asset> => laidOutModel(marketCart);

/** What packing was refused with. */
async function refused(asset: Asset, options: object): Promise<UserError> {
  try {
    await edit(asset, "pack", options);
  } catch (error) {
    return error as UserError;
  }
  throw new Error("It was not refused.");
}

describe("packing an asset", () => {
  it("goes into the plots that were drawn, and nowhere else", async () => {
    const one = await edit(some(6), "add-plot", { u0: 0.5, v0: 0.25, u1: 1, v1: 1 });
    const asset = await edit(one, "add-plot", { name: "left", u0: 0, v0: 0, u1: 0.25, v1: 0.5 });
    expect(plotsOf(asset, set(asset)).map((p) => p.name)).toEqual(["Plot 1", "left"]);
    const packed = await edit(asset, "pack", { into: "plots", padding: 4, search: "quick" });
    for (const box of boxes(packed)) expect(plotsOf(asset, set(asset)).some((p) => within(box, p))).toBe(true);
    await expect(edit(some(3), "pack", { into: "plots" })).rejects.toThrow(/No plot is drawn/);
    const gone = await edit(asset, "remove-plots", { name: "left" });
    expect(plotsOf(gone, set(gone)).map((p) => p.name)).toEqual(["Plot 1"]);
    await expect(edit(asset, "add-plot", { name: "left" })).rejects.toThrow(/called left already/);
  });

  it("lays groups in blocks that bear their names, and tells them in the pattern sheet", async () => {
    const packed = await edit(await laidOutModel(pepperMill), "pack", {
      groups: "material",
      search: "quick",
      padding: 4,
    });
    const plots = plotsOf(packed, set(packed));
    expect(plots.length).toBeGreaterThan(2);
    plots.forEach((a, i) => {
      for (const b of plots.slice(i + 1)) expect(apart(a, b)).toBeGreaterThan(-1e-9);
    });
    for (const { shape, layout, shell, box } of shellsAt(packed, everything(packed))) {
      const face = structureOf(shape.mesh, layout).faceShell.indexOf(shell);
      const { name } = packed.materials[shape.mesh.faceMaterial[face]!]!;
      expect(within(box, plots.find((p) => p.name === name)!)).toBe(true);
    }
    // The next packing takes the blocks away, and leaves what was drawn.
    const drawn = await edit(packed, "add-plot", { name: "drawn" });
    const plain = await edit(drawn, "pack", { search: "quick", padding: 4 });
    expect(plotsOf(plain, set(plain)).map((p) => p.name)).toEqual(["drawn"]);
    const { overlapShare } = measure(packed, undefined, set(packed));
    expect(overlapShare).toBe(0);
    const { writeSheet } = await import("../../formats/sheet-svg");
    const svg = writeSheet(packed, { set: set(packed), resolution: 1024, wires: false, names: false });
    for (const { name } of plots) expect(svg).toContain(`>${name}</text>`);
  });

  it("lays blocks on several tiles, and beside what stays", async () => {
    const options = { groups: "material", search: "quick", padding: 4 };
    const two = await edit(await laidOutModel(pepperMill), "pack", { ...options, tiles: "1001-1002" });
    const plots = plotsOf(two, set(two));
    expect(new Set(plots.map((p) => Math.floor(p.u0))).size).toBe(2);
    for (const { box } of shellsAt(two, everything(two))) expect(plots.some((p) => within(box, p))).toBe(true);
    const some = picking(two, "faces", [0, 1, 2], two.parts[0]!.shape);
    const before = shellsAt(two, everything(two));
    const part = await edit(two, "pack", { ...options, tiles: "1001" }, some);
    const moved = shellsAt(part, everything(part)).filter((s, i) => s.box.u0 !== before[i]!.box.u0);
    expect(moved.length).toBeGreaterThan(0);
    expect(moved.length).toBeLessThan(before.length);
    for (const { box } of moved) expect(plotsOf(part, set(part)).some((p) => within(box, p))).toBe(true);
  });

  it("fills the first of several tiles with what is most important, where that is asked", async () => {
    const asset = squares([0.74, 0.72, 0.7, 0.5].map((side, i) => [i, 0, side, side] as const));
    const last = await edit(asset, "density-ratio", { ratio: 1.2 }, picking(asset, "faces", [3]));
    const options = { tiles: "1001-1006", sizes: "keep", padding: 4, search: "quick" };
    const tiles = (packed: Asset) => boxes(packed).map((box) => Math.floor(box.u0));
    expect(tiles(await edit(last, "pack", options))).toEqual([0, 1, 2, 3]);
    expect(tiles(await edit(last, "pack", { ...options, first: "the most important" }))).toEqual([1, 2, 3, 0]);
  });

  it("gives groups tiles of their own, as few tiles as hold the rest, and keeps sizes there", async () => {
    const asset = some(12, 0.4, 0.4);
    const before = boxes(asset).map((b) => b.u1 - b.u0);
    const packed = await edit(asset, "pack", {
      tiles: "1001+",
      sizes: "keep",
      turns: "none",
      padding: 2,
      search: "quick",
    });
    boxes(packed).forEach((b, i) => {
      expect(b.u1 - b.u0).toBeCloseTo(before[i]!, 9);
      expect(Math.floor(b.u0)).toBe(Math.floor(b.u1));
    });
    // Four go into the first tiles, but the largest ones are more than half as wide as one.
    const tiles = new Set(boxes(packed).map((b) => Math.floor(b.u0) + 10 * Math.floor(b.v0)));
    expect(tiles.size).toBeLessThanOrEqual(5);
    await expect(edit(asset, "pack", { tiles: "1001+" })).rejects.toThrow(/nothing tells how large/);
    await expect(edit(asset, "pack", { tiles: "10x" })).rejects.toThrow(/Tiles are written as 1001/);
  });

  it("asks for as many tiles as there are groups, and gives each its own", async () => {
    const options = { groups: "material", apart: "tiles", search: "quick", padding: 4 };
    await expect(edit(await cart(), "pack", options)).rejects.toThrow(/There are \d groups and 1 tile: name as many/);
    const packed = await edit(await cart(), "pack", { ...options, tiles: "1001-1010" });
    const tiles = new Map<string, Set<number>>();
    for (const { shape, layout, shell, box } of shellsAt(packed, everything(packed))) {
      const face = structureOf(shape.mesh, layout).faceShell.indexOf(shell);
      const { name } = packed.materials[shape.mesh.faceMaterial[face]!]!;
      tiles.set(name, (tiles.get(name) ?? new Set()).add(Math.floor(box.u0)));
    }
    const all = [...tiles.values()].flatMap((own) => [...own]);
    expect(new Set(all).size).toBe(all.length);
  });

  it("keeps the density in a tile of another resolution", async () => {
    const asset = await edit(some(6, 0.5, 0.4), "set-resolution", { tile: 1002, resolution: 4096 });
    const packed = await edit(asset, "pack", { tiles: "1001-1002", turns: "none", padding: 4, search: "quick" });
    const texels = boxes(packed).map((b) => Math.sqrt((b.u1 - b.u0) * (b.v1 - b.v0)) * (b.u0 >= 1 ? 4096 : 2048));
    for (const side of texels) expect(side).toBeCloseTo(texels[0]!, 6);
    expect(new Set(boxes(packed).map((b) => Math.floor(b.u0))).size).toBe(2);
  });

  it("offers a scale, a padding and a resolution where there is no room, each of which fits", async () => {
    const asset = squares(Array.from({ length: 4 }, (_, i) => [0.6 * i, 0, 0.48, 0.48] as const));
    const options = { sizes: "keep", padding: 64, search: "quick" };
    const error = await refused(asset, options);
    expect(error.message).toMatch(/scaled by [\d.]+ they would/);
    expect(error.offers.map((o) => Object.keys(o.options)[0])).toEqual(["scale", "padding", "resolution"]);
    for (const offer of error.offers) {
      const packed = await edit(asset, "pack", { ...options, ...offer.options });
      expect(measure(packed, undefined, set(packed)).overlapShare).toBe(0);
    }
    const { scale } = error.offers[0]!.options as { scale: number };
    await expect(edit(asset, "pack", { ...options, scale: 1.01 * scale })).rejects.toThrow(/do not fit/);
  });

  it("moves as few as possible near where they lie, the picked ones alone where some are picked", async () => {
    const asset = squares([
      [0.1, 0.1, 0.2, 0.2],
      [0.4, 0.1, 0.2, 0.2],
      [0.25, 0.15, 0.1, 0.1],
      [0.7, 0.7, 0.2, 0.2],
    ]);
    const before = boxes(asset);
    const result = await runEdit(asset, "pack", { places: "near where they lie" }, everything(asset), quiet);
    expect(result.result.words).toMatch(/1 of them moved/);
    const after = boxes(result.asset);
    for (const i of [0, 1, 3]) expect(after[i]).toEqual(before[i]);
    after.forEach((a, i) => {
      for (const b of after.slice(i + 1)) expect(apart(a, b)).toBeGreaterThanOrEqual(8 / 2048 - 1e-9);
    });
    const shells = shellsAt(asset, everything(asset));
    const only = picking(asset, "shells", [shells[0]!.face], shells[0]!.shape.id);
    const moved = boxes(await edit(asset, "pack", { places: "near where they lie" }, only));
    for (const i of [1, 2, 3]) expect(moved[i]).toEqual(before[i]);
    expect(moved[0]).not.toEqual(before[0]);
  });

  it("moves shells near where they lie in the tile that they lie in", async () => {
    const asset = squares([
      [1.1, 0.1, 0.2, 0.2],
      [1.15, 0.15, 0.1, 0.1],
      [3.4, 2.4, 0.1, 0.1],
    ]);
    const before = boxes(asset);
    const after = boxes(await edit(asset, "pack", { places: "near where they lie" }));
    expect([after[0], after[2]]).toEqual([before[0], before[2]]);
    expect(Math.floor(after[1]!.u0)).toBe(1);
    expect(apart(after[0]!, after[1]!)).toBeGreaterThanOrEqual(8 / 2048 - 1e-9);
  });

  it("lays what is on top of the model at the top of the tile", async () => {
    const packed = await edit(await cart(), "pack", { places: "as on the model", padding: 4 });
    expect(measure(packed, undefined, set(packed)).overlapShare).toBe(0);
    const middles = (part: string) => {
      const own = shellsAt(packed, everything(packed)).filter((s) => s.shape.parts.some((p) => p.name === part));
      return own.reduce((sum, { box }) => sum + (box.v0 + box.v1) / 2, 0) / own.length;
    };
    expect(middles("Awning cloth")).toBeGreaterThan(middles("Wheel left"));
  });

  it("goes on with what is packed, to nothing less dense, where that can be gone on with", async () => {
    const options = { padding: 4, search: "quick", keepUpright: false };
    const first = await edit(some(9, 0.2, 0.3), "pack", options);
    const next = await edit(first, "pack", { ...options, begin: "as they lie", sizes: "fill" });
    const filled = (asset: Asset) => measure(asset, undefined, set(asset)).coverage!;
    expect(filled(next)).toBeGreaterThanOrEqual(filled(first));
    await expect(edit(some(4), "pack", { begin: "as they lie", sizes: "keep" })).rejects.toThrow(/begin anew/);
  });

  it("tells on the way how much of the tile is covered, and shows it", async () => {
    const told: number[] = [];
    let shown = 0;
    const context = {
      progress: (_: number, reached?: number) => void (reached !== undefined && told.push(reached)),
      show: () => void shown++,
    };
    const packed = await runEdit(
      some(9, 0.2, 0.3),
      "pack",
      { padding: 4, search: "quick" },
      everything(some(9)),
      context,
    );
    expect(shown).toBeGreaterThan(0);
    expect(told).toEqual([...told].sort((a, b) => a - b));
    // The figure is that of the rail; what was settled and then given up may have been told a little too high.
    const filled = measure(packed.asset, undefined, set(packed.asset)).coverage!;
    expect(Math.abs(told.at(-1)! - filled)).toBeLessThan(1e-6);
  });
});
