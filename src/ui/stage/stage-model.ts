import { Group, Mesh, PlaneGeometry, Scene, type Texture, Vector2 } from "three";
import { type Asset, type PartId, placedShape, type ShapeId, shapesOf } from "@/core/layout/asset";
import type { Layout } from "@/core/layout/layout";
import { determinant } from "@/core/mesh/transform";
import { layoutOf } from "@/core/operations/scope";
import { ElementSet } from "@/core/select/element-set";
import { elementCount } from "@/core/select/grow";
import type { BenchState, Pane } from "../session/store";
import { boundsOf, radiusOf } from "./bounds";
import { ChunkView } from "./chunk-view";
import { COLORS } from "./colors";
import { ImageTable } from "./image-table";
import { PaneMaterials } from "./materials";
import { VIEW_NUMBER } from "./shaders";
import { type Instance, ShapeChunk } from "./shape-chunk";

/** What the stage follows of the bench's state. */
export type Shown = Pick<
  BenchState,
  | "asset"
  | "set"
  | "view"
  | "wires"
  | "kind"
  | "picked"
  | "preview"
  | "hover"
  | "hidden"
  | "stretch"
  | "stretchLimit"
  | "swatchRepeats"
  | "live"
>;

/** A part as it is drawn, and the number of its first face among all drawn faces. */
interface Drawn {
  readonly part: PartId;
  readonly firstFace: number;
  readonly faces: number;
}

export interface DrawnFace {
  readonly part: PartId;
  readonly face: number;
}

interface Entry {
  readonly chunk: ShapeChunk;
  readonly views: Readonly<Record<Pane, ChunkView>>;
}

const PANES: readonly Pane[] = ["form", "sheet"];
/** Ticks of a seam stand so far apart, in radii of the asset. */
const TICK_STEP = 0.08;

/** All that is drawn of an asset, in both panes; follows the bench's state by what differs from the state before. */
export class StageModel {
  readonly scenes: Readonly<Record<Pane, Scene>> = { form: new Scene(), sheet: new Scene() };
  /** The same faces, to be told by their numbers. */
  readonly idScenes: Readonly<Record<Pane, Scene>> = { form: new Scene(), sheet: new Scene() };
  readonly resolution: Readonly<Record<Pane, Vector2>> = { form: new Vector2(1, 1), sheet: new Vector2(1, 1) };
  readonly materials: Readonly<Record<Pane, PaneMaterials>> = {
    form: new PaneMaterials("form", this.resolution.form),
    sheet: new PaneMaterials("sheet", this.resolution.sheet),
  };
  /** Every drawn part, by rising first face. */
  private drawn: readonly Drawn[] = [];
  private readonly entries = new Map<ShapeId, Entry>();
  private readonly over: Readonly<Record<Pane, Group>> = { form: new Group(), sheet: new Group() };
  private readonly hatch = new PlaneGeometry(2, 2);
  private readonly images: ImageTable;
  private radius = 1;
  private shown: Shown | null = null;

  /**
   * @param swatch what the swatch view lays on
   * @param changed called when something is to be drawn anew that did not come with the state: an image has arrived
   */
  constructor(
    private readonly swatch: Texture,
    changed: () => void,
  ) {
    this.images = new ImageTable(changed);
    for (const pane of PANES) {
      this.scenes[pane].add(this.over[pane]);
      this.materials[pane].setFaces({ swatch: this.swatch });
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

  /** Follows the state. @returns the panes in which something looks different now */
  sync(next: Shown): Set<Pane> {
    const before = this.shown;
    this.shown = next;
    const dirty = new Set<Pane>();
    const both = () => {
      for (const pane of PANES) dirty.add(pane);
    };
    const differs = (...keys: ReadonlyArray<keyof Shown>) => !before || keys.some((k) => before[k] !== next[k]);
    if (differs("asset", "set", "hidden")) {
      this.followAsset(next, before);
      both();
    }
    if (differs("live")) {
      this.followLive(next, before);
      dirty.add("sheet");
      if (next.view === "swatch") dirty.add("form");
    }
    if (differs("wires")) {
      for (const { views } of this.entries.values()) for (const pane of PANES) views[pane].setWires(next.wires);
      both();
    }
    if (differs("picked", "kind")) {
      for (const id of keysOf(before?.picked, next.picked)) this.markPicked(id, next);
      both();
    }
    if (differs("hover", "kind")) {
      this.markHover(next, before);
      both();
    }
    if (differs("preview")) {
      for (const id of keysOf(before?.preview, next.preview))
        this.eachView(id, (v) => v.setMarked("preview", "edges", next.preview.get(id) ?? null));
      both();
    }
    if (differs("stretch")) {
      for (const [id, values] of next.stretch)
        if (before?.stretch.get(id) !== values) this.entries.get(id)?.chunk.setStretch(values);
      if (next.view === "stretch") both();
    }
    if (differs("view", "stretchLimit", "swatchRepeats")) {
      this.setView(next);
      both();
    }
    return dirty;
  }

  private setView({ view, stretchLimit, swatchRepeats }: Shown): void {
    const looks = { view: VIEW_NUMBER[view], range: [1 / stretchLimit, stretchLimit], repeats: swatchRepeats };
    for (const pane of PANES) this.materials[pane].setFaces(looks);
  }

  private eachView(id: ShapeId, act: (view: ChunkView, chunk: ShapeChunk) => void): void {
    const entry = this.entries.get(id);
    if (entry) for (const pane of PANES) act(entry.views[pane], entry.chunk);
  }

  /** Takes shapes that came, lets go of those that went, and brings the layouts and places of all up to date. */
  private followAsset(next: Shown, before: Shown | null): void {
    const { asset, set, hidden } = next;
    const old = before?.asset ?? null;
    if (!asset) return;
    if (asset.parts !== old?.parts || asset.shapes !== old.shapes) this.takeShapes(asset, next);
    if (asset.parts !== old?.parts || hidden !== before?.hidden || asset.shapes !== old.shapes)
      this.placeParts(asset, hidden);
    if (asset.materials !== old?.materials || asset.images !== old.images || set !== before?.set) {
      this.images.show(asset, set);
      for (const pane of PANES) this.materials[pane].setFaces(this.images.uniforms);
    }
    for (const [id, shape] of asset.shapes) this.takeLayout(id, layoutOf(shape, set), next);
  }

  private takeShapes(asset: Asset, next: Shown): void {
    for (const [id, entry] of this.entries) if (asset.shapes.get(id)?.mesh !== entry.chunk.mesh) this.drop(id, entry);
    const radius = radiusOf(boundsOf(asset));
    // Ticks keep their distance while parts are moved about, as long as the asset stays about as large.
    if (radius > 1.5 * this.radius || radius < this.radius / 1.5) this.radius = radius;
    let order = 0;
    for (const { id, mesh } of shapesOf(asset)) {
      if (!this.entries.has(id)) this.add(id, new ShapeChunk(mesh, order));
      order++;
    }
    for (const id of this.entries.keys()) {
      const values = next.stretch.get(id);
      if (values) this.entries.get(id)!.chunk.setStretch(values);
    }
  }

  private add(id: ShapeId, chunk: ShapeChunk): void {
    const views = {
      form: new ChunkView(chunk, "form", this.materials.form),
      sheet: new ChunkView(chunk, "sheet", this.materials.sheet),
    };
    for (const pane of PANES) {
      this.scenes[pane].add(views[pane].faces);
      this.idScenes[pane].add(views[pane].ids);
      this.over[pane].add(views[pane].over);
    }
    this.entries.set(id, { chunk, views });
  }

  private drop(id: ShapeId, { chunk, views }: Entry): void {
    for (const pane of PANES) {
      this.scenes[pane].remove(views[pane].faces);
      this.idScenes[pane].remove(views[pane].ids);
      this.over[pane].remove(views[pane].over);
      views[pane].dispose();
    }
    chunk.dispose();
    this.entries.delete(id);
  }

  private placeParts(asset: Asset, hidden: ReadonlySet<PartId>): void {
    const drawn: Drawn[] = [];
    const places = new Map<ShapeId, Instance[]>();
    let firstFace = 0;
    for (const part of asset.parts) {
      const faces = asset.shapes.get(part.shape)!.mesh.faceStart.length - 1;
      drawn.push({ part: part.id, firstFace, faces });
      const list = places.get(part.shape) ?? [];
      places.set(part.shape, list);
      if (!hidden.has(part.id)) list.push({ transform: part.transform, firstFace });
      firstFace += faces;
    }
    this.drawn = drawn;
    for (const [id, { chunk, views }] of this.entries) {
      const next = places.get(id) ?? [];
      if (sameInstances(chunk.instances, next)) continue;
      chunk.setInstances(next);
      for (const pane of PANES) views[pane].placed();
    }
  }

  private takeLayout(id: ShapeId, layout: Layout, next: Shown): void {
    const entry = this.entries.get(id);
    if (!entry || entry.chunk.layout === layout) return;
    const { chunk } = entry;
    const cutBefore = chunk.layout?.cut;
    if (!chunk.setLayout(layout)) return;
    // Lines are told in the shape's own units, the distance of ticks in those of the asset.
    const size = Math.cbrt(Math.abs(determinant(placedShape(next.asset!, id).metric))) || 1;
    this.eachView(id, (view) => {
      if (view.pane === "sheet" || cutBefore !== layout.cut) view.setSeams((TICK_STEP * this.radius) / size);
      if (next.wires && (view.pane === "sheet" || !cutBefore)) view.setWires(true);
    });
    this.markPicked(id, next);
    if (next.hover?.shape === id) this.markHover(next, null);
  }

  private followLive({ live }: Shown, before: Shown | null): void {
    for (const id of keysOf(before?.live, live)) {
      const chunk = this.entries.get(id)?.chunk;
      if (chunk?.layout && before?.live.get(id) !== live.get(id)) chunk.setUv(live.get(id) ?? chunk.layout.uv);
    }
  }

  private markPicked(id: ShapeId, { kind, picked }: Shown): void {
    const items = picked.get(id) ?? null;
    this.entries.get(id)?.chunk.setPicked(kind, items);
    const lines = kind === "edges" || kind === "vertices";
    this.eachView(id, (view) => view.setMarked("picked", kind === "vertices" ? kind : "edges", lines ? items : null));
  }

  private markHover({ kind, hover }: Shown, before: Shown | null): void {
    const was = before?.hover?.shape;
    const lines = kind === "edges" || kind === "vertices";
    for (const id of new Set([was, hover?.shape])) {
      const entry = id === undefined ? undefined : this.entries.get(id);
      if (!entry) continue;
      const own = hover?.shape === id ? hover : null;
      entry.chunk.setHovered(own && !lines ? { shells: kind === "shells", item: own!.item } : null);
      const items = own && lines ? ElementSet.of(elementCount(entry.chunk.mesh, kind), [own.item]) : null;
      for (const pane of PANES) entry.views[pane].setMarked("hover", kind === "vertices" ? kind : "edges", items);
    }
  }

  /** The drawn part and the face that a number among all drawn faces stands for. */
  faceNumbered(number: number): DrawnFace | null {
    const { drawn } = this;
    let [low, high] = [0, drawn.length - 1];
    if (number < 0 || high < 0) return null;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (drawn[middle]!.firstFace <= number) low = middle;
      else high = middle - 1;
    }
    const own = drawn[low]!;
    const face = number - own.firstFace;
    return face < own.faces ? { part: own.part, face } : null;
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
    this.swatch.needsUpdate = true;
  }

  dispose(): void {
    for (const [id, entry] of [...this.entries]) this.drop(id, entry);
    for (const pane of PANES) this.materials[pane].dispose();
    this.hatch.dispose();
    this.swatch.dispose();
    this.images.dispose();
  }
}

const keysOf = <V>(a: ReadonlyMap<ShapeId, V> | undefined, b: ReadonlyMap<ShapeId, V>): Set<ShapeId> => {
  const out = new Set(b.keys());
  for (const id of a?.keys() ?? []) if (a!.get(id) !== b.get(id)) out.add(id);
  return out;
};

const sameInstances = (a: readonly Instance[], b: readonly Instance[]): boolean =>
  a.length === b.length && a.every((x, i) => x.firstFace === b[i]!.firstFace && x.transform === b[i]!.transform);
