import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { type Codecs, encodePng, type Pixels } from "../core/images/pixels";
import { type Asset, fileKey, type Material } from "../core/layout/asset";
import type { Context } from "../core/operations/operation";
import { quiet } from "./assets";

// Assets with images that are painted for their layouts.

const require = createRequire(import.meta.url);
const PATHS: Readonly<Record<string, string>> = {
  png: "@jsquash/png/codec/pkg/squoosh_png_bg.wasm",
  jpeg: "@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm",
};
const wasm = async (name: string): Promise<Uint8Array> => readFileSync(require.resolve(PATHS[name]!));

/** A context in which images can be read and written. */
export const reading: Context = { ...quiet, wasm };

export const codecs = async (): Promise<Codecs> => ({ png: await wasm("png"), jpeg: await wasm("jpeg") });

/** An image whose every texel is another, as far as 64 a side: red tells the column, green the row. */
export function ramp(side: number): Pixels {
  const data = new Uint8Array(4 * side * side);
  for (let i = 0; i < side * side; i++) data.set([(4 * i) % (4 * side), 4 * Math.floor(i / side), 99, 255], 4 * i);
  return { width: side, height: side, data };
}

/** The asset with one material on all its faces, which lays images by the first set. */
export async function painted(
  asset: Asset,
  images: { readonly color?: Pixels; readonly normal?: Pixels },
): Promise<Asset> {
  const files: Record<string, Uint8Array> = {};
  const laid = async (pixels: Pixels) => {
    const bytes = await encodePng(pixels, await codecs());
    const image = fileKey(bytes);
    files[image] = bytes;
    return { image, set: asset.sets[0]!.id };
  };
  const material: Material = {
    name: "Paint",
    color: [1, 1, 1],
    ...(images.color ? { texture: await laid(images.color) } : {}),
    ...(images.normal ? { maps: [{ ...(await laid(images.normal)), channel: "normal" as const }] } : {}),
  };
  const shapes = new Map(
    [...asset.shapes].map(([id, s]) => [
      id,
      { ...s, mesh: { ...s.mesh, faceMaterial: s.mesh.faceMaterial.map(() => 0) } },
    ]),
  );
  const list = Object.keys(files).map((key, i) => ({ key, name: `paint ${i + 1}.png`, type: "image/png" }));
  return { ...asset, shapes, materials: [material], images: list, files };
}
