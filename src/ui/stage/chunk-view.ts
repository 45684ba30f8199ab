import {
  BufferAttribute,
  BufferGeometry,
  Group,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  LineSegments,
  Mesh,
  type Object3D,
  Points,
  type RawShaderMaterial,
} from "three";
import { topologyOf } from "@/core/mesh/topology";
import type { ElementSet } from "@/core/select/element-set";
import type { Pane } from "../session/store";
import { edgeLines, formSeams, innerWires, type Lines, SeamRuns, sheetSeams, wedgesOf } from "./line-ends";
import { lookUp, type Marking, type PaneMaterials } from "./materials";
import type { ShapeChunk } from "./shape-chunk";

/** The order in which things are drawn over each other. */
const ORDER = { faces: 1, wires: 2, seams: 5, picked: 7, preview: 8, hover: 8 } as const;

/** Two triangles from one end of a line to the other, on both sides of it. */
const QUAD = new BufferAttribute(new Float32Array([0, -1, 1, -1, 1, 1, 0, -1, 1, 1, 0, 1]), 2);

function lineGeometry({ ends, along }: Lines): InstancedBufferGeometry {
  const geometry = new InstancedBufferGeometry();
  geometry.setAttribute("corner", QUAD);
  geometry.setAttribute("ends", new InstancedBufferAttribute(ends, 2));
  geometry.setAttribute("along", new InstancedBufferAttribute(along, 2));
  geometry.setDrawRange(0, 6);
  geometry.instanceCount = ends.length / 2;
  return geometry;
}

/** Something drawn once for every part of the shape. */
interface Marked {
  readonly geometry: BufferGeometry;
  readonly make: (geometry: BufferGeometry) => Mesh | Points;
  objects: Object3D[];
}

/** Lets go of a geometry, but for what others use as well: its buffers would go with it. */
function release(geometry: BufferGeometry): void {
  for (const shared of ["corner", "place"]) geometry.deleteAttribute(shared);
  geometry.dispose();
}

/** What one pane shows of one shape: its faces, wires, seams and what is marked of it. */
export class ChunkView {
  readonly faces: Mesh;
  readonly ids: Mesh;
  /** All that is drawn over the faces. */
  readonly over = new Group();
  private wires: LineSegments<InstancedBufferGeometry> | null = null;
  private readonly marked = new Map<string, Marked>();

  constructor(
    private readonly chunk: ShapeChunk,
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

  /** Shows the edges of all polygons as thin lines, or no longer. */
  setWires(on: boolean): void {
    if (this.wires) {
      this.over.remove(this.wires);
      release(this.wires.geometry);
      this.wires = null;
    }
    const { layout, structure, mesh } = this.chunk;
    if (!on || !layout || !structure) return;
    const ends = this.pane === "form" ? topologyOf(mesh).edgeVertices : innerWires(mesh, layout, structure);
    const geometry = new InstancedBufferGeometry();
    geometry.setAttribute("end", new BufferAttribute(ends, 1));
    geometry.setAttribute("place", this.chunk.place);
    geometry.setDrawRange(0, ends.length);
    this.wires = this.drawn(new LineSegments(geometry, this.materials.wires), ORDER.wires);
    this.over.add(this.wires);
    this.placeWires();
  }

  setSeams(step: number): void {
    const { layout, structure, mesh } = this.chunk;
    if (!layout || !structure) return;
    const runs = new SeamRuns(mesh, layout.cut, step);
    const lines = this.pane === "form" ? formSeams(mesh, layout.cut, runs) : sheetSeams(mesh, layout, structure, runs);
    this.setLines("seams", lines);
  }

  /** Marks edges or vertices; null for none. */
  setMarked(marking: Exclude<Marking, "seams">, kind: "edges" | "vertices", items: ElementSet | null): void {
    const { layout, structure, mesh } = this.chunk;
    const none = !items?.size || !layout || !structure;
    const flat = this.pane === "sheet" && layout && structure ? { layout, s: structure } : null;
    this.setLines(marking, !none && kind === "edges" ? edgeLines(mesh, items, flat) : null);
    if (marking === "preview") return;
    const points = none || kind === "edges" ? null : flat ? wedgesOf(mesh, layout, structure, items) : items.items();
    this.setDots(marking, points);
  }

  private setLines(marking: Marking, lines: Lines | null): void {
    this.show(marking, lines?.ends.length ? lineGeometry(lines) : null, (geometry) =>
      this.drawn(new Mesh(geometry, this.materials.lines[marking]), ORDER[marking]),
    );
  }

  private setDots(marking: "picked" | "hover", points: Uint32Array | null): void {
    let geometry: BufferGeometry | null = null;
    if (points?.length) {
      geometry = new BufferGeometry();
      geometry.setAttribute("end", new BufferAttribute(points, 1));
      geometry.setDrawRange(0, points.length);
    }
    this.show(`${marking} dots`, geometry, (g) => this.drawn(new Points(g, this.materials.dots[marking]), 9));
  }

  private show(name: string, geometry: BufferGeometry | null, make: Marked["make"]): void {
    const before = this.marked.get(name);
    if (before) {
      this.over.remove(...before.objects);
      release(before.geometry);
      this.marked.delete(name);
    }
    if (!geometry) return;
    const marked: Marked = { geometry, make, objects: [] };
    this.marked.set(name, marked);
    this.place(marked);
  }

  /** Lines and dots are drawn once for every part that is shown, in Sheet once for all. */
  private place(marked: Marked): void {
    const { instances } = this.chunk;
    this.over.remove(...marked.objects);
    marked.objects = (this.pane === "sheet" ? instances.slice(0, 1) : instances).map(({ transform }) => {
      const own = marked.make(marked.geometry);
      own.matrixAutoUpdate = false;
      if (this.pane === "form") own.matrix.fromArray(transform);
      return own;
    });
    if (marked.objects.length) this.over.add(...marked.objects);
  }

  /** Follows the parts that are shown. */
  placed(): void {
    for (const marked of this.marked.values()) this.place(marked);
    this.placeWires();
  }

  private placeWires(): void {
    if (!this.wires) return;
    const { instances, place } = this.chunk;
    this.wires.geometry.setAttribute("place", place);
    this.wires.geometry.instanceCount = this.pane === "form" ? instances.length : Math.min(1, instances.length);
  }

  dispose(): void {
    this.setWires(false);
    for (const { geometry } of this.marked.values()) release(geometry);
  }
}
