import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { marketCart } from "../../../../demo/models/market-cart";
import { edit, picking } from "../../../testing/assets";
import { sides } from "../../../testing/sides";
import { squares } from "../../../testing/squares";
import { measure } from "../../check/measure";
import type { Asset } from "../../layout/asset";
import { ShellMark } from "../../layout/shell-mark";
import type { SheetBox } from "../../place/box";
import { mateKnots } from "../../seams/mate-knots";
import { everything } from "../scope";
import { freeSpace } from "../sessions";
import { shellsAt } from "./shells-at";

const boxes = (asset: Asset): SheetBox[] => shellsAt(asset, everything(asset)).map((s) => s.box);
const place = (b: SheetBox) => [b.u0, b.v0].map((x) => Math.round(1e9 * x) / 1e9);
const four = () =>
  squares([
    [0, 0, 0.1, 0.1],
    [0.3, 0.25, 0.2, 0.2],
    [0.05, 0.6, 0.1, 0.1],
    [0.7, 0.7, 0.2, 0.1],
  ]);

describe("shells are arranged", () => {
  it("by an edge or a middle that they share, or by the tile", async () => {
    const left = boxes(await edit(four(), "align-shells", { by: "left" }));
    for (const b of left) expect(b.u0).toBeCloseTo(0, 12);
    expect(left.map((b) => b.v0)).toEqual(boxes(four()).map((b) => b.v0));
    const top = boxes(await edit(four(), "align-shells", { by: "top", to: "the tile" }));
    for (const b of top) expect(b.v1).toBeCloseTo(1, 12);
    const middle = boxes(await edit(four(), "align-shells", { by: "middle across" }));
    for (const b of middle) expect((b.u0 + b.u1) / 2).toBeCloseTo(0.45, 12);
  });

  it("with gaps alike between the first and the last, or with the gap that is asked for", async () => {
    const even = boxes(await edit(four(), "space-out", { how: "across" })).sort((a, b) => a.u0 - b.u0);
    const gaps = even.slice(1).map((b, i) => b.u0 - even[i]!.u1);
    for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0]!, 12);
    expect([even[0]!.u0, even[3]!.u1]).toEqual([0, expect.closeTo(0.9, 12)]);
    const asked = boxes(await edit(four(), "space-out", { how: "upright", even: false, gap: 16 }));
    const up = asked.sort((a, b) => a.v0 - b.v0);
    for (const [i, b] of up.slice(1).entries()) expect(b.v0 - up[i]!.v1).toBeCloseTo(16 / 2048, 12);
  });

  it("in rows without touching each other, whatever they are", () => {
    const size = fc.double({ min: 0.01, max: 0.4, noNaN: true });
    return fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(size, size, size, size), { minLength: 2, maxLength: 12 }), async (list) => {
        const laid = boxes(await edit(squares(list), "space-out", { gap: 4 }));
        laid.forEach((a, i) => {
          for (const b of laid.slice(i + 1)) {
            const [across, upright] = [
              Math.max(a.u0, b.u0) - Math.min(a.u1, b.u1),
              Math.max(a.v0, b.v0) - Math.min(a.v1, b.v1),
            ];
            expect(Math.max(across, upright)).toBeGreaterThan(4 / 2048 - 1e-9);
          }
        });
      }),
      { numRuns: 25 },
    );
  });

  it("by steps of a pixel, the padding, a grid square and a tile, and back", async () => {
    const one = (asset: Asset) => picking(asset, "shells", [1]);
    const asset = four();
    for (const [by, step] of [
      ["a pixel", 1 / 2048],
      ["a padding", 2 / 2048],
      ["a grid square", 1 / 8],
      ["a tile", 1],
    ] as const) {
      const moved = await edit(asset, "nudge", { way: "right", by }, one(asset));
      expect(boxes(moved)[1]!.u0).toBeCloseTo(0.3 + step, 12);
      expect(place(boxes(await edit(moved, "nudge", { way: "left", by }, one(moved)))[1]!)).toEqual([0.3, 0.25]);
    }
  });

  it("turned and scaled together or each about its own middle, along one axis alone too", async () => {
    const asset = four();
    const own = boxes(await edit(asset, "move", { scale: 0.5, about: "each its own middle" }));
    own.forEach((b, k) => {
      const was = boxes(asset)[k]!;
      expect((b.u0 + b.u1) / 2).toBeCloseTo((was.u0 + was.u1) / 2, 12);
      expect(b.u1 - b.u0).toBeCloseTo((was.u1 - was.u0) / 2, 12);
    });
    const wide = boxes(await edit(asset, "move", { scaleU: 2 }));
    const [first, was] = [wide[0]!, boxes(asset)[0]!];
    expect([first.u1 - first.u0, first.v1 - first.v0]).toEqual([expect.closeTo(0.2, 12), expect.closeTo(0.1, 12)]);
    expect(first.v0).toBe(was.v0);
  });

  it("mirrored, so that they read the other way round; twice is once", async () => {
    const asset = four();
    const mirrored = await edit(asset, "mirror-shells", {}, picking(asset, "shells", [3]));
    expect(measure(mirrored).mirroredShells).toBe(1);
    expect(place(boxes(mirrored)[3]!)).toEqual([0.7, 0.7]);
    const back = await edit(mirrored, "mirror-shells", {}, picking(mirrored, "shells", [3]));
    expect(measure(back).mirroredShells).toBe(0);
    const all = boxes(await edit(asset, "mirror-shells", { about: "the common middle" }));
    expect(place(all[0]!)).toEqual([0.8, 0]);
  });

  it("into the smallest empty box that holds them, or grown to fill what gives them most", async () => {
    // The left three quarters are taken, and the lower half of the rest.
    const asset = squares([
      [0.005, 0.005, 0.735, 0.99],
      [0.75, 0.005, 0.24, 0.48],
      [1.5, 0, 0.1, 0.1],
    ]);
    const moved = boxes(await edit(asset, "into-free", { padding: 0 }, picking(asset, "shells", [2])))[2]!;
    expect(moved.u0).toBeGreaterThan(0.7);
    expect(moved.u1 - moved.u0).toBeCloseTo(0.1, 12);
    const back: Asset = await edit(asset, "move", { du: -1 }, picking(asset, "shells", [2]));
    const grown = await edit(back, "into-free", { grow: true, padding: 8 }, picking(back, "shells", [2]));
    const box = boxes(grown)[2]!;
    expect(box.u1 - box.u0).toBeGreaterThan(0.2);
    expect(box.v0 - 0.485).toBeGreaterThan(8 / 2048 - 1e-9);
    expect(measure(grown).overlapShare).toBe(0);
    expect(grown.shellMarks[0]!.ratio).toBeCloseTo((box.u1 - box.u0) / 0.1, 9);
    // However small a shell was, what is said of it can be kept.
    const speck = squares([
      [0.1, 0.1, 0.0002, 0.0002],
      [0.5, 0.5, 0.1, 0.1],
    ]);
    const huge = await edit(speck, "into-free", { grow: true }, picking(speck, "shells", [0]));
    expect(ShellMark.parse(huge.shellMarks[0]).ratio).toBe(1000);
  });

  it("side to side with their neighbours as a net, at a gap and at their own size", async () => {
    const asset = await edit(sides([10, 20, 30, 40, 50, 60]), "move", { scale: 0.5 });
    // The top onto the front: they share the upper edge of the front.
    const net = await edit(asset, "set-beside", { gap: 16 }, picking(asset, "shells", [4]));
    const [was, now] = [shellsAt(asset, everything(asset)), shellsAt(net, everything(net))];
    for (const k of [0, 1, 2, 3, 5]) expect(now[k]!.uv).toEqual(was[k]!.uv);
    const width = (uv: Float64Array) => Math.hypot(uv[2]! - uv[0]!, uv[3]! - uv[1]!);
    expect(width(now[4]!.uv)).toBeCloseTo(width(was[4]!.uv), 12);
    // Points of the front's top edge are 16 texels from their mates.
    const knots = mateKnots(net.shapes.get("p1")!.mesh, now[0]!.layout, [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]);
    const apart = knots.map(({ a, b }) => Math.hypot(a[0] - b[0], a[1] - b[1]));
    expect(Math.min(...apart)).toBeCloseTo(16 / 2048, 9);
  });

  it("parked beside the page, counted, and brought back to where they were", async () => {
    const asset = four();
    const parked = await edit(asset, "park", {}, picking(asset, "shells", [1, 2]));
    for (const k of [1, 2]) expect(boxes(parked)[k]!.u1).toBeLessThan(0);
    expect(parked.shellMarks).toHaveLength(2);
    const more = await edit(parked, "park", {}, picking(parked, "shells", [0]));
    expect(boxes(more)[0]!.u1).toBeLessThan(Math.min(boxes(more)[1]!.u0, boxes(more)[2]!.u0));
    // One that is put onto the page is no longer parked, and stays there.
    const used = await edit(more, "move", { du: 3 }, picking(more, "shells", [1]));
    const others = await edit(used, "bring-back");
    expect(boxes(others)[1]!.u0).toBe(boxes(used)[1]!.u0);
    const again = await edit(
      await edit(used, "park", {}, picking(used, "shells", [1])),
      "bring-back",
      {},
      picking(used, "shells", [1]),
    );
    expect(boxes(again)[1]!.u0).toBeCloseTo(boxes(used)[1]!.u0, 9);
    const back = await edit(more, "bring-back");
    expect(boxes(back).map(place)).toEqual(boxes(asset).map(place));
    expect(back.shellMarks).toHaveLength(0);
    await expect(edit(back, "bring-back")).rejects.toThrow("parked");
  });
});

describe("density", () => {
  it("has ratios that Level keeps, and that are no spread", async () => {
    const asset = squares([
      [0, 0, 0.1, 0.1],
      [0.3, 0.3, 0.15, 0.15],
      [0.6, 0.6, 0.2, 0.2],
    ]);
    const level = await edit(asset, "level");
    const twice = await edit(level, "density-ratio", { ratio: 2 }, picking(level, "shells", [0]));
    const width = (a: Asset) => boxes(a).map((b) => b.u1 - b.u0);
    expect(width(twice)[0]! / width(twice)[1]!).toBeCloseTo(2, 9);
    expect(measure(twice).texelDensityVariation).toBeCloseTo(0, 9);
    expect(measure(twice).perShell[0]!.ratio).toBe(2);
    const messed = await edit(twice, "move", { scale: 1.7 }, picking(twice, "shells", [2]));
    expect(measure(messed).texelDensityVariation).toBeGreaterThan(0.1);
    const again = await edit(messed, "level");
    expect(width(again)[0]! / width(again)[1]!).toBeCloseTo(2, 9);
    expect(width(again)[2]!).toBeCloseTo(width(again)[1]!, 9);
    // Levelled twice is once.
    const once = boxes(again);
    boxes(await edit(again, "level")).forEach((b, i) => {
      expect(b.u0).toBeCloseTo(once[i]!.u0, 12);
    });
    const back = await edit(again, "density-ratio", { ratio: 1 }, picking(again, "shells", [0]));
    expect(back.shellMarks).toHaveLength(0);
    expect(width(back)[0]!).toBeCloseTo(width(back)[1]!, 9);
  });

  it("counts the resolution of the tile that a shell lies in", async () => {
    const asset = squares([
      [0, 0, 0.1, 0.1],
      [1.3, 0.3, 0.1, 0.1],
    ]);
    const uneven: Asset = { ...asset, tiles: { resolution: 1024, own: { 1002: 2048 } } };
    const level = await edit(uneven, "level");
    const [a, b] = boxes(level);
    expect((a!.u1 - a!.u0) / (b!.u1 - b!.u0)).toBeCloseTo(2, 9);
    const [x, y] = measure(level).perShell;
    expect(x!.density).toBeCloseTo(y!.density, 6);
    const given = measure(await edit(uneven, "level", { density: 128 })).perShell;
    for (const { density } of given) expect(density).toBeCloseTo(128, 6);
  });

  it("is levelled by itself for each part", async () => {
    const asset = squares([
      [0, 0, 0.1, 0.1],
      [0.3, 0.3, 0.2, 0.2],
    ]);
    const own = boxes(await edit(asset, "level", { together: "each part" }));
    expect(own[0]!.u1 - own[0]!.u0).toBeCloseTo(own[1]!.u1 - own[1]!.u0, 9);
  });
});

describe("shells laid as they stand on the model", () => {
  it("have the topmost first, and left to the left", async () => {
    // Squares stand side by side along x, all at one height: one row, from left to right whatever their places were.
    const row = boxes(await edit(four(), "space-out", { how: "as on the model" }));
    for (const [i, b] of row.slice(1).entries()) expect(b.u0).toBeGreaterThan(row[i]!.u1);
    for (const b of row) expect(b.v1).toBeCloseTo(row[0]!.v1, 12);
    const cart = await edit(marketCart(), "project");
    const laid = await edit(cart, "space-out", { how: "as on the model", gap: 4 });
    const names = shellsAt(laid, everything(laid)).map((s) => [s.shape.name, s.box] as const);
    const top = (name: string) => Math.max(...names.filter(([n]) => n.startsWith(name)).map(([, b]) => b.v1));
    expect(top("Awning")).toBeGreaterThan(top("Axle"));
    for (const [i, [, a]] of names.entries())
      for (const [, b] of names.slice(i + 1))
        expect(a.u1 <= b.u0 + 1e-9 || b.u1 <= a.u0 + 1e-9 || a.v1 <= b.v0 + 1e-9 || b.v1 <= a.v0 + 1e-9).toBe(true);
  });
});

describe("free space", () => {
  it("is told as the largest empty boxes, with the shells that could go into each", async () => {
    const asset = four();
    const found = await freeSpace(asset, "s1", 8);
    expect(found.length).toBeGreaterThan(2);
    const area = ({ box }: { box: SheetBox }) => (box.u1 - box.u0) * (box.v1 - box.v0);
    for (const [i, f] of found.slice(1).entries()) expect(area(f)).toBeLessThanOrEqual(area(found[i]!));
    for (const { box } of found)
      for (const own of boxes(asset))
        expect(own.u1 <= box.u0 || own.u0 >= box.u1 || own.v1 <= box.v0 || own.v0 >= box.v1).toBe(true);
    expect(found[0]!.fits).toHaveLength(4);
    // The box that is pointed at is the one that is filled.
    const { box } = found[1]!;
    const at = { u: (box.u0 + box.u1) / 2, v: (box.v0 + box.v1) / 2, grow: true };
    const [moved] = boxes(await edit(asset, "into-free", at, picking(asset, "shells", [0])));
    expect(moved!.u0).toBeGreaterThanOrEqual(box.u0 - 1e-9);
    expect(moved!.v1).toBeLessThanOrEqual(box.v1 + 1e-9);
  });
});
