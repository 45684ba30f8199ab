import { describe, expect, it } from "vitest";
import { marketCart } from "../../../../demo/models/market-cart";
import { assetOf, edit, picking, pickingParts } from "../../../testing/assets";
import { edgeBetween } from "../../../testing/patches";
import { sides } from "../../../testing/sides";
import { measure } from "../../check/measure";
import type { Asset } from "../../layout/asset";
import { deltaBetween } from "../../layout/delta";
import { layoutFromCorners } from "../../layout/layout";
import { meshFromPolygons } from "../../mesh/poly-mesh";
import { everything } from "../scope";
import { shellsAt } from "./shells-at";

describe("shells stand upright", () => {
  it("with up on the form up on the sheet: sides, lids and floors alike; twice is once", async () => {
    const turns = [37, 90, 180, -60, 200, 75];
    const asset = sides(turns);
    measure(asset).perShell.forEach(({ turn }, k) => {
      const off = (((turn! - turns[k]!) % 360) + 540) % 360;
      expect(off).toBeCloseTo(180, 6);
    });
    const upright = await edit(asset, "stand-upright");
    for (const { turn } of measure(upright).perShell) expect(turn).toBeCloseTo(0, 6);
    await expect(edit(upright, "stand-upright")).rejects.toThrow("already");
  });

  it("square in their box where up is nearly so, exactly where it is not or that is asked for", async () => {
    // A sheared side: its box is level where its climb leans by some degrees.
    const mesh = meshFromPolygons([0, 0, 0, 4, 0, 0, 4, 1, 0, 0, 1, 0], [[0, 1, 2, 3]]);
    const sheet = [0, 0, 0.4, 0, 0.402, 0.1, 0.002, 0.1];
    const asset = assetOf(mesh, layoutFromCorners(mesh, Float64Array.from(sheet)));
    await expect(edit(asset, "stand-upright")).rejects.toThrow("already");
    const exact = await edit(asset, "stand-upright", { square: false });
    expect(measure(exact).perShell[0]!.turn).toBeCloseTo(0, 6);
  });

  it("and stay so when they are packed, unless that is turned off", async () => {
    const upright = await edit(sides([37, 90, 180, -60, 200, 75]), "stand-upright");
    const turns = (a: Asset) => measure(a).perShell.map(({ turn }) => Math.abs(Math.round(turn!)) % 180);
    expect(turns(await edit(upright, "pack", { search: "quick" }))).toEqual([0, 0, 0, 0, 0, 0]);
    const free = measure(await edit(upright, "pack", { keepUpright: false, search: "quick" }));
    expect(free.coverage!).toBeGreaterThan(0.3);
  });

  it("all as one, by the largest", async () => {
    const asset = await edit(sides([0, 0, 0, 0, 0, 0]), "move", { turn: 90 });
    const back = await edit(asset, "stand-upright", { together: true });
    for (const { turn } of measure(back).perShell) expect(turn).toBeCloseTo(0, 6);
  });
});

describe("the nap", () => {
  it("runs one way on every shell, whichever end of an edge is first", async () => {
    const asset = sides([37, 90, 180, -60, 200, 75]);
    const { mesh } = asset.shapes.get("p1")!;
    // An edge along x: it lies on the front, the back, the top and the bottom, and stands square to the other sides.
    const edge = edgeBetween(mesh, 0, 1);
    const laid = await edit(asset, "follow-nap", { along: "across" }, picking(asset, "edges", [edge]));
    const rows = shellsAt(laid, everything(laid));
    for (const k of [0, 1, 4, 5]) {
      const { uv } = rows[k]!;
      // Each side is told from a corner along x.
      expect(uv[3]! - uv[1]!).toBeCloseTo(0, 9);
    }
    for (const k of [2, 3]) expect(rows[k]!.uv).toEqual(shellsAt(asset, everything(asset))[k]!.uv);
    const own = await edit(
      asset,
      "follow-nap",
      { along: "across", shells: "those with picked edges" },
      picking(asset, "edges", [edge]),
    );
    const moved = shellsAt(own, everything(own)).map(
      ({ uv }, k) => uv[2] !== shellsAt(asset, everything(asset))[k]!.uv[2],
    );
    expect(moved.filter(Boolean)).toHaveLength(2);
  });
});

describe("up of a part", () => {
  it("is kept with it, and goes before that of the asset wherever shells stand upright", async () => {
    const asset = await edit(marketCart(), "project");
    const pole = asset.parts.find((p) => p.name.startsWith("Plank"))!;
    const scope = pickingParts(asset, [pole.id]);
    const told = await edit(asset, "part-up", { up: "-x" }, scope);
    expect(told.parts.find((p) => p.id === pole.id)!.up).toBe("-x");
    expect(deltaBetween(asset, told).parts.length).toBeGreaterThan(0);
    const turned = await edit(told, "stand-upright", { square: false });
    const plain = await edit(asset, "stand-upright", { square: false });
    // By either up all stands; by the other the planks do not.
    const off = (a: Asset) =>
      measure(a).perShell.filter((s) => s.turn !== null && Math.abs(s.turn) > 1 && s.shape === pole.shape).length;
    expect([off(turned), off(plain)]).toEqual([0, 0]);
    const swapped = { ...plain, parts: told.parts };
    expect(off(swapped)).toBeGreaterThan(0);
    const back = await edit(told, "part-up", {}, pickingParts(told, [pole.id]));
    expect(back.parts).toEqual(asset.parts);
  });
});
