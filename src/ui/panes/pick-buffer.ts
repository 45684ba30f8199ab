import {
  type BufferGeometry,
  type Camera,
  Mesh,
  type ShaderMaterial,
  Scene as ThreeScene,
  type WebGLRenderer,
  WebGLRenderTarget,
} from "three";

/**
 * The face under every pixel of a pane, drawn off screen when first asked for after something moved, and read back
 * whole: pointing and boxes then cost no drawing, and take what is visible and nothing else.
 */
export class PickBuffer {
  private readonly target = new WebGLRenderTarget(1, 1);
  private readonly scene = new ThreeScene();
  private pixels = new Uint8Array(4);
  private width = 1;
  private height = 1;
  private stale = true;

  constructor(geometry: BufferGeometry, material: ShaderMaterial) {
    const mesh = new Mesh(geometry, material);
    mesh.frustumCulled = false;
    this.scene.add(mesh);
  }

  /** Something moved: draw again when next asked. */
  spoil(): void {
    this.stale = true;
  }

  private refresh(gl: WebGLRenderer, camera: Camera, width: number, height: number): void {
    if (!this.stale && width === this.width && height === this.height) return;
    [this.width, this.height, this.stale] = [width, height, false];
    this.target.setSize(width, height);
    if (this.pixels.length !== 4 * width * height) this.pixels = new Uint8Array(4 * width * height);
    const before = gl.getRenderTarget();
    const clear = gl.getClearAlpha();
    gl.setRenderTarget(this.target);
    gl.setClearAlpha(0);
    gl.clear();
    gl.render(this.scene, camera);
    gl.readRenderTargetPixels(this.target, 0, 0, width, height, this.pixels);
    gl.setRenderTarget(before);
    gl.setClearAlpha(clear);
  }

  private at(x: number, y: number): number {
    if (x < 0 || y < 0 || x >= this.width || y >= this.height) return -1;
    const i = 4 * ((this.height - 1 - y) * this.width + x);
    return this.pixels[i + 3] ? this.pixels[i]! + (this.pixels[i + 1]! << 8) + (this.pixels[i + 2]! << 16) - 1 : -1;
  }

  /** Number of the drawn face at a point (pixels from the top left), the nearest within three pixels; -1 for none. */
  faceAt(gl: WebGLRenderer, camera: Camera, size: { width: number; height: number }, x: number, y: number): number {
    this.refresh(gl, camera, Math.max(1, Math.round(size.width)), Math.max(1, Math.round(size.height)));
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

  /** Numbers of all drawn faces seen in a rectangle. */
  facesIn(
    gl: WebGLRenderer,
    camera: Camera,
    size: { width: number; height: number },
    box: { x0: number; y0: number; x1: number; y1: number },
  ): Set<number> {
    this.refresh(gl, camera, Math.max(1, Math.round(size.width)), Math.max(1, Math.round(size.height)));
    const out = new Set<number>();
    for (let y = Math.max(0, Math.floor(box.y0)); y <= Math.min(this.height - 1, box.y1); y++)
      for (let x = Math.max(0, Math.floor(box.x0)); x <= Math.min(this.width - 1, box.x1); x++) {
        const id = this.at(x, y);
        if (id >= 0) out.add(id);
      }
    return out;
  }

  dispose(): void {
    this.target.dispose();
  }
}
