import { describe, expect, it } from "vitest";
import { checkAsset } from "../src/core/formats/asset-json";
import { type Asset, shapesOf } from "../src/core/layout/asset";
import type { Corner, Edge } from "../src/core/mesh/indices";
import { faceCount, NONE } from "../src/core/mesh/poly-mesh";
import { edgeFaceCount, mateCorner, topologyOf, windsAlike } from "../src/core/mesh/topology";
import { findFaults } from "../src/core/prepare/faults";
import { bar, box, dot, lathe, placed, type Shape, unit, type Vec } from "./kit";
import { brassBalance } from "./models/brass-balance";
import { gingerRoot } from "./models/ginger-root";
import { marketCart } from "./models/market-cart";
import { paperLantern } from "./models/paper-lantern";
import { pepperMill } from "./models/pepper-mill";

const MODELS: ReadonlyArray<[string, () => Asset]> = [
  ["the pepper mill", pepperMill],
  ["the paper lantern", paperLantern],
  ["the brass balance", brassBalance],
  ["the market cart", marketCart],
  ["the ginger root", () => gingerRoot(0.3)],
];

/** Volume that faces enclose, by the divergence theorem: positive when they look outwards. */
function volume(s: Shape): number {
  let sum = 0;
  for (const f of s.faces)
    for (let k = 1; k + 1 < f.length; k++) {
      const [a, b, c] = [s.points[f[0]!]!, s.points[f[k]!]!, s.points[f[k + 1]!]!];
      sum += dot(a, [b[1] * c[2] - b[2] * c[1], b[2] * c[0] - b[0] * c[2], b[0] * c[1] - b[1] * c[0]] as Vec) / 6;
    }
  return sum;
}

describe.each(MODELS)("%s", (_, make) => {
  const asset = make();

  it("fits together, and every face has a material that there is", () => {
    checkAsset(asset);
    for (const { mesh } of shapesOf(asset))
      for (const m of mesh.faceMaterial) expect(m === NONE || m < asset.materials.length).toBe(true);
    expect(new Set(asset.parts.map((p) => p.id)).size).toBe(asset.parts.length);
    expect(new Set(asset.parts.map((p) => p.name)).size).toBe(asset.parts.length);
  });

  it("has no edge of three faces, and faces that are wound alike", () => {
    for (const { mesh } of shapesOf(asset)) {
      const t = topologyOf(mesh);
      for (let e = 0 as Edge; e < t.edgeCount; e++) expect(edgeFaceCount(t, e)).toBeLessThanOrEqual(2);
      for (let c = 0 as Corner; c < mesh.cornerVertex.length; c++) {
        const mate = mateCorner(t, c);
        if (mate !== -1) expect(windsAlike(mesh, t, c, mate)).toBe(true);
      }
    }
  });

  it("is the same each time it is made", () => {
    const again = make();
    expect(shapesOf(again).map((s) => s.mesh.positions)).toEqual(shapesOf(asset).map((s) => s.mesh.positions));
    expect(again.parts.map((p) => [p.name, p.path])).toEqual(asset.parts.map((p) => [p.name, p.path]));
  });
});

describe("the night market", () => {
  it("holds what an artist meets: shared shapes, mirrored and uneven parts, faults to mend, and none that hides", () => {
    const cart = marketCart();
    expect(shapesOf(cart).length).toBeLessThan(cart.parts.length);
    const faults = findFaults(cart);
    for (const kind of ["cracks", "doubled", "uneven", "mirrored"] as const) expect(faults.has(kind), kind).toBe(true);
    expect(faults.has("manyFaced")).toBe(false);
    for (const make of [pepperMill, paperLantern]) {
      const found = findFaults(make());
      for (const kind of ["manyFaced", "winding", "flat"] as const) expect(found.has(kind), kind).toBe(false);
    }
  });

  it("has a root of over fifty thousand faces when it is made as fine as it is shown", () => {
    // A coarser one has as many faces as its step tells: the surface is the same.
    const faces = (step: number) => faceCount(shapesOf(gingerRoot(step))[0]!.mesh);
    const [coarse, finer] = [faces(0.4), faces(0.2)];
    expect(finer / coarse).toBeGreaterThan(3.4);
    expect(finer / coarse).toBeLessThan(4.6);
    expect(coarse * (0.4 / 0.068) ** 2).toBeGreaterThan(50_000);
  });
});

describe("the kit of shapes", () => {
  it("makes boxes of their size, cut as asked, looking outwards", () => {
    const b = box([2, 3, 4], [2, 1, 3]);
    expect(volume(b)).toBeCloseTo(24, 9);
    expect(b.faces).toHaveLength(2 * (2 * 1 + 1 * 3 + 2 * 3));
    for (const d of [0, 1, 2]) {
      const values = b.points.map((p) => p[d]!);
      expect(Math.max(...values) - Math.min(...values)).toBeCloseTo([2, 3, 4][d]!, 9);
    }
  });

  it("makes turned shapes of the volume that a polygon turned has", () => {
    const n = 48;
    const drum = lathe(
      [
        [1, 0],
        [1, 2],
      ],
      n,
    );
    expect(volume(drum)).toBeCloseTo(2 * (n / 2) * Math.sin((2 * Math.PI) / n), 6);
    const open = lathe(
      [
        [1, 0],
        [1, 2],
      ],
      n,
      0,
      false,
    );
    expect(drum.faces.length - open.faces.length).toBe(2);
  });

  it("makes bars along a path as thick as asked, closed at their ends", () => {
    const path: Vec[] = [
      [0, 0, 0],
      [3, 0, 0],
    ];
    const b = bar(path, 0.5, 24);
    expect(Math.abs(volume(b))).toBeCloseTo(3 * 0.25 * 12 * Math.sin((2 * Math.PI) / 24), 6);
    for (const p of b.points) expect(Math.hypot(p[1], p[2])).toBeCloseTo(0.5, 9);
  });

  it("puts parts in their places", () => {
    const m = placed([1, 2, 3], 90, [2, 1, 1]);
    expect([m[12], m[13], m[14]]).toEqual([1, 2, 3]);
    const x = [m[0]!, m[1]!, m[2]!];
    expect(Math.hypot(...x)).toBeCloseTo(2, 9);
    expect(dot(unit([3, 0, 4]), [0.6, 0, 0.8])).toBeCloseTo(1, 9);
  });
});
