import {
  BufferAttribute,
  BufferGeometry,
  Group,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  LineSegments,
  Mesh,
  Points,
  type RawShaderMaterial,
} from "three";
import type { ShapeId } from "@/core/layout/asset";
import { markedPins } from "@/core/layout/shell-points";
import type { SelectionKind } from "@/core/operations/operation";
import type { ElementSet } from "@/core/select/element-set";
import type { Weights } from "@/core/select/falloff";
import type { Pane } from "../session/store";
import type { Chunk } from "./chunk";
import {
  dotsOfItems,
  edgeLines,
  formSeams,
  formWires,
  innerWires,
  type Lines,
  SeamRuns,
  sheetSeams,
} from "./line-ends";
import { lookUp, type Marking, type PaneMaterials } from "./materials";
import type { ShapeSlot } from "./shape-slot";

/** The order in which things are drawn over each other. */
const ORDER = { faces: 1, wires: 2, locked: 4, seams: 5, picked: 7, preview: 8, worst: 8, hover: 8, dots: 9 } as const;

/** Two triangles from one end of a line to the other, on both sides of it. */
const QUAD = new BufferAttribute(new Float32Array([0, -1, 1, -1, 1, 1, 0, -1, 1, 1, 0, 1]), 2);

/** Lets go of a geometry, but for what others use as well: its buffers would go with it. */
function release(geometry: BufferGeometry): void {
  geometry.deleteAttribute("corner");
  geometry.dispose();
}

/** Every shape's array repeated for each of its parts, numbered within the chunk, with the parts beside it. */
function gathered(
  slots: Iterable<ShapeSlot>,
  pane: Pane,
  of: (slot: ShapeSlot) => Uint32Array | null,
): { numbers: Uint32Array; parts: Uint32Array } {
  const lists: Array<{ slot: ShapeSlot; own: Uint32Array; parts: number }> = [];
  let length = 0;
  for (const slot of slots) {
    const own = of(slot);
    if (!own?.length) continue;
    const parts = pane === "sheet" ? 1 : slot.shape.parts.length;
    lists.push({ slot, own, parts });
    length += parts * own.length;
  }
  const numbers = new Uint32Array(length);
  const partOf = new Uint32Array(length);
  let at = 0;
  for (const { slot, own, parts } of lists) {
    const base = pane === "sheet" ? slot.base.wedge : slot.base.vertex;
    for (let p = 0; p < parts; p++) {
      for (let k = 0; k < own.length; k++) numbers[at + k] = base + own[k]!;
      partOf.fill(slot.base.part + p, at, at + own.length);
      at += own.length;
    }
  }
  return { numbers, parts: partOf };
}

type Dotted = keyof PaneMaterials["dots"];

/** Where dots of a shape stand, and how much each counts where that is shown. */
interface Dots {
  readonly at: Uint32Array;
  readonly weights?: Float64Array;
}

/** What one pane shows of one chunk: its faces, wires, seams and what is marked of it. */
export class ChunkView {
  readonly faces: Mesh;
  readonly ids: Mesh;
  /** All that is drawn over the faces. */
  readonly over = new Group();
  private readonly drawnOver = new Map<string, Mesh | LineSegments | Points>();
  /** Lines and dots of each marking, by shape. */
  private readonly lines: Readonly<Record<Marking, Map<ShapeId, Lines>>> = {
    locked: new Map(),
    seams: new Map(),
    picked: new Map(),
    preview: new Map(),
    worst: new Map(),
    hover: new Map(),
  };
  private readonly dots: Readonly<Record<Dotted, Map<ShapeId, Dots>>> = {
    picked: new Map(),
    hover: new Map(),
    weights: new Map(),
    pins: new Map(),
  };
  private wires = false;
  /** What has to be built again. */
  private readonly stale = new Set<Marking | "wires" | `${Dotted} dots`>();

  constructor(
    private readonly chunk: Chunk,
    readonly pane: Pane,
    private readonly materials: PaneMaterials,
  ) {
    this.faces = this.drawn(new Mesh(chunk[pane], materials.faces), ORDER.faces);
    this.ids = this.drawn(new Mesh(chunk[pane], materials.ids), 0);
  }

  private drawn<T extends Mesh | LineSegments | Points>(object: T, order: number): T {
    object.frustumCulled = false;
    object.renderOrder = order;
    object.onBeforeRender = () => lookUp(this.chunk, object.material as RawShaderMaterial);
    return object;
  }

  private show(name: string, object: Mesh | LineSegments | Points | null): void {
    const before = this.drawnOver.get(name);
    if (before) {
      this.over.remove(before);
      release(before.geometry);
      this.drawnOver.delete(name);
    }
    if (!object) return;
    this.drawnOver.set(name, object);
    this.over.add(object);
  }

  /** Shows the edges of all polygons as thin lines, or no longer; those in Sheet follow the seams. */
  setWires(on: boolean): void {
    this.wires = on;
    this.stale.add("wires");
  }

  private wireLines(): LineSegments | null {
    const { numbers, parts } = gathered(
      this.wires ? this.chunk.slots.values() : [],
      this.pane,
      ({ layout, structure, shape, alone }) =>
        this.pane === "form"
          ? formWires(shape.mesh, alone)
          : layout && structure && innerWires(shape.mesh, layout, structure, alone),
    );
    return numbers.length ? this.points(LineSegments, numbers, parts, this.materials.wires, "wires") : null;
  }

  /** Builds again what is drawn over the faces, as far as it changed. Called once for many shapes. */
  flush(): void {
    for (const name of this.stale) {
      if (name === "wires") this.show(name, this.wireLines());
      else if (name.endsWith(" dots")) this.show(name, this.dotsOf(name as `${Dotted} dots`));
      else this.show(name, this.linesOf(name as Marking));
    }
    this.stale.clear();
  }

  private points<T extends LineSegments | Points>(
    Kind: new (geometry: BufferGeometry, material: RawShaderMaterial) => T,
    numbers: Uint32Array,
    parts: Uint32Array,
    material: RawShaderMaterial,
    order: keyof typeof ORDER,
  ): T {
    const geometry = new BufferGeometry();
    geometry.setAttribute("end", new BufferAttribute(numbers, 1));
    geometry.setAttribute("part", new BufferAttribute(parts, 1));
    geometry.setDrawRange(0, numbers.length);
    return this.drawn(new Kind(geometry, material), ORDER[order]);
  }

  /** Takes the seams of a shape as they are now. @param step length of a tick's share of them, in the shape's units */
  setSeams(id: ShapeId, step: number): void {
    const { layout, structure, shape, alone } = this.chunk.slots.get(id)!;
    if (!layout || !structure) return;
    const runs = new SeamRuns(shape.mesh, layout.cut, step);
    const lines =
      this.pane === "form"
        ? formSeams(shape.mesh, layout.cut, runs, alone)
        : sheetSeams(shape.mesh, layout, structure, runs, alone);
    this.takeLines("seams", id, lines);
  }

  /** Marks edges, vertices or UV points of a shape; null for none. */
  setMarked(id: ShapeId, marking: Exclude<Marking, "seams">, kind: SelectionKind, items: ElementSet | null): void {
    const { layout, structure, shape } = this.chunk.slots.get(id)!;
    const some = items?.size && layout && structure ? items : null;
    const flat = this.pane === "sheet" && layout && structure ? { layout, s: structure } : null;
    this.takeLines(marking, id, some && kind === "edges" ? edgeLines(shape.mesh, some, flat) : null);
    if (marking !== "picked" && marking !== "hover") return;
    const dotted = some && structure && (kind === "vertices" || kind === "points") ? some : null;
    const at = dotted && dotsOfItems(shape.mesh, kind, dotted, structure!, flat?.layout ?? null);
    this.takeDots(marking, id, at && { at });
  }

  /** Shows the points of a shape that are pinned. */
  showPins(id: ShapeId): void {
    const { layout, structure, shape } = this.chunk.slots.get(id)!;
    const pinned = layout && structure && layout.pinned.some(Boolean) ? markedPins(shape.mesh, layout) : null;
    const onForm = this.pane === "form" ? structure?.wedgeVertex : null;
    const at = pinned && (onForm ? pinned.map((w) => onForm[w]!) : pinned);
    this.takeDots("pins", id, at && { at });
  }

  /** Shows how much of an edit points of a shape take; null for none. */
  setWeights(id: ShapeId, own: Weights | null): void {
    const { structure } = this.chunk.slots.get(id)!;
    const onForm = this.pane === "form" ? structure?.wedgeVertex : null;
    const at = own && (onForm ? own.wedges.map((w) => onForm[w]!) : own.wedges);
    this.takeDots("weights", id, at && { at, weights: own.weights });
  }

  private takeLines(marking: Marking, id: ShapeId, lines: Lines | null): void {
    const all = this.lines[marking];
    if (!lines?.ends.length && !all.delete(id)) return;
    if (lines?.ends.length) all.set(id, lines);
    this.stale.add(marking);
  }

  private linesOf(marking: Marking): Mesh | null {
    const all = this.lines[marking];
    const slots = [...all.keys()].map((id) => this.chunk.slots.get(id)!);
    const { numbers, parts } = gathered(slots, this.pane, ({ shape }) => all.get(shape.id)!.ends);
    if (!numbers.length) return null;
    const along = new Float32Array(numbers.length);
    let at = 0;
    for (const { shape } of slots) {
      const own = all.get(shape.id)!.along;
      for (let p = 0; p < (this.pane === "sheet" ? 1 : shape.parts.length); p++, at += own.length) along.set(own, at);
    }
    const geometry = new InstancedBufferGeometry();
    geometry.setAttribute("corner", QUAD);
    geometry.setAttribute("ends", new InstancedBufferAttribute(numbers, 2));
    geometry.setAttribute("along", new InstancedBufferAttribute(along, 2));
    const partOfLine = parts.filter((_, k) => k % 2 === 0);
    geometry.setAttribute("part", new InstancedBufferAttribute(partOfLine, 1));
    geometry.setDrawRange(0, 6);
    geometry.instanceCount = numbers.length / 2;
    return this.drawn(new Mesh(geometry, this.materials.lines[marking]), ORDER[marking]);
  }

  private takeDots(marking: Dotted, id: ShapeId, dots: Dots | null): void {
    const all = this.dots[marking];
    if (!dots?.at.length && !all.delete(id)) return;
    if (dots?.at.length) all.set(id, dots);
    this.stale.add(`${marking} dots`);
  }

  private dotsOf(name: `${Dotted} dots`): Points | null {
    const marking = name.slice(0, name.indexOf(" ")) as Dotted;
    const all = this.dots[marking];
    const slots = [...all.keys()].map((id) => this.chunk.slots.get(id)!);
    const { numbers, parts } = gathered(slots, this.pane, ({ shape }) => all.get(shape.id)!.at);
    if (!numbers.length) return null;
    const dots = this.points(Points, numbers, parts, this.materials.dots[marking], "dots");
    if (marking === "weights") {
      const shares = new Float32Array(numbers.length);
      let at = 0;
      for (const { shape } of slots) {
        const own = all.get(shape.id)!.weights!;
        for (let p = 0; p < (this.pane === "sheet" ? 1 : shape.parts.length); p++, at += own.length)
          shares.set(own, at);
      }
      dots.geometry.setAttribute("weight", new BufferAttribute(shares, 1));
    }
    return dots;
  }

  dispose(): void {
    for (const name of [...this.drawnOver.keys()]) this.show(name, null);
  }
}
