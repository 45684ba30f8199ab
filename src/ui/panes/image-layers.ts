import {
  DataArrayTexture,
  LinearFilter,
  LinearMipmapLinearFilter,
  RepeatWrapping,
  RGBAFormat,
  UnsignedByteType,
} from "three";
import type { Asset } from "@/core/layout/asset";

/** Images are drawn this large, whatever size they came in: enough to judge a layout by. */
const SIDE = 1024;
/** Layers a texture may have on any machine. */
const MOST = 64;

/** A texture with room for every image of the asset, one layer each; empty until they are fetched. */
export function imageLayers(asset: Asset): DataArrayTexture {
  const count = Math.min(MOST, asset.images.length);
  const side = count ? SIDE : 1;
  const data = new Uint8Array(4 * side * side * Math.max(1, count)).fill(235);
  const texture = new DataArrayTexture(data, side, side, Math.max(1, count));
  texture.format = RGBAFormat;
  texture.type = UnsignedByteType;
  texture.wrapS = RepeatWrapping;
  texture.wrapT = RepeatWrapping;
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.needsUpdate = true;
  return texture;
}

/** Fetches the images and draws each into its layer, v up; one that cannot be shown stays blank. */
export async function fetchImages(asset: Asset, texture: DataArrayTexture, isWanted: () => boolean): Promise<void> {
  const data = texture.image.data as Uint8Array;
  for (const [layer, image] of asset.images.slice(0, MOST).entries()) {
    try {
      const response = await fetch(`/api/assets/${asset.id}/files?key=${encodeURIComponent(image.key)}`);
      const bitmap = await createImageBitmap(await response.blob(), { imageOrientation: "flipY" });
      const pen = new OffscreenCanvas(SIDE, SIDE).getContext("2d")!;
      pen.drawImage(bitmap, 0, 0, SIDE, SIDE);
      bitmap.close();
      if (!isWanted()) return;
      data.set(pen.getImageData(0, 0, SIDE, SIDE).data, 4 * SIDE * SIDE * layer);
      texture.needsUpdate = true;
    } catch {
      // A kind of image this browser does not know: its faces keep the blank layer.
    }
  }
}
