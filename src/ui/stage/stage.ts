import { type BufferAttribute, BufferGeometry, Material, Matrix4, Mesh, Vector2, WebGLRenderer } from "three";
import type { PartId, ShapeId } from "@/core/layout/asset";
import type { ElementSet } from "@/core/select/element-set";
import { picksAs } from "../session/selection";
import type { BenchState, Pane } from "../session/store";
import { boundsOf, boundsOfFaces, somePoints } from "./bounds";
import type { DrawnFace } from "./drawn-faces";
import { FormCamera } from "./form-camera";
import { IdBuffer } from "./id-buffer";
import { seenState } from "./peek";
import { SheetCamera, type UvBox } from "./sheet-camera";
import { StageModel } from "./stage-model";
import { swatchTexture } from "./swatch";
import { uvBox } from "./uv-box";

/** Where the state comes from; what the store of the bench is. */
export interface StateSource {
  getState(): BenchState;
  subscribe(listener: () => void): () => void;
}

interface Place {
  readonly element: HTMLElement;
  left: number;
  top: number;
  width: number;
  height: number;
}

/** What is drawn from an eye of its own: the panes, and the second view of the form within the first. */
export type Sight = Pane | "inset";
const NONE_HIDDEN: ReadonlySet<PartId> = new Set();
const SIGHTS: readonly Sight[] = ["form", "inset", "sheet"];
/** The pane whose scene is seen. */
const sceneOf = (sight: Sight): Pane => (sight === "inset" ? "form" : sight);
/** Of an object whose data is sent and which is never seen. */
const NOT_DRAWN = new Material();
NOT_DRAWN.visible = false;
/** Milliseconds of a frame in which what was opened is made ready to be drawn. */
const FILL_FOR = 12;

/**
 * What both panes show, drawn on one canvas behind them by one renderer. It follows the bench's state by itself: what
 * changes is written and drawn with the next frame of the screen, and never while the page is laid out.
 */
export class Stage {
  readonly form = new FormCamera(() => this.draw("form"));
  /** Looks at the same form from behind, to begin with. */
  readonly inset = new FormCamera(() => this.draw("form", "inset"), [-0.55, 0.38, -1]);
  readonly sheet = new SheetCamera(() => this.draw("sheet"));
  private readonly canvas = document.createElement("canvas");
  private readonly renderer: WebGLRenderer;
  private readonly model = new StageModel(swatchTexture, () => this.draw(...SIGHTS), {
    compile: (pane, object) => this.renderer.compile(object, this[pane].camera, this.model.scenes[pane]),
    sendTexture: (texture) => this.renderer.initTexture(texture),
    sendAttribute: (attribute) => this.sendAttribute(attribute),
  });
  private readonly ids = { form: new IdBuffer(), inset: new IdBuffer(), sheet: new IdBuffer() };
  private readonly places = new Map<Sight, Place>();
  private readonly dirty = new Set<Sight>();
  /** Which request to frame each has answered. */
  private readonly framed = { form: -1, inset: -1, sheet: -1 };
  private lookedFrom = 0;
  private readonly sizes = new ResizeObserver(() => this.measure());
  private readonly release: () => void;
  private assetShown: string | null = null;
  private frame = 0;
  private followed: BenchState | null = null;

  /**
   * @param holder what the panes lie in; the canvas fills it
   * @throws Error where the browser cannot draw
   */
  constructor(
    private readonly holder: HTMLElement,
    private readonly source: StateSource,
  ) {
    this.renderer = new WebGLRenderer({
      canvas: this.canvas,
      antialias: true,
      stencil: true,
      alpha: true,
      // A pane that did not change keeps what was drawn in it.
      preserveDrawingBuffer: true,
    });
    this.renderer.autoClear = false;
    // Asking whether a program was compiled waits for the graphics card.
    this.renderer.debug.checkShaderErrors = false;
    this.canvas.dataset.stage = "";
    holder.append(this.canvas);
    this.sizes.observe(holder);
    // The renderer compiles its programs again by itself; tables have to be sent again.
    this.canvas.addEventListener("webglcontextrestored", () => {
      this.model.sendAll();
      this.draw(...SIGHTS);
    });
    this.release = source.subscribe(() => this.request());
    this.request();
  }

  /** Draws a pane into the place of an element from now on, and moves its eye by what is done there. @returns ends that */
  attach(pane: Sight, element: HTMLElement): () => void {
    const eye = this[pane].attach(element);
    this.places.set(pane, { element, left: 0, top: 0, width: 0, height: 0 });
    // Measured as soon as the page is laid out, which the observer tells.
    this.sizes.observe(element);
    return () => {
      eye();
      this.sizes.unobserve(element);
      this.places.delete(pane);
      this.draw(...SIGHTS);
    };
  }

  setTheme(theme: "light" | "dark"): void {
    this.model.setTheme(theme);
    this.draw(...SIGHTS);
  }

  /** Looks where the panes lie now; drawing follows at once, so that nothing is stretched for a moment. */
  private measure(): void {
    const outer = this.holder.getBoundingClientRect();
    const ratio = Math.min(2, window.devicePixelRatio);
    const now = this.renderer.getSize(new Vector2());
    // A new size costs a new canvas, however little of it is new.
    if (now.x !== outer.width || now.y !== outer.height || ratio !== this.renderer.getPixelRatio()) {
      this.renderer.setPixelRatio(ratio);
      this.renderer.setSize(outer.width, outer.height, true);
    }
    for (const [pane, place] of this.places) {
      const r = place.element.getBoundingClientRect();
      Object.assign(place, { left: r.left - outer.left, top: r.top - outer.top, width: r.width, height: r.height });
      this.model.materials[sceneOf(pane)].setPixelRatio(ratio);
      this[pane].setSize(r.width, r.height);
    }
    this.draw(...SIGHTS);
    cancelAnimationFrame(this.frame);
    this.frame = 0;
    this.tick();
  }

  /** Asks for panes to be drawn with the next frame of the screen. */
  private draw(...panes: readonly Sight[]): void {
    for (const pane of panes) {
      this.dirty.add(pane);
      this.ids[pane].spoil();
    }
    this.request();
  }

  private request(): void {
    this.frame ||= requestAnimationFrame(() => {
      this.frame = 0;
      this.tick();
    });
  }

  private tick(): void {
    this.follow();
    const { more, ready } = this.model.work(performance.now() + FILL_FOR);
    if (ready) this.draw(...SIGHTS);
    if (more) this.request();
    // A pane may come to have a place only after the state was followed.
    this.frameAsAsked(this.followed!);
    // What lies over another is drawn after it.
    if (this.dirty.has("form")) this.dirty.add("inset");
    for (const sight of SIGHTS) if (this.dirty.has(sight)) this.render(sight);
    this.dirty.clear();
    // From then on what is drawn can be picked; browser tests wait for it. Panes come a moment after the canvas does.
    const hasPane = [...this.places.values()].some((place) => place.width > 0);
    const told = this.followed?.asset && hasPane && !more ? "drawn" : "";
    if (this.canvas.dataset.stage !== told) this.canvas.dataset.stage = told;
  }

  /** Brings what is drawn up to the state. */
  private follow(): void {
    const state = this.source.getState();
    const before = this.followed;
    if (state === before) return;
    this.followed = state;
    const bounds = state.measures?.bounds;
    // The eye stays while shells follow the pointer, and follows what work lays out.
    if (state.live !== before?.live && state.live.size && state.jobs.length) this.sheet.follow(uvBox(state, "all")!);
    if (bounds && !state.live.size && bounds !== before?.measures?.bounds) this.sheet.follow(withFirstTile(bounds));
    const { looks, places } = this.model.sync(seenState(state));
    for (const pane of looks) this.dirty.add(pane);
    for (const pane of places) this.ids[pane].spoil();
    if (places.has("form")) this.ids.inset.spoil();
    this.followEyes(state);
    if (state.asset && state.asset.id !== this.assetShown) {
      this.assetShown = state.asset.id;
      this.form.reset();
      this.inset.reset();
    }
  }

  /** How and from where the form is looked at. */
  private followEyes({ mouse, parallel, lookFrom }: BenchState): void {
    this.sheet.habit = mouse;
    for (const eye of [this.form, this.inset]) {
      eye.setHabit(mouse);
      eye.setParallel(parallel);
    }
    if (lookFrom.count === this.lookedFrom) return;
    this.lookedFrom = lookFrom.count;
    this.form.lookFrom(lookFrom.side);
  }

  private frameAsAsked(state: BenchState): void {
    const { asset, frame, hidden } = state;
    if (!asset) return;
    // A piece of what is picked can be framed as if it were all of it.
    const meant = { ...state, ...frame.only };
    for (const pane of SIGHTS) {
      if (!this.places.get(pane)?.width || this.framed[pane] === frame.count) continue;
      this.framed[pane] = frame.count;
      if (pane === "sheet") {
        const picked = frame.what === "selection" ? uvBox(meant, "selection") : null;
        const box = picked ?? uvBox(state, "all");
        if (box) this.sheet.frame(box, !picked);
        continue;
      }
      const whole = boundsOf(asset);
      const picked = frame.what === "selection" ? boundsOfFaces(asset, hidden, pickedFaces(meant)) : null;
      this[pane].frame(
        picked ?? boundsOf(asset, hidden.size < asset.parts.length ? hidden : undefined),
        whole,
        asset.up,
        picked ? undefined : somePoints(asset, hidden.size < asset.parts.length ? hidden : NONE_HIDDEN),
      );
    }
  }

  private render(pane: Sight): void {
    const place = this.places.get(pane);
    const { renderer } = this;
    if (!place?.width || !place.height) return;
    const { left, top, width, height } = place;
    const below = this.holder.clientHeight - top - height;
    renderer.setViewport(left, below, width, height);
    renderer.setScissor(left, below, width, height);
    renderer.setScissorTest(true);
    renderer.setClearAlpha(0);
    renderer.clear();
    const scene = sceneOf(pane);
    // In the small view lines are thinner, as if it were drawn larger than it is.
    const fine = pane === "inset" ? 1.8 : 1;
    this.model.resolution[scene].set(fine * width, fine * height);
    renderer.render(this.model.scenes[scene], this[pane].camera);
  }

  /** The renderer sends what belongs to the objects of a scene, drawn or not. */
  private sendAttribute(attribute: BufferAttribute): void {
    const geometry = new BufferGeometry().setAttribute("sent", attribute);
    const object = new Mesh(geometry, NOT_DRAWN);
    object.frustumCulled = false;
    this.renderer.render(object, this.form.camera);
    // The attribute stays on the graphics card; only this geometry goes.
    geometry.deleteAttribute("sent");
    geometry.dispose();
  }

  private idsOf(pane: Sight): IdBuffer {
    this.follow();
    const { width, height } = this.places.get(pane) ?? { width: 1, height: 1 };
    const ids = this.ids[pane];
    this.renderer.setScissorTest(false);
    ids.refresh(this.renderer, this.model.idScenes[sceneOf(pane)], this[pane].camera, width, height);
    return ids;
  }

  /** What is seen is not what could be picked. */
  private get isLookingBack(): boolean {
    return this.source.getState().peek;
  }

  /** The face seen at a point of a pane, pixels from its top left. */
  faceAt(pane: Sight, x: number, y: number): DrawnFace | null {
    return this.isLookingBack ? null : this.model.faceNumbered(this.idsOf(pane).faceAt(x, y));
  }

  /** Faces that are seen within a region of a pane. */
  facesIn(pane: Sight, region: Parameters<IdBuffer["facesIn"]>[0]): DrawnFace[] {
    if (this.isLookingBack) return [];
    return Array.from(this.idsOf(pane).facesIn(region)).flatMap((number) => this.model.faceNumbered(number) ?? []);
  }

  /** 16 numbers, column-major, that take points of a pane's space (world space in Form, u and v in Sheet) to its pixels, times w. */
  pixelMatrix(pane: Sight): number[] {
    this.follow();
    const { width, height } = this.places.get(pane) ?? { width: 1, height: 1 };
    const { camera } = this[pane];
    camera.updateMatrixWorld();
    const toPixels = new Matrix4().set(
      width / 2,
      0,
      0,
      width / 2,
      0,
      -height / 2,
      0,
      height / 2,
      0,
      0,
      1,
      0,
      0,
      0,
      0,
      1,
    );
    return toPixels.multiply(camera.projectionMatrix).multiply(camera.matrixWorldInverse).toArray();
  }

  dispose(): void {
    this.release();
    cancelAnimationFrame(this.frame);
    this.sizes.disconnect();
    this.model.dispose();
    for (const sight of SIGHTS) this.ids[sight].dispose();
    this.form.dispose();
    this.inset.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
    this.canvas.remove();
  }
}

const withFirstTile = ({ u0, v0, u1, v1 }: UvBox): UvBox => ({
  u0: Math.min(0, u0),
  v0: Math.min(0, v0),
  u1: Math.max(1, u1),
  v1: Math.max(1, v1),
});

function pickedFaces({ asset, set, kind, picked }: BenchState): Map<ShapeId, ElementSet> {
  return new Map([...picked].map(([id, items]) => [id, picksAs(asset!, set, id, items, kind, "faces")] as const));
}
