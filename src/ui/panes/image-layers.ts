import {
  DataArrayTexture,
  LinearFilter,
  LinearMipmapLinearFilter,
  RepeatWrapping,
  RGBAFormat,
  UnsignedByteType,
} from "three";
import type { Asset } from "@/core/layout/asset";

/** Images that are drawn: a face's colour holds the number of its layer in a byte. */
export const MOST_IMAGES = 255;

/** Texels a side that every image is drawn with, whatever size it came in: as fine as memory allows for so many. */
export const sideOfImages = (count: number): number => (count <= 16 ? 1024 : count <= 64 ? 512 : 256);

/** The layer of an image, counted from 1; 0 for one that is not drawn. */
export function layerOf(asset: Pick<Asset, "images">, key: string): number {
  const at = asset.images.findIndex((i) => i.key === key);
  return at < MOST_IMAGES ? at + 1 : 0;
}

/** A texture with room for every image of the asset, one layer each; empty until they are fetched. */
export function imageLayers(asset: Asset): DataArrayTexture {
  const count = Math.min(MOST_IMAGES, asset.images.length);
  const side = count ? sideOfImages(count) : 1;
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
  const { data, width: side } = texture.image as { data: Uint8Array; width: number };
  for (const [layer, image] of asset.images.slice(0, MOST_IMAGES).entries()) {
    try {
      const response = await fetch(`/api/assets/${asset.id}/files?key=${encodeURIComponent(image.key)}`);
      const bitmap = await createImageBitmap(await response.blob(), { imageOrientation: "flipY" });
      const pen = new OffscreenCanvas(side, side).getContext("2d")!;
      pen.drawImage(bitmap, 0, 0, side, side);
      bitmap.close();
      if (!isWanted()) return;
      data.set(pen.getImageData(0, 0, side, side).data, 4 * side * side * layer);
      texture.needsUpdate = true;
    } catch {
      // A kind of image this browser does not know: its faces keep the blank layer.
    }
  }
}
