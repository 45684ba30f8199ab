import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box } from "../../../demo/kit";
import { marketCart } from "../../../demo/models/market-cart";
import { assetOf, laidOutModel } from "../../testing/assets";
import { type Asset, shapesOf } from "../layout/asset";
import { UserError } from "../layout/user-error";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { decodeAsset, encodeAsset } from "./asset-bundle";
import { decodeBundle, encodeBundle } from "./bundle";

const { points, faces } = box([1, 1, 1]);
const cube = assetOf(meshFromPolygons(points.flat(), faces));

interface Json {
  shapes: Array<{ id: string; body: { mesh: Record<string, unknown> } }>;
  parts: Array<{ id: string; shape: string; name: string }>;
  head: { order: string[] };
}
/** The bundle of an asset with its JSON changed. */
function changed(asset: Asset, change: (json: Json) => void): Uint8Array<ArrayBuffer> {
  const { json, arrays } = decodeBundle(encodeAsset(asset));
  change(json as Json);
  return encodeBundle(json, arrays);
}

describe("assets as bundles", () => {
  it("come back as they were", async () => {
    const cart = await laidOutModel(marketCart);
    expect(decodeAsset(encodeAsset(cart))).toEqual(cart);
  });

  it("hold a mesh once that many shapes name, however many: it is read and checked once", () => {
    const many = decodeAsset(
      changed(cube, (json) => {
        for (let k = 2; k <= 400; k++) {
          json.shapes.push({ ...json.shapes[0]!, id: `p${k}` });
          json.parts.push({ ...json.parts[0]!, id: `p${k}`, shape: `p${k}` });
          json.head.order.push(`p${k}`);
        }
      }),
    );
    expect(many.parts).toHaveLength(400);
    expect(new Set(shapesOf(many).map((s) => s.mesh)).size).toBe(1);
  });

  it("have limits for what they may name, and say so", () => {
    const tooMany = changed(cube, (json) => {
      json.parts = new Array(100_001).fill(json.parts[0]!);
    });
    expect(() => decodeAsset(tooMany)).toThrow(UserError);
    const twice = changed(cube, (json) => {
      json.parts.push(json.parts[0]!);
    });
    expect(() => decodeAsset(twice)).toThrow(UserError);
  });

  it("are refused in a sentence when any byte of their head is another, or read as a whole asset", () => {
    const bytes = encodeAsset(cube);
    fc.assert(
      fc.property(fc.nat(Math.min(2000, bytes.length - 1)), fc.integer({ min: 1, max: 255 }), (at, by) => {
        const damaged = bytes.slice();
        damaged[at] = (damaged[at]! + by) % 256;
        try {
          expect(decodeAsset(damaged).parts.length).toBeGreaterThan(0);
        } catch (error) {
          expect(error).toBeInstanceOf(UserError);
        }
      }),
      { numRuns: 300 },
    );
  });
});
