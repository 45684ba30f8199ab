import { OrthographicCamera } from "three";
import type { MouseHabit } from "../session/look-choices";
import { spaceHeld } from "./space-key";

/** Middle of the pane in UV, pixels per tile, and the size of the pane in pixels. */
export interface SheetView {
  readonly u: number;
  readonly v: number;
  readonly scale: number;
  readonly width: number;
  readonly height: number;
}

export interface UvBox {
  readonly u0: number;
  readonly v0: number;
  readonly u1: number;
  readonly v1: number;
}

const [LEAST, MOST] = [8, 200_000];
/** Pixels at the pane's head that its title takes. */
const HEAD = 60;
/** The share of the pane that what is framed takes. */
const FILL = 0.86;
/** Shares of what was framed: how far out of it things may come to lie, and how little of it they may fill. */
const [OUTSIDE, SMALL] = [0.1, 0.5];

/** The eye on the sheet: the wheel brings it nearer to where the pointer is; the buttons that the habit has for it, and Space, move it. */
export class SheetCamera {
  readonly camera = new OrthographicCamera(-1, 1, 1, -1, 0.1, 10);
  view: SheetView = { u: 0.5, v: 0.5, scale: 300, width: 1, height: 1 };
  /** What was framed last, for as long as nobody has moved the eye since: a pane that changes its size keeps it framed. */
  private framed: UvBox | null = null;
  /** Whether that was everything. */
  private framedAll = false;
  habit: MouseHabit = "right";
  private readonly listeners = new Set<() => void>();

  constructor(private readonly moved: () => void) {
    this.camera.position.z = 5;
  }

  /** Calls `listener` whenever the view changes. @returns ends that */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly getView = (): SheetView => this.view;

  private setView(change: Partial<SheetView>): void {
    const view = { ...this.view, ...change };
    this.view = view;
    const [w, h] = [view.width / 2 / view.scale, view.height / 2 / view.scale];
    Object.assign(this.camera, { left: -w, right: w, top: h, bottom: -h });
    this.camera.position.set(view.u, view.v, 5);
    this.camera.updateProjectionMatrix();
    this.camera.updateMatrixWorld();
    for (const listener of this.listeners) listener();
    this.moved();
  }

  setSize(width: number, height: number): void {
    if (width === this.view.width && height === this.view.height) return;
    this.setView({ width, height });
    if (this.framed) this.frame(this.framed, this.framedAll);
  }

  /** @param all whether the box holds everything there is */
  frame(box: UvBox, all = false): void {
    this.framed = box;
    this.framedAll = all;
    const { width, height } = this.view;
    const across = width / (box.u1 - box.u0 || 1);
    const up = Math.max(1, height - HEAD) / (box.v1 - box.v0 || 1);
    const scale = Math.min(MOST, Math.max(LEAST, FILL * Math.min(across, up)));
    this.setView({ u: (box.u0 + box.u1) / 2, v: (box.v0 + box.v1) / 2, scale });
  }

  /** Everything lies in another box now: it is framed again where it reaches out of the old one, or fills little of it. */
  follow(box: UvBox): void {
    const was = this.framed;
    if (!was || !this.framedAll) return;
    const size = (b: UvBox) => Math.max(b.u1 - b.u0, b.v1 - b.v0);
    const beyond = OUTSIDE * size(was);
    const inside =
      box.u0 >= was.u0 - beyond && box.v0 >= was.v0 - beyond && box.u1 <= was.u1 + beyond && box.v1 <= was.v1 + beyond;
    if (!inside || size(box) < SMALL * size(was)) this.frame(box, true);
  }

  /** Steps back as far as it takes for a box to be seen beside what is in view. */
  include(box: UvBox): void {
    const { u, v, scale, width, height } = this.view;
    const [w, h] = [width / 2 / scale, height / 2 / scale];
    const seen = { u0: u - w, v0: v - h, u1: u + w, v1: v + h - HEAD / scale };
    if (box.u0 >= seen.u0 && box.v0 >= seen.v0 && box.u1 <= seen.u1 && box.v1 <= seen.v1) return;
    // What is in view reaches to the pane's edges: without the margin of what is framed it would shrink at every step.
    const margin = (1 - FILL) / 2;
    this.frame({
      u0: Math.min(seen.u0 + 2 * margin * w, box.u0),
      v0: Math.min(seen.v0 + 2 * margin * h, box.v0),
      u1: Math.max(seen.u1 - 2 * margin * w, box.u1),
      v1: Math.max(seen.v1 - 2 * margin * h, box.v1),
    });
  }

  private zoom(x: number, y: number, factor: number): void {
    this.framed = null;
    const { u, v, scale: was, width, height } = this.view;
    const scale = Math.min(MOST, Math.max(LEAST, was * factor));
    const [dx, dy] = [x - width / 2, height / 2 - y];
    this.setView({ u: u + dx / was - dx / scale, v: v + dy / was - dy / scale, scale });
  }

  /** Listens to a pane. @returns lets go of it */
  attach(element: HTMLElement): () => void {
    let panning = false;
    let zooming = false;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const r = element.getBoundingClientRect();
      this.zoom(e.clientX - r.left, e.clientY - r.top, Math.exp(-e.deltaY * 0.0015));
    };
    const down = (e: PointerEvent) => {
      const byAlt = this.habit === "alt" && e.altKey;
      zooming = byAlt && e.button === 2;
      panning = !zooming && (byAlt || (this.habit !== "alt" && e.button > 0) || (spaceHeld() && e.button === 0));
    };
    const move = (e: PointerEvent) => {
      if (zooming) {
        const { width, height } = this.view;
        this.zoom(width / 2, height / 2, Math.exp((e.movementX - e.movementY) * 0.005));
      }
      if (!panning) return;
      this.framed = null;
      const { u, v, scale } = this.view;
      this.setView({ u: u - e.movementX / scale, v: v + e.movementY / scale, scale });
    };
    const up = () => {
      panning = zooming = false;
    };
    const ended = new AbortController();
    const { signal } = ended;
    element.addEventListener("wheel", wheel, { signal, passive: false });
    element.addEventListener("pointerdown", down, { signal, capture: true });
    addEventListener("pointermove", move, { signal });
    addEventListener("pointerup", up, { signal });
    return () => ended.abort();
  }
}
