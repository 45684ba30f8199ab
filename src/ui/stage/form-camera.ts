import { MOUSE, OrthographicCamera, PerspectiveCamera, TOUCH, Vector3 } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { MouseHabit } from "../session/look-choices";
import type { AxisSide } from "../session/store";
import { type Box, cornersOf, middleOf, radiusOf } from "./bounds";

const FIELD = 32;
/** The share of the pane that what is framed takes. */
const FILL = 0.84;
/** Half the field of view, radians. */
const HALF = (FIELD * Math.PI) / 360;

/** What the buttons do by each habit, and with Alt held where that has them do something else. */
const BUTTONS: Readonly<Record<MouseHabit, OrbitControls["mouseButtons"]>> = {
  right: { LEFT: null, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.ROTATE },
  middle: { LEFT: null, MIDDLE: MOUSE.ROTATE, RIGHT: MOUSE.PAN },
  alt: { LEFT: null, MIDDLE: null, RIGHT: null },
};
const WITH_ALT = { LEFT: MOUSE.ROTATE, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.DOLLY } as const;

/** Ways towards the eye, x, up and towards the front, by side. */
const SIDES: Readonly<Record<AxisSide, readonly [number, number, number]>> = {
  front: [0, 0, 1],
  back: [0, 0, -1],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  // A little off the axis, where the upright would have no place on the screen.
  top: [0, 1, 1e-4],
  bottom: [0, -1, 1e-4],
};

/** The eye on the form: turned, moved and zoomed by the pointer; Space makes the left button turn it. */
export class FormCamera {
  private readonly perspective = new PerspectiveCamera(FIELD, 1, 0.1, 100);
  private readonly parallel = new OrthographicCamera(-1, 1, 1, -1, 0.1, 100);
  private readonly controls = new OrbitControls(this.perspective);
  private habit: MouseHabit = "right";
  private framed = false;
  private up: "y" | "z" = "y";

  /** @param first way from which it looks the first time: x, up and towards the front */
  constructor(
    private readonly moved: () => void,
    private readonly first: readonly [number, number, number] = [0.55, 0.38, 1],
  ) {
    const c = this.controls;
    c.touches = { ONE: TOUCH.ROTATE, TWO: TOUCH.DOLLY_PAN };
    c.zoomToCursor = true;
    c.addEventListener("change", () => {
      this.openParallel();
      this.tell();
    });
    this.resetButtons();
  }

  /** Counts how often it has moved, for what is drawn over the pane. */
  private moves = 0;
  private readonly listeners = new Set<() => void>();
  /** Calls `listener` whenever it has moved. @returns ends that */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly getMoves = (): number => this.moves;

  private tell(): void {
    this.moves++;
    for (const listener of this.listeners) listener();
    this.moved();
  }

  get camera(): PerspectiveCamera | OrthographicCamera {
    return this.controls.object as PerspectiveCamera | OrthographicCamera;
  }

  /** The way from what is looked at to the eye, of length one. */
  way(): readonly [number, number, number] {
    const { x, y, z } = this.camera.position.clone().sub(this.controls.target).normalize();
    return [x, y, z];
  }

  setHabit(habit: MouseHabit): void {
    if (habit === this.habit) return;
    this.habit = habit;
    this.resetButtons();
  }

  private resetButtons(): void {
    this.controls.mouseButtons = { ...BUTTONS[this.habit] };
  }

  /** Listens to a pane. @returns lets go of it */
  attach(element: HTMLElement): () => void {
    const { controls } = this;
    controls.connect(element);
    const key = (down: boolean) => (e: KeyboardEvent) => {
      if (e.code === "Space") controls.mouseButtons.LEFT = down ? MOUSE.ROTATE : null;
      if (e.key === "Alt" && this.habit === "alt") controls.mouseButtons = { ...(down ? WITH_ALT : BUTTONS.alt) };
    };
    const ended = new AbortController();
    const { signal } = ended;
    addEventListener("keydown", key(true), { signal });
    addEventListener("keyup", key(false), { signal });
    addEventListener("blur", () => this.resetButtons(), { signal });
    return () => {
      ended.abort();
      controls.disconnect();
    };
  }

  setSize(width: number, height: number): void {
    this.perspective.aspect = width / Math.max(1, height);
    this.perspective.updateProjectionMatrix();
    this.openParallel();
    this.tell();
  }

  /** Looks in parallel, or in perspective, at the same place from the same side and as near. */
  setParallel(on: boolean): void {
    if (on === (this.camera === this.parallel)) return;
    const { perspective, parallel, controls } = this;
    const { target } = controls;
    if (on) {
      const away = perspective.position.clone().sub(target);
      parallel.up.copy(perspective.up);
      parallel.zoom = 1 / Math.max(1e-9, away.length() * Math.tan(HALF));
      // Far enough for all of it to be before the eye: how far makes no difference to what is seen.
      parallel.position.copy(target).addScaledVector(away.normalize(), perspective.far / 20);
    } else {
      const way = parallel.position.clone().sub(target).normalize();
      perspective.position.copy(target).addScaledVector(way, 1 / (parallel.zoom * Math.tan(HALF)));
    }
    // The controls move either; their type knows one of them.
    (controls as { object: PerspectiveCamera | OrthographicCamera }).object = on ? parallel : perspective;
    controls.update();
    this.openParallel();
    this.tell();
  }

  /** Keeps the parallel view's bounds to the pane and to what lies before it. */
  private openParallel(): void {
    const { parallel, perspective } = this;
    Object.assign(parallel, { left: -perspective.aspect, right: perspective.aspect, top: 1, bottom: -1 });
    Object.assign(parallel, { near: perspective.near, far: perspective.far });
    parallel.updateProjectionMatrix();
  }

  /**
   * Looks at a box so that what is in it fills the pane; the first time from the side that shows most, then from where it
   * is.
   *
   * @param points what is to be seen of it, 3 numbers each
   */
  frame(box: Box, whole: Box, up: "y" | "z", points = cornersOf(box)): void {
    const { camera, perspective, parallel, controls } = this;
    const centre = new Vector3(...middleOf(box));
    const size = radiusOf(whole);
    const from = camera.position.clone().sub(controls.target);
    this.up = up;
    if (!this.framed) from.copy(this.wayOf(this.first));
    this.framed = true;
    for (const c of [perspective, parallel]) c.up.set(0, up === "z" ? 0 : 1, up === "z" ? 1 : 0);
    this.centreOn(points, centre, from.normalize());
    const away = Math.max(this.distanceFor(points, centre, from), 0.04 * size);
    perspective.near = size / 500;
    perspective.far = size * 100;
    const isParallel = camera === parallel;
    camera.position.copy(centre).addScaledVector(from, isParallel ? perspective.far / 20 : away);
    if (isParallel) parallel.zoom = 1 / (away * Math.tan(HALF));
    perspective.updateProjectionMatrix();
    this.openParallel();
    controls.target.copy(centre);
    controls.update();
    this.tell();
  }

  /** Ways to the right and up of the pane, for an eye in some way. */
  private acrossOf(from: Vector3): [right: Vector3, above: Vector3] {
    const right = new Vector3().crossVectors(this.perspective.up, from).normalize();
    return [right, new Vector3().crossVectors(from, right)];
  }

  /** Moves a centre across the line of sight, so that as much of the points lies to its right as to its left, and above as below. */
  private centreOn(points: Float64Array, centre: Vector3, from: Vector3): void {
    const p = new Vector3();
    for (const way of this.acrossOf(from)) {
      let [low, high] = [Infinity, -Infinity];
      for (let i = 0; i < points.length; i += 3) {
        const x = p.fromArray(points, i).sub(centre).dot(way);
        low = Math.min(low, x);
        high = Math.max(high, x);
      }
      if (low <= high) centre.addScaledVector(way, (low + high) / 2);
    }
  }

  /** How far from a centre the eye has to be for all points to fit into the pane. @param from unit way to the eye */
  private distanceFor(points: Float64Array, centre: Vector3, from: Vector3): number {
    const { aspect } = this.perspective;
    const [right, above] = this.acrossOf(from);
    const [tall, wide] = [FILL * Math.tan(HALF), FILL * Math.tan(HALF) * aspect];
    const p = new Vector3();
    let away = 0;
    for (let i = 0; i < points.length; i += 3) {
      p.fromArray(points, i).sub(centre);
      // What is nearer to the eye takes more room.
      const near = p.dot(from);
      away = Math.max(away, near + Math.abs(p.dot(right)) / wide, near + Math.abs(p.dot(above)) / tall);
    }
    return away;
  }

  /** A way given as x, up and towards the front, in the asset's own axes. */
  private wayOf([x, above, front]: readonly [number, number, number]): Vector3 {
    return this.up === "z" ? new Vector3(x, -front, above) : new Vector3(x, above, front);
  }

  /** Looks at the same place along an axis. */
  lookFrom(side: AxisSide): void {
    const { camera, controls } = this;
    const away = camera.position.distanceTo(controls.target);
    camera.position.copy(controls.target).addScaledVector(this.wayOf(SIDES[side]).normalize(), away);
    controls.update();
    this.tell();
  }

  /** Forgets where it stood: the next asset is looked at from the front. */
  reset(): void {
    this.framed = false;
  }

  dispose(): void {
    // Controls that were never given a pane have nothing to let go of, and would fail.
    if (this.controls.domElement) this.controls.dispose();
  }
}
