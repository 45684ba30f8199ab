import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import encodeJpeg from "@jsquash/jpeg/codec/enc/mozjpeg_enc.js";
import { PNG } from "pngjs";
import { describe, expect, it } from "vitest";
import { codecs, ramp } from "../../testing/painted";
import { decodeImage, encodePng, imageKind, looksLikeDirections, type Pixels } from "./pixels";

const read = async (bytes: Uint8Array) => decodeImage(bytes, await codecs(), "it.png");

describe("images as numbers", () => {
  it("come back from PNG as they were, of 8 bits and of 16", async () => {
    const eight = ramp(16);
    const sixteen: Pixels = { ...eight, data: Uint16Array.from(eight.data, (x) => 251 * x + 3) };
    for (const image of [eight, sixteen]) {
      const again = await read(await encodePng(image, await codecs()));
      expect([again.width, again.height]).toEqual([16, 16]);
      expect([...again.data]).toEqual([...image.data]);
      expect(again.data instanceof Uint16Array).toBe(image.data instanceof Uint16Array);
    }
  });

  it("are written so that others read the same", async () => {
    const eight = ramp(16);
    const sixteen = { ...eight, data: Uint16Array.from(eight.data, (x) => 257 * x) };
    for (const image of [eight, sixteen]) {
      const { data } = PNG.sync.read(Buffer.from(await encodePng(image, await codecs())));
      expect([...data]).toEqual([...eight.data]);
    }
    const deep = PNG.sync.write(
      Object.assign(new PNG({ width: 1, height: 1, bitDepth: 16 }), {
        data: Buffer.from(Uint16Array.of(1000, 2000, 3000, 65535).buffer),
      }),
      { bitDepth: 16, inputHasAlpha: true },
    );
    expect([...(await read(new Uint8Array(deep))).data]).toEqual([1000, 2000, 3000, 65535]);
  });

  it("are read from JPEG as near as that keeps them", async () => {
    const path = createRequire(import.meta.url).resolve("@jsquash/jpeg/codec/enc/mozjpeg_enc.wasm");
    const encoder = await encodeJpeg({ wasmBinary: new Uint8Array(readFileSync(path)).buffer });
    const data = new Uint8ClampedArray(4 * 32 * 32);
    for (let i = 0; i < 32 * 32; i++) data.set([180, 90, 40, 255], 4 * i);
    const options = { quality: 95, baseline: false, arithmetic: false, progressive: false, optimize_coding: true };
    const rest = { smoothing: 0, color_space: 3, quant_table: 3, trellis_multipass: false, trellis_opt_zero: false };
    const more = { trellis_opt_table: false, trellis_loops: 1, auto_subsample: true, chroma_subsample: 2 };
    const chroma = { separate_chroma_quality: false, chroma_quality: 95 };
    const bytes = new Uint8Array(encoder.encode(data, 32, 32, { ...options, ...rest, ...more, ...chroma }));
    expect(imageKind(bytes)).toBe("jpeg");
    const image = await read(bytes);
    expect([image.width, image.height, image.data[3]]).toEqual([32, 32, 255]);
    for (const [c, wanted] of [180, 90, 40].entries()) expect(Math.abs(image.data[c]! - wanted)).toBeLessThan(4);
    await expect(decodeImage(bytes, { png: (await codecs()).png }, "a.jpg")).rejects.toThrow(/neither PNG nor JPEG/);
  });

  it("are refused with a word where they are damaged, of another kind, or too large to be unpacked", async () => {
    const whole = await encodePng(ramp(16), await codecs());
    await expect(read(whole.slice(0, 50))).rejects.toThrow("The image it.png is damaged: it cannot be read.");
    await expect(read(whole.slice(0, 6))).rejects.toThrow(/is damaged/);
    await expect(read(new TextEncoder().encode("RIFF....WEBP"))).rejects.toThrow(/neither PNG nor JPEG/);
    const bomb = whole.slice();
    new DataView(bomb.buffer).setUint32(16, 60_000);
    await expect(read(bomb)).rejects.toThrow("The image it.png has more than 8192 px a side.");
  });

  it("look like directions where they are blue, and neither red nor green on the whole", () => {
    const plain = (colour: readonly number[]): Pixels => ({
      width: 4,
      height: 4,
      data: Uint8Array.from({ length: 64 }, (_, i) => colour[i % 4]!),
    });
    expect(looksLikeDirections(plain([128, 127, 250, 255]))).toBe(true);
    expect(looksLikeDirections(plain([90, 90, 90, 255]))).toBe(false);
    expect(looksLikeDirections(plain([40, 90, 250, 255]))).toBe(false);
  });
});
