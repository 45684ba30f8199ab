import { BufferAttribute, InstancedBufferAttribute, InstancedBufferGeometry } from "three";
import { getBit } from "@/core/layout/bits";
import { type Layout, type Structure, shellNamed, structureOf } from "@/core/layout/layout";
import { shellTint } from "@/core/layout/tints";
import type { Shell } from "@/core/mesh/indices";
import { NONE, type PolyMesh } from "@/core/mesh/poly-mesh";
import type { Mat4 } from "@/core/mesh/transform";
import { trianglesOf } from "@/core/mesh/triangulate";
import type { ElementSet } from "@/core/select/element-set";
import { cornerNormals } from "./corner-normals";
import { HOVERED, SELECTED, UNMAPPED } from "./shaders";
import { BYTE, COLOR, INDEX, NUMBER, POINT, SHORT, TexelTable, UV } from "./texel-table";

/** A part that draws a shape. */
export interface Instance {
  readonly transform: Mat4;
  /** Number of its first face among all drawn faces: what picking answers. */
  readonly firstFace: number;
}

/**
 * One shape as the graphics card has it: what its corners are (vertex, wedge, face), and tables of points, coordinates
 * and marks that they look up. An edit writes the entries that it changes; the parts that draw the shape are instances.
 */
export class ShapeChunk {
  /** Every part of it, for Form; and the shape once, for Sheet. */
  readonly form = new InstancedBufferGeometry();
  readonly sheet = new InstancedBufferGeometry();
  readonly points: TexelTable<Float32Array>;
  uvs: TexelTable<Float32Array>;
  readonly faceShell: TexelTable<Uint32Array>;
  readonly faceMarks: TexelTable<Uint8Array>;
  readonly faceMaterial: TexelTable<Uint16Array>;
  shells: TexelTable<Uint8Array>;
  readonly stretches: TexelTable<Float32Array>;
  /** The layout drawn, and what it makes of the mesh. */
  layout: Layout | null = null;
  structure: Structure | null = null;
  /** Parts that are shown. */
  instances: readonly Instance[] = [];
  /** Of every instance: its transform, and its first face. */
  place = new InstancedBufferAttribute(new Float32Array(0), 16);
  private firstFace = new InstancedBufferAttribute(new Uint32Array(0), 1);
  private readonly wedge: BufferAttribute;
  private readonly corners: Uint32Array;
  private pickedFaces: ElementSet | null = null;
  private pickedShells: ElementSet | null = null;
  private hovered: { shells: boolean; item: number } | null = null;

  /** @param order where the shape stands in the list: what its tints begin from */
  constructor(
    readonly mesh: PolyMesh,
    private readonly order: number,
  ) {
    const t = trianglesOf(mesh);
    this.corners = t.corners;
    const faces = mesh.faceStart.length - 1;
    const vertex = new Uint32Array(t.corners.length);
    const face = new Uint32Array(t.corners.length);
    for (let k = 0; k < t.corners.length; k++) {
      vertex[k] = mesh.cornerVertex[t.corners[k]!]!;
      face[k] = t.face[(k / 3) | 0]!;
    }
    this.wedge = new BufferAttribute(new Uint32Array(t.corners.length), 1);
    const shared = {
      vertex: new BufferAttribute(vertex, 1),
      face: new BufferAttribute(face, 1),
      normal: new BufferAttribute(cornerNormals(mesh, t.corners), 4, true),
      wedge: this.wedge,
    };
    for (const geometry of [this.form, this.sheet]) {
      for (const [name, attribute] of Object.entries(shared)) geometry.setAttribute(name, attribute);
      geometry.setDrawRange(0, t.corners.length);
      geometry.instanceCount = 0;
    }
    this.points = new TexelTable(POINT, mesh.positions.length / 3);
    for (let v = 0; 3 * v < mesh.positions.length; v++)
      for (let i = 0; i < 3; i++) this.points.data[4 * v + i] = mesh.positions[3 * v + i]!;
    this.uvs = new TexelTable(UV, 0);
    this.shells = new TexelTable(COLOR, 0);
    this.faceShell = new TexelTable(INDEX, faces);
    this.faceMarks = new TexelTable(BYTE, faces);
    this.faceMaterial = new TexelTable(SHORT, faces);
    for (let f = 0; f < faces; f++) {
      const m = mesh.faceMaterial[f]!;
      this.faceMaterial.data[f] = m === NONE || m >= 0xffff ? 0 : m + 1;
    }
    this.stretches = new TexelTable(NUMBER, t.face.length);
    this.stretches.data.fill(1);
  }

  bytes(): number {
    let sum = 0;
    for (const attribute of Object.values(this.form.attributes)) sum += attribute.array.byteLength;
    for (const table of this.tables) sum += table.data.byteLength;
    return sum;
  }

  get tables(): ReadonlyArray<TexelTable<Float32Array | Uint32Array | Uint16Array | Uint8Array>> {
    const { points, uvs, faceShell, faceMarks, faceMaterial, shells, stretches } = this;
    return [points, uvs, faceShell, faceMarks, faceMaterial, shells, stretches];
  }

  /** What its shaders look up. */
  get uniforms(): Readonly<Record<string, unknown>> {
    const { points, uvs, faceShell, faceMarks, faceMaterial, shells, stretches } = this;
    return {
      points: points.texture,
      uvs: uvs.texture,
      faceShell: faceShell.texture,
      faceMarks: faceMarks.texture,
      faceMaterial: faceMaterial.texture,
      shells: shells.texture,
      stretches: stretches.texture,
    };
  }

  /** Parts that are shown: what Form draws; Sheet draws the shape once when any of them is. */
  setInstances(instances: readonly Instance[]): void {
    this.instances = instances;
    if (this.place.count < instances.length) {
      this.place = new InstancedBufferAttribute(new Float32Array(16 * instances.length), 16);
      this.firstFace = new InstancedBufferAttribute(new Uint32Array(instances.length), 1);
      for (const geometry of [this.form, this.sheet])
        geometry.setAttribute("place", this.place).setAttribute("firstFace", this.firstFace);
    }
    instances.forEach(({ transform, firstFace }, i) => {
      this.place.array.set(transform, 16 * i);
      this.firstFace.array[i] = firstFace;
    });
    this.place.needsUpdate = true;
    this.firstFace.needsUpdate = true;
    this.form.instanceCount = instances.length;
    this.sheet.instanceCount = Math.min(1, instances.length);
  }

  /** Takes another layout. @returns whether seams or shells differ from those of the one before */
  setLayout(layout: Layout): boolean {
    const s = structureOf(this.mesh, layout);
    const other = s !== this.structure;
    this.layout = layout;
    this.structure = s;
    if (other) {
      this.writeWedges(s);
      this.faceShell.write(s.faceShell);
      this.writeShells(layout, s);
    }
    this.setUv(layout.uv);
    return other;
  }

  private writeWedges(s: Structure): void {
    const out = this.wedge.array as Uint32Array;
    let from = -1;
    // Stretches that differ are sent; small gaps between them with them.
    const GAP = 4096;
    let last = -GAP;
    const flush = () => {
      if (from >= 0) this.wedge.addUpdateRange(from, last + 1 - from);
    };
    for (let k = 0; k < out.length; k++) {
      const w = s.cornerWedge[this.corners[k]!]!;
      if (out[k] === w) continue;
      out[k] = w;
      if (k - last > GAP) {
        flush();
        from = k;
      }
      last = k;
    }
    flush();
    if (from >= 0) this.wedge.needsUpdate = true;
    if (this.uvs.room < s.wedgeCount) {
      this.uvs.dispose();
      this.uvs = new TexelTable(UV, s.wedgeCount);
    }
  }

  private writeShells(layout: Layout, s: Structure): void {
    if (this.shells.room < s.shellCount) {
      this.shells.dispose();
      this.shells = new TexelTable(COLOR, s.shellCount);
    }
    const { data } = this.shells;
    for (let k = 0; k < s.shellCount; k++) {
      const own = shellTint(this.order, k);
      for (let i = 0; i < 3; i++) data[4 * k + i] = Math.round(255 * own[i]!);
      data[4 * k + 3] = getBit(layout.mapped, s.shellFaces[s.shellStart[k]!]!) ? 0 : UNMAPPED;
    }
    this.pickedShells?.each((name) => this.markShell(name, SELECTED, true));
    if (this.hovered?.shells) this.markShell(this.hovered.item, HOVERED, true);
    this.shells.touch(0, s.shellCount);
  }

  /** Coordinates by wedge, those of the layout or others while shells follow the pointer. */
  setUv(uv: Float64Array): void {
    this.uvs.write(uv);
  }

  /** Stretch of every triangle; one that has none is drawn as if it had not changed. */
  setStretch(values: Float32Array): void {
    const { data } = this.stretches;
    for (let t = 0; t < values.length; t++) data[t] = Number.isNaN(values[t]!) ? 1 : values[t]!;
    this.stretches.touch(0, values.length);
  }

  /** What is picked of it, where faces or shells are. */
  setPicked(kind: string, items: ElementSet | null): void {
    const faces = kind === "faces" ? items : null;
    const shells = kind === "shells" ? items : null;
    this.eachChange(this.pickedFaces, faces, (f, on) => this.markFace(f, SELECTED, on));
    this.eachChange(this.pickedShells, shells, (name, on) => this.markShell(name, SELECTED, on));
    this.pickedFaces = faces;
    this.pickedShells = shells;
  }

  /** Calls `act` with every element that came or went between two selections. */
  private eachChange(before: ElementSet | null, now: ElementSet | null, act: (i: number, on: boolean) => void): void {
    if (before === now) return;
    if (!before || !now) {
      before?.each((i) => act(i, false));
      now?.each((i) => act(i, true));
      return;
    }
    now.eachChange(before, (from, to) => {
      for (let i = from; i < to; i++) if (before.has(i) !== now.has(i)) act(i, now.has(i));
    });
  }

  /** The face or shell under the pointer; null for none. */
  setHovered(next: { shells: boolean; item: number } | null): void {
    const mark = (h: { shells: boolean; item: number } | null, on: boolean) => {
      if (h) this[h.shells ? "markShell" : "markFace"](h.item, HOVERED, on);
    };
    mark(this.hovered, false);
    this.hovered = next;
    mark(next, true);
  }

  private markFace(face: number, mark: number, on: boolean): void {
    const { data } = this.faceMarks;
    data[face] = on ? data[face]! | mark : data[face]! & ~mark;
    this.faceMarks.touch(face, face + 1);
  }

  private markShell(name: number, mark: number, on: boolean): void {
    const shell: Shell | null = this.structure && shellNamed(this.structure, name);
    if (shell === null) return;
    const { data } = this.shells;
    const at = 4 * shell + 3;
    data[at] = on ? data[at]! | mark : data[at]! & ~mark;
    this.shells.touch(shell, shell + 1);
  }

  dispose(): void {
    this.form.dispose();
    this.sheet.dispose();
    for (const table of this.tables) table.dispose();
  }
}
