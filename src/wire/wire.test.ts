import fc from "fast-check";
import { gzipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { Arrays, bodyJson } from "@/core/formats/asset-json";
import { type Asset, fileKey } from "@/core/layout/asset";
import { deltaBetween } from "@/core/layout/delta";
import { edit, laidOutModel } from "@/testing/assets";
import { marketCart } from "../../demo/models/market-cart";
import { frameArray, readArrays } from "./array-stream";
import { assetOf, deltaOf, hashesOf, type Manifest, ManifestDelta, manifestOf } from "./manifest";

/** A stream that hands out bytes in pieces of some sizes, again and again. */
const streamed = (bytes: Uint8Array, sizes: readonly number[]): ReadableStream<Uint8Array> => {
  let [at, k] = [0, 0];
  return new ReadableStream({
    pull(controller) {
      if (at === bytes.length) return controller.close();
      const size = sizes[k++ % sizes.length]!;
      controller.enqueue(bytes.slice(at, at + size));
      at = Math.min(bytes.length, at + size);
    },
  });
};
const joined = (list: readonly Uint8Array[]): Uint8Array => {
  const out = new Uint8Array(list.reduce((n, b) => n + b.length, 0));
  let at = 0;
  for (const b of list) {
    out.set(b, at);
    at += b.length;
  }
  return out;
};
const bytes = fc.uint8Array({ maxLength: 200 });

describe("arrays on their way", () => {
  const arrays = fc.array(fc.array(bytes, { minLength: 1, maxLength: 3 }), { maxLength: 5 });
  const sizes = fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1, maxLength: 4 });

  it("arrive as they were sent, in whatever pieces the network hands them out", async () => {
    await fc.assert(
      fc.asyncProperty(arrays, sizes, fc.boolean(), async (list, pieces, told) => {
        const sent = list.map((chunks) => joined(chunks));
        const frames = list.map((chunks, i) =>
          frameArray(
            told ? sent[i]!.length : 0,
            chunks.map((c) => gzipSync(c)),
          ),
        );
        const got: Uint8Array[] = [];
        for await (const array of readArrays(streamed(joined(frames), pieces))) got.push(array.slice());
        expect(got).toEqual(sent);
      }),
      { numRuns: 60 },
    );
  });

  it("are refused when they break off, or come at another size than was told", async () => {
    const frame = frameArray(4, [gzipSync(Uint8Array.of(1, 2, 3, 4))]);
    const read = async (b: Uint8Array) => {
      for await (const _ of readArrays(streamed(b, [7])));
    };
    await expect(read(frame)).resolves.toBeUndefined();
    await expect(read(frame.subarray(0, frame.length - 3))).rejects.toThrow("end too early");
    await expect(read(frame.subarray(0, 6))).rejects.toThrow("end too early");
    await expect(read(frameArray(5, [gzipSync(Uint8Array.of(1, 2, 3, 4))]))).rejects.toThrow("another size");
  });
});

/** A manifest of an asset, with the contents of its arrays by stand-in hashes. */
function manifestFor(asset: Asset): { manifest: Manifest; contents: (hash: string) => Uint8Array } {
  const known = new Map<string, Uint8Array>();
  const hash = (array: ArrayBufferView): string => {
    const own = new Uint8Array(array.buffer as ArrayBuffer, array.byteOffset, array.byteLength);
    const name = [...new TextEncoder().encode(fileKey(own))].map((b) => b.toString(16).padStart(2, "0")).join("");
    const full = name.padEnd(64, "0").slice(0, 64);
    known.set(full, own.slice());
    return full;
  };
  const head = deltaBetween({ ...asset, sets: [], parts: [], shapes: new Map() }, asset).head!;
  const manifest: Manifest = {
    head: JSON.parse(JSON.stringify(head)),
    parts: new Map(asset.parts.map((p) => [p.id, JSON.parse(JSON.stringify(p))])),
    shapes: new Map(
      [...asset.shapes.values()].map((shape) => {
        const arrays = new Arrays();
        return [shape.id, { body: bodyJson(shape, arrays), arrays: arrays.list.map(hash) }];
      }),
    ),
    layouts: new Map(
      [...asset.shapes.values()].flatMap((shape) =>
        [...shape.layouts].map(([set, l]) => [
          `${shape.id}/${set}`,
          { cut: hash(l.cut), mapped: hash(l.mapped), uv: hash(l.uv), pinned: hash(l.pinned) },
        ]),
      ),
    ),
  };
  return { manifest, contents: (h) => known.get(h)! };
}

describe("a state told by the hashes of its arrays", () => {
  it("is the asset again with its arrays in place, and names each array once", async () => {
    const cart = await edit(await laidOutModel(marketCart), "duplicate-set");
    const { manifest, contents } = manifestFor(cart);
    const told = ManifestDelta.parse(JSON.parse(JSON.stringify(manifestOf(manifest))));
    const hashes = hashesOf(told);
    expect(new Set(hashes).size).toBe(hashes.length);
    const back = assetOf(cart.id, cart.name, manifest, contents);
    expect([...back.shapes]).toEqual([...cart.shapes]);
    expect(back.parts).toEqual(cart.parts);
    expect(back.sets).toEqual(cart.sets);
    const delta = deltaOf(told, contents);
    expect(delta.layouts).toHaveLength(manifest.layouts.size);
    expect(delta.shapes.map((s) => s.id)).toEqual([...cart.shapes.keys()]);
  });
});
