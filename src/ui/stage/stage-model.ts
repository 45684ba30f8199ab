import { Group, Mesh, PlaneGeometry, Scene, type Texture, Vector2 } from "three";
import { type Asset, type PartId, placedShape, type ShapeId } from "@/core/layout/asset";
import { faceCount } from "@/core/mesh/poly-mesh";
import { determinant } from "@/core/mesh/transform";
import { layoutOf } from "@/core/operations/scope";
import { SEAM_COLORS } from "../session/look-choices";
import type { Pane } from "../session/store";
import type { OwnSwatch, SwatchId } from "../session/swatches";
import { boundsOf, radiusOf } from "./bounds";
import { Chunk } from "./chunk";
import { drawnShapes, planChunks } from "./chunk-plan";
import { ChunkView } from "./chunk-view";
import { COLORS, colorOf } from "./colors";
import { faceLooks, keysOf, meshesDiffer, type Shown } from "./differences";
import { type Drawn, type DrawnFace, faceNumbered } from "./drawn-faces";
import { type Entry, type GraphicsAhead, getReady, type ReadySource } from "./get-ready";
import { ImageTable } from "./image-table";
import { Marks } from "./marks";
import { PaneMaterials } from "./materials";
import { PictureLayers } from "./picture-layers";
import { VIEW_NUMBER } from "./shaders";
import type { ShapeSlot } from "./shape-slot";

/** What has to be drawn again, and what of that has other faces under its pixels. */
export interface Changed {
  readonly looks: Set<Pane>;
  readonly places: Set<Pane>;
}

const PANES: readonly Pane[] = ["form", "sheet"];
/** Ticks of a seam stand so far apart, in radii of the asset. */
const TICK_STEP = 0.08;

/** All that is drawn of an asset, in both panes; follows the bench's state by what differs from the state before. */
export class StageModel {
  readonly scenes: Readonly<Record<Pane, Scene>> = { form: new Scene(), sheet: new Scene() };
  /** The same faces, drawn as their numbers. */
  readonly idScenes: Readonly<Record<Pane, Scene>> = { form: new Scene(), sheet: new Scene() };
  readonly resolution: Readonly<Record<Pane, Vector2>> = { form: new Vector2(1, 1), sheet: new Vector2(1, 1) };
  readonly materials: Readonly<Record<Pane, PaneMaterials>> = {
    form: new PaneMaterials("form", this.resolution.form),
    sheet: new PaneMaterials("sheet", this.resolution.sheet),
  };
  /** Every drawn part, by rising first face. */
  private drawn: readonly Drawn[] = [];
  /** Chunks by what they were planned for, and by the shapes they hold. */
  private entries = new Map<string, Entry>();
  private readonly holders = new Map<ShapeId, Entry>();
  private readonly over: Readonly<Record<Pane, Group>> = { form: new Group(), sheet: new Group() };
  private readonly hatch = new PlaneGeometry(2, 2);
  private readonly images: ImageTable;
  private readonly pictures: PictureLayers;
  private radius = 1;
  private swatch: Texture | null = null;
  private shown: Shown | null = null;

  private readonly marks = new Marks({
    slotOf: (id) => this.slotOf(id),
    eachView: (id, act) => this.eachView(id, act),
  });

  /**
   * @param makeSwatch makes what the swatch view lays on
   * @param changed called when something has to be drawn again that did not come with the state: an image has arrived
   * @param ahead what is given to the graphics card before the first drawing, if anything
   */
  constructor(
    private readonly makeSwatch: (id: SwatchId | OwnSwatch, weight: number, changed: () => void) => Texture,
    private readonly changed: () => void,
    private readonly ahead?: GraphicsAhead,
  ) {
    this.images = new ImageTable(changed);
    this.pictures = new PictureLayers(changed);
    for (const pane of PANES) {
      this.scenes[pane].add(this.over[pane]);
    }
    const cover = new Mesh(this.hatch, this.materials.sheet.hatch!);
    cover.frustumCulled = false;
    cover.renderOrder = 3;
    this.scenes.sheet.add(cover);
    this.setTheme("light");
  }

  setTheme(theme: keyof typeof COLORS): void {
    for (const pane of PANES) this.materials[pane].setColors(COLORS[theme]);
  }

  /** Follows the state. @returns the panes in which something looks different now, or lies elsewhere */
  sync(next: Shown): Changed {
    const before = this.shown;
    this.shown = next;
    const changed: Changed = { looks: new Set(), places: new Set() };
    const mark = (set: Set<Pane>, ...panes: readonly Pane[]) => {
      for (const pane of panes) set.add(pane);
    };
    const differs = (...keys: ReadonlyArray<keyof Shown>) => !before || keys.some((k) => before[k] !== next[k]);
    if (differs("asset", "set", "hidden", "partSwatches")) {
      this.followAsset(next, before);
      mark(changed.places, ...PANES);
    }
    if (differs("alone")) {
      for (const id of keysOf(before?.alone ?? new Map(), next.alone ?? new Map())) this.showAlone(id, next);
      mark(changed.places, ...PANES);
    }
    if (differs("live")) {
      this.followLive(next, before);
      mark(changed.places, "sheet");
      if (next.view.form === "swatch") mark(changed.looks, "form");
    }
    if (differs("wires")) {
      for (const pane of PANES) {
        if (before?.wires[pane] === next.wires[pane]) continue;
        for (const { views, filling } of this.entries.values()) if (!filling) views[pane].setWires(next.wires[pane]);
        mark(changed.looks, pane);
      }
    }
    if (differs("picked", "kind")) {
      const all = new Set([...(before?.picked.keys() ?? []), ...next.picked.keys()]);
      for (const id of before?.kind === next.kind ? keysOf(before.picked, next.picked) : all)
        this.marks.picked(id, next);
      mark(changed.looks, ...PANES);
    }
    if (differs("hover", "kind")) {
      this.marks.hover(next, before);
      mark(changed.looks, ...PANES);
    }
    if (differs("preview")) {
      for (const id of keysOf(before?.preview, next.preview)) this.marks.preview(id, next);
      mark(changed.looks, ...PANES);
    }
    if (differs("weights")) {
      for (const id of keysOf(before?.weights, next.weights))
        this.eachView(id, (view) => view.setWeights(id, next.weights.get(id) ?? null));
      mark(changed.looks, ...PANES);
    }
    if (differs("stretch")) {
      for (const [id, values] of next.stretch)
        if (before?.stretch.get(id) !== values) this.slotOf(id)?.setStretch(values);
      mark(changed.looks, ...PANES.filter((pane) => next.view[pane] === "stretch"));
    }
    if (differs("stretch", "view")) this.marks.worst(next);
    if (differs("swatch", "swatchWeight")) {
      this.swatch?.dispose();
      this.swatch = this.makeSwatch(next.swatch, next.swatchWeight, this.changed);
      const tiled = next.swatch === "tiles";
      for (const pane of PANES) this.materials[pane].setFaces({ swatch: this.swatch, tiled });
      mark(changed.looks, ...PANES.filter((pane) => next.view[pane] === "swatch"));
    }
    if (differs("seams", "seamWidth", "seamColor")) {
      const color = SEAM_COLORS[next.seamColor];
      for (const pane of PANES)
        this.materials[pane].setSeams(next.seams[pane], next.seamWidth, color ? colorOf(color) : null);
      mark(changed.looks, ...PANES);
    }
    if (differs("view", "stretchLimit", "swatchRepeats", "swatch", "relief", "shading", "lightTurn")) {
      this.setView(next);
      mark(changed.looks, ...PANES);
    }
    for (const pane of changed.places) changed.looks.add(pane);
    for (const { views } of this.entries.values()) for (const pane of PANES) views[pane].flush();
    return changed;
  }

  /**
   * Goes on filling chunks in, a stretch after another until the time is over.
   *
   * @returns whether a chunk has become ready, and whether more is to be done
   */
  work(until: number): { readonly more: boolean; readonly ready: boolean } {
    let ready = false;
    for (const entry of this.entries.values())
      while (entry.filling) {
        if (performance.now() > until) return { more: true, ready };
        if (!entry.filling.next().done) continue;
        entry.filling = null;
        this.bringIn(entry);
        ready = true;
      }
    return { more: false, ready };
  }

  /** Shows a chunk that is filled in, as the state has it by now. */
  private bringIn({ chunk, views }: Entry): void {
    const next = this.shown!;
    for (const pane of PANES) {
      this.scenes[pane].add(views[pane].faces);
      this.idScenes[pane].add(views[pane].ids);
      this.over[pane].add(views[pane].over);
    }
    for (const id of chunk.slots.keys()) {
      this.takeLayout(id, next);
      this.showAlone(id, next);
      this.marks.picked(id, next);
      this.marks.locked(id, next);
      const values = next.stretch.get(id);
      if (values) this.slotOf(id)!.setStretch(values);
      const live = next.live.get(id);
      if (live) this.slotOf(id)!.setUv(live);
      this.marks.preview(id, next);
    }
    this.marks.hover(next, null);
    for (const pane of PANES) {
      views[pane].setWires(next.wires[pane]);
      views[pane].flush();
    }
  }

  private setView(next: Shown): void {
    const looks = faceLooks(next);
    for (const pane of PANES) this.materials[pane].setFaces({ ...looks, view: VIEW_NUMBER[next.view[pane]] });
  }

  /** The slot of a shape whose chunk is filled in. */
  private slotOf(id: ShapeId): ShapeSlot | undefined {
    const entry = this.holders.get(id);
    return entry && !entry.filling ? entry.chunk.slots.get(id) : undefined;
  }

  private eachView(id: ShapeId, act: (view: ChunkView) => void): void {
    const entry = this.holders.get(id);
    if (entry && !entry.filling) for (const pane of PANES) act(entry.views[pane]);
  }

  /** Takes shapes that came, lets go of those that went, and brings the layouts and places of all up to date. */
  private followAsset(next: Shown, before: Shown | null): void {
    const { asset, set, hidden } = next;
    const old = before?.asset ?? null;
    if (!asset) return;
    const { partSwatches } = next;
    const lieElsewhere = asset.parts !== old?.parts || hidden !== before?.hidden || meshesDiffer(asset, old);
    if (lieElsewhere || partSwatches !== before?.partSwatches) this.plan(asset, next);
    if (asset.materials !== old?.materials || asset.images !== old.images || set !== before?.set) {
      this.images.show(asset, set);
      for (const pane of PANES) this.materials[pane].setFaces(this.images.uniforms);
    }
    for (const id of asset.shapes.keys()) this.takeLayout(id, next);
    if (asset.seamLocks !== old?.seamLocks || set !== before?.set)
      for (const id of asset.shapes.keys()) this.marks.locked(id, next);
  }

  /** Plans the chunks again: those that serve as they are stay. */
  private plan(asset: Asset, { set, hidden, partSwatches }: Shown): void {
    const picture = (part: PartId) => {
      const own = partSwatches.get(part);
      return own ? this.pictures.layerOf(own) : 0;
    };
    const radius = radiusOf(boundsOf(asset));
    // Ticks keep their distance while parts are moved about, as long as the asset stays about as large.
    if (radius > 1.5 * this.radius || radius < this.radius / 1.5) this.radius = radius;
    const shapes = drawnShapes(asset, set);
    const planned = planChunks(shapes);
    const entries = new Map<string, Entry>();
    for (const { key } of planned) {
      const kept = this.entries.get(key);
      if (kept) entries.set(key, kept);
    }
    for (const [key, entry] of this.entries) if (!entries.has(key)) this.drop(entry);
    this.holders.clear();
    for (const { key, shapes: own } of planned) {
      const entry = entries.get(key) ?? this.made(new Chunk(own));
      entries.set(key, entry);
      for (const { id, parts } of own) {
        this.holders.set(id, entry);
        entry.chunk.setParts(id, parts, hidden, picture);
      }
    }
    for (const pane of PANES) this.materials[pane].setFaces({ pictures: this.pictures.texture });
    this.entries = entries;
    this.drawn = shapes
      .flatMap(({ mesh, parts }) => parts.map((p) => ({ part: p.id, firstFace: p.firstFace, faces: faceCount(mesh) })))
      .sort((a, b) => a.firstFace - b.firstFace);
  }

  private made(chunk: Chunk): Entry {
    const views = {
      form: new ChunkView(chunk, "form", this.materials.form),
      sheet: new ChunkView(chunk, "sheet", this.materials.sheet),
    };
    return { chunk, views, filling: getReady(chunk, views, this.source, this.ahead) };
  }

  /** What a chunk that is got ready asks for, as it is by then. */
  private readonly source: ReadySource = {
    layoutOf: (id) => {
      const shape = this.shown!.asset!.shapes.get(id);
      return shape ? layoutOf(shape, this.shown!.set) : null;
    },
    showSeams: (id, view) => this.showSeams(id, view),
  };

  private showSeams(id: ShapeId, view: ChunkView): void {
    // Line lengths are in the shape's own units, the distance of ticks in those of the asset.
    const size = Math.cbrt(Math.abs(determinant(placedShape(this.shown!.asset!, id).metric))) || 1;
    view.setSeams(id, (TICK_STEP * this.radius) / size);
    view.showPins(id);
  }

  private drop({ chunk, views }: Entry): void {
    for (const pane of PANES) {
      this.scenes[pane].remove(views[pane].faces);
      this.idScenes[pane].remove(views[pane].ids);
      this.over[pane].remove(views[pane].over);
      views[pane].dispose();
    }
    chunk.dispose();
  }

  private takeLayout(id: ShapeId, next: Shown): void {
    const slot = this.slotOf(id);
    const layout = layoutOf(next.asset!.shapes.get(id)!, next.set);
    if (!slot || slot.layout === layout) return;
    const { cut: cutBefore, pinned } = slot.layout ?? {};
    const isJoinedOtherwise = slot.setLayout(layout);
    if (pinned !== layout.pinned) this.eachView(id, (view) => view.showPins(id));
    if (!isJoinedOtherwise) return;
    this.eachView(id, (view) => {
      if (view.pane === "sheet" || cutBefore !== layout.cut) this.showSeams(id, view);
      if (next.wires.sheet && view.pane === "sheet" && cutBefore) view.setWires(true);
    });
    this.marks.picked(id, next);
    this.marks.locked(id, next);
    if (next.hover?.shape === id) this.marks.hover(next, null);
  }

  /** Shows of a shape what is isolated of it, or all of it, with the lines that belong to that. */
  private showAlone(id: ShapeId, { alone, wires }: Shown): void {
    if (!this.slotOf(id)?.setAlone(alone?.get(id) ?? null)) return;
    this.eachView(id, (view) => {
      this.showSeams(id, view);
      if (wires[view.pane]) view.setWires(true);
    });
  }

  private followLive({ live }: Shown, before: Shown | null): void {
    for (const id of keysOf(before?.live, live)) {
      const slot = this.slotOf(id);
      if (slot?.layout && before?.live.get(id) !== live.get(id)) slot.setUv(live.get(id) ?? slot.layout.uv);
    }
  }

  /** The drawn part and the face that a number among all drawn faces stands for. */
  faceNumbered(number: number): DrawnFace | null {
    return faceNumbered(this.drawn, number);
  }

  /** Tables as they are sent to the graphics card. */
  *textures(): Generator<Texture> {
    for (const { chunk } of this.entries.values()) for (const table of chunk.tables) yield table.texture;
  }

  /** Bytes that shapes take on the graphics card; images and what marks lines apart. */
  bytes(): number {
    let sum = 0;
    for (const { chunk } of this.entries.values()) sum += chunk.bytes();
    return sum;
  }

  /** After the graphics card has lost everything. */
  sendAll(): void {
    for (const { chunk } of this.entries.values()) for (const table of chunk.tables) table.touchAll();
    this.images.sendAll();
    if (this.swatch) this.swatch.needsUpdate = true;
  }

  dispose(): void {
    for (const entry of this.entries.values()) this.drop(entry);
    for (const pane of PANES) this.materials[pane].dispose();
    this.hatch.dispose();
    this.swatch?.dispose();
    this.images.dispose();
    this.pictures.dispose();
  }
}
