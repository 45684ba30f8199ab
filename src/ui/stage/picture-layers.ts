import type { DataArrayTexture } from "three";
import { type OwnSwatch, pictureOfSwatch } from "../session/swatches";
import { greyLayers } from "./grey-layers";
import { drawPicture } from "./swatch";

/** Texels a side, and how many pictures can lie on single parts at once. */
const [SIDE, MOST] = [1024, 8];

/** Pictures that lie on single parts: a layer each, for as long as a part has it. */
export class PictureLayers {
  private readonly layers: Array<OwnSwatch | null> = [];
  private textureNow = greyLayers(1, 1);

  constructor(private readonly changed: () => void) {}

  get texture(): DataArrayTexture {
    return this.textureNow;
  }

  /** The layer of a picture, counted from 1; 0 where there is no room for more. */
  layerOf(swatch: OwnSwatch): number {
    const known = this.layers.indexOf(swatch);
    if (known >= 0) return known + 1;
    if (this.layers.length === MOST) return 0;
    // Room for all of them is taken with the first: assets without pictures take none.
    if (!this.layers.length) this.textureNow = greyLayers(SIDE, MOST);
    this.layers.push(swatch);
    void this.fill(swatch, this.layers.length - 1);
    return this.layers.length;
  }

  private async fill(swatch: OwnSwatch, layer: number): Promise<void> {
    const { textureNow } = this;
    const pen = new OffscreenCanvas(SIDE, SIDE).getContext("2d")!;
    try {
      // v up.
      pen.setTransform(1, 0, 0, -1, 0, SIDE);
      await drawPicture(pictureOfSwatch(swatch)!, pen as unknown as CanvasRenderingContext2D, SIDE);
    } catch {
      // One that was deleted meanwhile stays plain.
      return;
    }
    const { data } = textureNow.image as { data: Uint8Array };
    data.set(pen.getImageData(0, 0, SIDE, SIDE).data, 4 * SIDE * SIDE * layer);
    textureNow.needsUpdate = true;
    this.changed();
  }

  dispose(): void {
    this.textureNow.dispose();
  }
}
