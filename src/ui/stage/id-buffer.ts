import { type Camera, NearestFilter, type Scene, type WebGLRenderer, WebGLRenderTarget } from "three";

/**
 * The drawn face under every pixel of a pane, drawn off screen when first asked for after something moved, and read back
 * whole: pointing and boxes then cost no drawing, and take what is visible and nothing else.
 */
export class IdBuffer {
  private readonly target = new WebGLRenderTarget(1, 1, { minFilter: NearestFilter, magFilter: NearestFilter });
  private pixels = new Uint8Array(4);
  private numbers = new Uint32Array(1);
  private stale = true;
  width = 1;
  height = 1;

  /** Something moved: it is drawn again when next asked. */
  spoil(): void {
    this.stale = true;
  }

  /** Draws it when it is out of date. Sizes in pixels of the page. */
  refresh(gl: WebGLRenderer, scene: Scene, camera: Camera, width: number, height: number): void {
    const [w, h] = [Math.max(1, Math.round(width)), Math.max(1, Math.round(height))];
    if (!this.stale && w === this.width && h === this.height) return;
    [this.width, this.height, this.stale] = [w, h, false];
    this.target.setSize(w, h);
    if (this.pixels.length !== 4 * w * h) {
      this.pixels = new Uint8Array(4 * w * h);
      this.numbers = new Uint32Array(this.pixels.buffer);
    }
    gl.setRenderTarget(this.target);
    gl.setClearAlpha(0);
    gl.clear();
    gl.render(scene, camera);
    gl.readRenderTargetPixels(this.target, 0, 0, w, h, this.pixels);
    gl.setRenderTarget(null);
  }

  /** Number of the drawn face at a pixel from the top left; -1 for none. */
  private at(x: number, y: number): number {
    if (x < 0 || y < 0 || x >= this.width || y >= this.height) return -1;
    // The four bytes of a pixel are the number, least first, as every machine that runs a browser reads them.
    return this.numbers[(this.height - 1 - y) * this.width + x]! - 1;
  }

  /** Number of the drawn face at a point, the nearest within three pixels; -1 for none. */
  faceAt(x: number, y: number): number {
    const [px, py] = [Math.round(x), Math.round(y)];
    for (let r = 0; r <= 3; r++)
      for (let dy = -r; dy <= r; dy++)
        for (let dx = -r; dx <= r; dx++) {
          if (Math.max(Math.abs(dx), Math.abs(dy)) !== r) continue;
          const id = this.at(px + dx, py + dy);
          if (id >= 0) return id;
        }
    return -1;
  }

  /** Numbers of all drawn faces seen within a region, each once. */
  facesIn(region: {
    readonly box: readonly [number, number, number, number];
    has(x: number, y: number): boolean;
  }): Uint32Array {
    const [x0, y0, x1, y1] = region.box;
    const out = new Set<number>();
    let last = -1;
    for (let y = Math.max(0, Math.floor(y0)); y <= Math.min(this.height - 1, y1); y++)
      for (let x = Math.max(0, Math.floor(x0)); x <= Math.min(this.width - 1, x1); x++) {
        const id = this.at(x, y);
        if (id < 0 || id === last || !region.has(x, y)) continue;
        last = id;
        out.add(id);
      }
    return Uint32Array.from(out);
  }

  dispose(): void {
    this.target.dispose();
  }
}
