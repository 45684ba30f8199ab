import { MOUSE, PerspectiveCamera, TOUCH, Vector3 } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { type Box, middleOf, radiusOf } from "./bounds";

const FIELD = 32;

/** The eye on the form: turned, moved and zoomed by the pointer; Space makes the left button turn it. */
export class FormCamera {
  readonly camera = new PerspectiveCamera(FIELD, 1, 0.1, 100);
  private readonly controls = new OrbitControls(this.camera);
  private framed = false;

  constructor(private readonly moved: () => void) {
    const c = this.controls;
    c.mouseButtons = { LEFT: null, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.ROTATE };
    c.touches = { ONE: TOUCH.ROTATE, TWO: TOUCH.DOLLY_PAN };
    c.zoomToCursor = true;
    c.addEventListener("change", this.moved);
  }

  /** Listens to a pane. @returns lets go of it */
  attach(element: HTMLElement): () => void {
    const { controls } = this;
    controls.connect(element);
    const space = (down: boolean) => (e: KeyboardEvent) => {
      if (e.code === "Space") controls.mouseButtons.LEFT = down ? MOUSE.ROTATE : null;
    };
    const [press, release] = [space(true), space(false)];
    const leave = () => {
      controls.mouseButtons.LEFT = null;
    };
    const ended = new AbortController();
    const { signal } = ended;
    addEventListener("keydown", press, { signal });
    addEventListener("keyup", release, { signal });
    addEventListener("blur", leave, { signal });
    return () => {
      ended.abort();
      controls.disconnect();
    };
  }

  setSize(width: number, height: number): void {
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
  }

  /** Looks at a box so that it fills the pane; the first time from the side that shows most, then from where it is. */
  frame(box: Box, whole: Box, up: "y" | "z"): void {
    const { camera, controls } = this;
    const centre = new Vector3(...middleOf(box));
    const size = radiusOf(whole);
    const radius = Math.max(radiusOf(box), 0.02 * size);
    const half = (FIELD * Math.PI) / 360;
    const away = (0.88 * radius) / Math.sin(Math.min(half, Math.atan(Math.tan(half) * camera.aspect)));
    const from = camera.position.clone().sub(controls.target);
    if (!this.framed) from.set(0.55, up === "z" ? -1 : 0.38, up === "z" ? 0.38 : 1);
    this.framed = true;
    camera.up.set(0, up === "z" ? 0 : 1, up === "z" ? 1 : 0);
    camera.near = size / 500;
    camera.far = size * 100;
    camera.position.copy(centre).addScaledVector(from.normalize(), away);
    camera.updateProjectionMatrix();
    controls.target.copy(centre);
    controls.update();
    this.moved();
  }

  /** Forgets where it stood: the next asset is looked at from the front. */
  reset(): void {
    this.framed = false;
  }

  dispose(): void {
    this.controls.dispose();
  }
}
