import type { DataArrayTexture, Texture } from "three";
import type { Asset, Image, UvSetId } from "@/core/layout/asset";
import { srgbOf } from "@/core/numeric/srgb";
import { greyLayers } from "./grey-layers";
import { COLOR, TexelTable } from "./texel-table";

/** Images that are drawn: a material's texel holds the number of its layer in a byte. */
export const MOST_IMAGES = 255;
/** Bytes that all images together may take on the graphics card, their smaller copies apart. */
const BUDGET = 70e6;
/** Texels a side that images are drawn with, whatever size they came in. */
const SIDES = [1024, 512, 256] as const;

/** Texels a side for so many images: as fine as the budget allows. */
export const sideOfImages = (count: number): number => SIDES.find((s) => 4 * s * s * count <= BUDGET) ?? SIDES.at(-1)!;

/** The layer of an image, counted from 1; 0 for one that is not drawn. */
export function layerOf(images: readonly Image[], key: string): number {
  const at = images.findIndex((i) => i.key === key);
  return at < MOST_IMAGES ? at + 1 : 0;
}

const byteOf = (linear: number): number => Math.round(255 * srgbOf(linear));

/** What materials look like: a colour each, and the layer of the image that the set worked on lays on it. */
export class ImageTable {
  private materials = new TexelTable(COLOR, 1);
  private layers = layersFor(0);
  private images: readonly Image[] | null = null;
  /** Counts the image lists shown: what arrives for an older one is let go. */
  private shown = 0;

  constructor(private readonly changed: () => void) {}

  get uniforms(): Record<string, Texture> {
    return { materials: this.materials.texture, images: this.layers };
  }

  show(asset: Asset, set: UvSetId): void {
    const images = drawnImages(asset);
    if (!this.images || !sameKeys(images, this.images)) {
      this.images = images;
      this.shown++;
      this.layers.dispose();
      this.layers = layersFor(images.length);
      void this.fetchAll(asset, this.shown);
    }
    if (this.materials.room < asset.materials.length + 1) {
      this.materials.dispose();
      this.materials = new TexelTable(COLOR, asset.materials.length + 1);
    }
    const { data } = this.materials;
    // The first texel is that of faces without a material.
    data.set([...[0.5, 0.42, 0.33].map(byteOf), 0]);
    asset.materials.forEach(({ color, texture }, m) => {
      const layer = texture && texture.set === set ? layerOf(images, texture.image) : 0;
      data.set([...color.map(byteOf), layer], 4 * (m + 1));
    });
    this.materials.touchAll();
  }

  /** Fetches the images and draws each into its layer, v up; one that cannot be shown stays grey. */
  private async fetchAll(asset: Asset, shown: number): Promise<void> {
    const { layers } = this;
    const { data, width: side } = layers.image as { data: Uint8Array; width: number };
    for (const [layer, image] of this.images!.slice(0, MOST_IMAGES).entries()) {
      try {
        const bitmap = await createImageBitmap(await blobOf(asset, image), { imageOrientation: "flipY" });
        const pen = new OffscreenCanvas(side, side).getContext("2d")!;
        pen.drawImage(bitmap, 0, 0, side, side);
        bitmap.close();
        if (shown !== this.shown) return;
        data.set(pen.getImageData(0, 0, side, side).data, 4 * side * side * layer);
        layers.addLayerUpdate(layer);
        layers.needsUpdate = true;
        this.changed();
      } catch {
        // A kind of image this browser does not know: its faces keep the grey layer.
      }
    }
  }

  sendAll(): void {
    this.materials.touchAll();
    this.layers.clearLayerUpdates();
    this.layers.needsUpdate = true;
  }

  dispose(): void {
    this.shown++;
    this.materials.dispose();
    this.layers.dispose();
  }
}

/** Images of base colours: of the other channels nothing is drawn. */
function drawnImages({ images, materials }: Asset): readonly Image[] {
  const drawn = new Set(materials.map((m) => m.texture?.image));
  return images.filter((i) => drawn.has(i.key));
}

const sameKeys = (a: readonly Image[], b: readonly Image[]): boolean =>
  a.length === b.length && a.every((image, i) => image.key === b[i]!.key);

/** The bytes of an image: what an edit made is at hand before it is saved. */
async function blobOf(asset: Asset, { key, type }: Image): Promise<Blob> {
  const own = asset.files?.[key];
  if (own) return new Blob([own.slice()], { type });
  return (await fetch(`/api/assets/${asset.id}/files?key=${encodeURIComponent(key)}`)).blob();
}

/** A texture with room for so many images, one layer each. */
function layersFor(count: number): DataArrayTexture {
  const depth = Math.max(1, Math.min(MOST_IMAGES, count));
  return greyLayers(count ? sideOfImages(depth) : 1, depth);
}
