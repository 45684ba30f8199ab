import { describe, expect, it } from "vitest";
import { assemble, box } from "../../../demo/kit";
import { marketCart } from "../../../demo/models/market-cart";
import { edit, laidOut, layoutAt, picking, pickingParts, quiet, shapeAt } from "../../testing/assets";
import { measure } from "../check/measure";
import { readGltf } from "../formats/gltf/read";
import { writeGlb } from "../formats/gltf/write";
import { type Asset, shapesOf } from "../layout/asset";
import { getBit } from "../layout/bits";
import { shellName, structureOf } from "../layout/layout";
import type { Shell } from "../mesh/indices";
import { transformPoints } from "../mesh/transform";
import { runEdit } from "./run";

/** Two crates beside each other, laid out. */
const crates = (): Promise<Asset> =>
  laidOut(
    assemble(
      "Crates",
      "cm",
      [],
      [
        { name: "Low", shape: box([3, 2, 1], [2, 2, 2]) },
        { name: "High", shape: box([2, 4, 2], [2, 2, 2]) },
      ],
    ),
  );
const uvOf = (asset: Asset, i: number) => [...layoutAt(asset, i).uv];

describe("what is picked", () => {
  it("acts on nothing else when its elements are no longer there", async () => {
    const asset = await crates();
    for (const kind of ["vertices", "edges", "faces", "shells"] as const)
      await expect(runEdit(asset, "move", { du: 0.1 }, picking(asset, kind, [99_999]), quiet)).rejects.toThrow(
        /no longer there; pick again/,
      );
  });

  it("is packed clear of what is not picked, or is locked, which stays where it is", async () => {
    const packed = await edit(await crates(), "pack", { padding: 4, resolution: 512, search: "quick" });
    const shells = structureOf(shapeAt(packed, 1).mesh, layoutAt(packed, 1));
    const all = Array.from({ length: shells.shellCount }, (_, k) => shellName(shells, k as Shell));
    const again = await edit(
      packed,
      "pack",
      { padding: 4, resolution: 512, search: "quick" },
      picking(packed, "shells", all, shapeAt(packed, 1).id),
    );
    expect(uvOf(again, 0)).toEqual(uvOf(packed, 0));
    const m = measure(again, 512);
    expect([m.overlapShare, m.outOfBoundsTriangles]).toEqual([0, 0]);
    expect(m.shellGapPx!).toBeGreaterThan(3.9);
    const locked = await edit(packed, "lock-parts", { why: "signed off" }, pickingParts(packed, [packed.parts[0]!.id]));
    const beside = await edit(locked, "pack", { padding: 4, resolution: 512, search: "quick" });
    expect(uvOf(beside, 0)).toEqual(uvOf(packed, 0));
    expect(measure(beside).overlapShare).toBe(0);
  });
});

describe("pins", () => {
  it("hold: whoever moves points leaves pinned ones where they are, or refuses", async () => {
    const asset = await edit(await crates(), "pack", { search: "quick" });
    const vertex = shapeAt(asset).mesh.cornerVertex[0]!;
    const pinned = await edit(asset, "pin", {}, picking(asset, "vertices", [vertex]));
    const held = (a: Asset) => {
      const layout = layoutAt(a);
      return [...layout.uv].filter((_, i) => getBit(layout.pinned, i >> 1));
    };
    expect(held(pinned).length).toBeGreaterThan(0);
    for (const [id, options] of [
      ["move", { du: 0.2 }],
      ["level", { density: 12 }],
      ["pack", { search: "quick" }],
      ["unfold", { passes: 2 }],
    ] as const) {
      const after = await edit(pinned, id, options).catch((error: Error) => error.message);
      if (typeof after === "string") expect(after).toMatch(/pin/);
      else expect(held(after)).toEqual(held(pinned));
    }
  });
});

describe("lengths and words", () => {
  it("are taken at the largest instance by every operation", async () => {
    const cart = marketCart();
    const shape = shapesOf(cart).find((s) => s.parts.length > 1)!;
    const large = shape.parts.at(-1)!;
    const wide = {
      ...cart,
      parts: cart.parts.map((p) =>
        p === large ? { ...p, transform: p.transform.map((x, i) => (i < 4 ? 3 * x : x)) as typeof p.transform } : p,
      ),
    };
    const metric = shapesOf(wide).find((s) => s.id === shape.id)!.metric;
    expect(metric).toEqual(wide.parts.find((p) => p.id === large.id)!.transform);
  });

  it("are cut to what the history takes", async () => {
    const asset = await crates();
    const { result } = await runEdit(
      asset,
      "rename-part",
      { name: "x".repeat(200) },
      pickingParts(asset, [asset.parts[0]!.id]),
      quiet,
    );
    expect(result.words.length).toBeLessThanOrEqual(200);
  });
});

describe("controls do what they say", () => {
  it("Draft keeps the seams it is told to keep", async () => {
    const cut = await crates();
    const drafted = await edit(cut, "draft", { keepSeams: true });
    shapesOf(cut).forEach((_, i) => {
      const [before, after] = [layoutAt(cut, i).cut, layoutAt(drafted, i).cut];
      before.forEach((byte, k) => {
        expect(after[k]! & byte).toBe(byte);
      });
    });
  });

  it("a GLB written from scratch is in metres, with y up", async () => {
    const own = { ...(await crates()), up: "z" as const };
    const back = await readGltf((await writeGlb(own)).bytes, { name: "crates.glb" });
    const size = (asset: Asset) => {
      const low = [Infinity, Infinity, Infinity];
      const high = [-Infinity, -Infinity, -Infinity];
      for (const part of asset.parts)
        transformPoints(part.transform, asset.shapes.get(part.shape)!.mesh.positions).forEach((x, i) => {
          low[i % 3] = Math.min(low[i % 3]!, x);
          high[i % 3] = Math.max(high[i % 3]!, x);
        });
      return high.map((x, d) => x - low[d]!);
    };
    const [x, y, z] = size(own) as [number, number, number];
    const now = size(back);
    [x / 100, z / 100, y / 100].forEach((wanted, d) => {
      expect(now[d]).toBeCloseTo(wanted, 6);
    });
  });
});
