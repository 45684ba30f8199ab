import { beforeAll, describe, expect, it } from "vitest";
import { brassBalance } from "../../../demo/models/brass-balance";
import { edit, laidOutModel, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { squares } from "../../testing/squares";
import type { Asset } from "../layout/asset";
import { countBits } from "../layout/bits";
import { structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { runEdit } from "./run";
import { everything } from "./scope";
import { beginSession } from "./sessions";

// UV points by themselves: put onto others, made one with them, and parted again.

/** Two squares beside each other in the mesh's own corners: names of points are their corners. */
const asset = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.31, 0.12, 0.2, 0.2],
]);
const nameOf = (a: Asset, wedge: number): number => pointNames(structureOf(shapeAt(a).mesh, layoutAt(a)))[wedge]!;
const wedgeNear = (a: Asset, u: number, v: number): number => {
  const { uv } = layoutAt(a);
  const away = (w: number) => Math.hypot(uv[2 * w]! - u, uv[2 * w + 1]! - v);
  return Array.from({ length: uv.length / 2 }, (_, w) => w).reduce((best, w) => (away(w) < away(best) ? w : best));
};
const place = (a: Asset, w: number): number[] => [...layoutAt(a).uv.subarray(2 * w, 2 * w + 2)];

describe("snapping points", () => {
  const from = wedgeNear(asset, 0.3, 0.1);
  const to = wedgeNear(asset, 0.31, 0.12);
  const scope = picking(asset, "points", [nameOf(asset, from)]);

  it("puts them exactly onto the nearest other point, border, tile edge or line", async () => {
    expect(place(await edit(asset, "snap-points", { within: 0.03 }, scope), from)).toEqual(place(asset, to));
    const border = await edit(asset, "snap-points", { to: "borders", within: 0.03 }, scope);
    expect(place(border, from)[0]).toBe(place(asset, to)[0]);
    expect(place(await edit(asset, "snap-points", { to: "tiles", within: 0.11 }, scope), from)).toEqual([0.1 + 0.2, 0]);
    expect(place(await edit(asset, "snap-points", { to: "grid", within: 0.03 }, scope), from)[1]).toBe(0.125);
  });

  it("moves no pinned point, and refuses where nothing is near or picked", async () => {
    const pinned = await edit(asset, "pin", {}, scope);
    await expect(edit(pinned, "snap-points", { within: 0.03 }, scope)).rejects.toThrow("None of these points");
    await expect(edit(asset, "snap-points", { within: 0.001 }, scope)).rejects.toThrow("None of these points");
    await expect(edit(asset, "snap-points")).rejects.toThrow("Pick");
  });
});

describe("what is moved under the pointer", () => {
  const from = wedgeNear(asset, 0.3, 0.1);
  const to = wedgeNear(asset, 0.31, 0.12);
  const still = { turn: 0, scale: 1 };
  const snap = { to: "points", within: 0.02, at: [0.3, 0.1] } as const;

  it("comes onto what lies near it, with what was taken hold of, and is kept as that motion", async () => {
    const [u, v] = place(asset, to) as [number, number];
    for (const [operation, kind, items, more] of [
      ["move", "shells", [0], {}],
      ["move-points", "points", [nameOf(asset, from)], { radius: 0, curve: "smooth" }],
    ] as const) {
      const scope = picking(asset, kind, items);
      const live = await beginSession(asset, operation, scope);
      const asked = { du: 0.012, dv: 0.017, ...still, ...more, snap };
      const preview = live.preview(asked);
      expect(preview.motion!.du).toBeCloseTo(u - 0.3, 12);
      expect(preview.layouts[0]!.layout!.uv[2 * from]).toBeCloseTo(u, 12);
      // Too far away it goes where the pointer is.
      expect(live.preview({ ...asked, du: 0.1 }).motion!.du).toBe(0.1);
      const { asset: after, options } = live.commit(asked);
      expect(place(after, from)[1]).toBeCloseTo(v, 12);
      expect(options).not.toHaveProperty("snap");
      const again = await runEdit(asset, operation, options, scope, quiet);
      expect(layoutAt(again.asset).uv).toEqual(layoutAt(after).uv);
    }
  });

  it("keeps to nothing while it is turned or scaled", async () => {
    const live = await beginSession(asset, "move", picking(asset, "shells", [0]));
    expect(live.preview({ du: 0, dv: 0, turn: 5, scale: 1, snap })).not.toHaveProperty("motion");
  });
});

describe("welding and splitting", () => {
  let laid: Asset;
  let seam: Edge;
  beforeAll(async () => {
    laid = await laidOutModel(brassBalance);
    const { mesh } = shapeAt(laid);
    const t = topologyOf(mesh);
    const cut = layoutAt(laid).cut;
    seam = Array.from({ length: t.edgeCount }, (_, e) => e as Edge).find(
      (e) => edgeFaceCount(t, e) === 2 && !(cut[e >> 3]! & (1 << (e & 7))),
    )!;
  });

  it("part the faces at a point and make them one again, nothing having moved", async () => {
    const t = topologyOf(shapeAt(laid).mesh);
    const vertex = t.edgeVertices[2 * seam]!;
    const scope = picking(laid, "vertices", [vertex]);
    const { asset: split, result } = await runEdit(laid, "split-points", {}, scope, quiet);
    expect(result.words).toMatch(/^Split \d+ UV points?$/);
    const { mesh } = shapeAt(laid);
    const s = structureOf(mesh, layoutAt(split));
    // Every face at the vertex has a point of its own.
    const own = [...mesh.cornerVertex.keys()]
      .filter((c) => mesh.cornerVertex[c] === vertex)
      .map((c) => s.cornerWedge[c]!);
    expect(new Set(own).size).toBe(own.length);
    expect(countBits(layoutAt(split).cut)).toBeGreaterThan(countBits(layoutAt(laid).cut));
    const corners = (a: Asset) => {
      const { cornerWedge } = structureOf(mesh, layoutAt(a));
      return [...cornerWedge].map((w) => place(a, w));
    };
    expect(corners(split)).toEqual(corners(laid));
    await expect(edit(split, "split-points", {}, scope)).rejects.toThrow("of its own already");

    // All at its ends, and at the ends of the cuts: what was cut is whole again.
    const around = picking(split, "vertices", [...new Set(own.flatMap(() => [...mesh.cornerVertex]))]);
    const welded = await edit(split, "weld-points", { within: 0 }, around);
    expect(corners(welded)).toEqual(corners(laid));
    expect(countBits(layoutAt(welded).cut)).toBeLessThanOrEqual(countBits(layoutAt(laid).cut));
  });

  it("brings points that lie apart to the middle of them, or to the pinned one, and refuses two pinned ones", async () => {
    const t = topologyOf(shapeAt(laid).mesh);
    const vertex = t.edgeVertices[2 * seam]!;
    const split = await edit(laid, "split-points", {}, picking(laid, "vertices", [vertex]));
    const { mesh } = shapeAt(split);
    const s = structureOf(mesh, layoutAt(split));
    const corner = t.edgeCorners[t.edgeCornerStart[seam]!]!;
    const at = mesh.cornerVertex[corner] === vertex ? corner : t.cornerNext[corner]!;
    const w = s.cornerWedge[at]!;
    const [u, v] = place(split, w) as [number, number];
    const apart = await edit(split, "move-points", { du: 0.001 }, picking(split, "points", [nameOf(split, w)]));
    const scope = picking(apart, "vertices", [vertex]);
    await expect(
      edit(apart, "weld-points", { within: 0.0005 }, picking(apart, "points", [nameOf(apart, w)])),
    ).rejects.toThrow("No seam lies");
    const cornerPlace = (a: Asset) => place(a, structureOf(mesh, layoutAt(a)).cornerWedge[at]!);
    const welded = await edit(apart, "weld-points", { within: 0.01 }, scope);
    expect(cornerPlace(welded)[0]).toBeGreaterThan(u);
    expect(cornerPlace(welded)[0]).toBeLessThan(u + 0.001);
    const pinned = await edit(apart, "pin", {}, picking(apart, "points", [nameOf(apart, w)]));
    expect(cornerPlace(await edit(pinned, "weld-points", { within: 0.01 }, scope))).toEqual(place(apart, w));
    const both = await edit(apart, "pin", {}, scope);
    await expect(
      edit(both, "weld-points", { within: 0.01 }, picking(both, "points", [nameOf(both, w)])),
    ).rejects.toThrow();
    expect(v).toBe(cornerPlace(apart)[1]);
  });

  it("refuse what has no coordinates", async () => {
    const bare = brassBalance();
    for (const id of ["weld-points", "split-points", "snap-points"]) {
      await expect(edit(bare, id, {}, picking(bare, "vertices", [0]))).rejects.toThrow("no coordinates");
      await expect(edit(bare, id, {}, everything(bare))).rejects.toThrow("Pick");
    }
  });
});
