import { getBit } from "@/core/layout/bits";
import { type Layout, type Structure, shellNamed, structureOf } from "@/core/layout/layout";
import { shellTint } from "@/core/layout/tints";
import { trianglesOf } from "@/core/mesh/triangulate";
import type { ElementSet } from "@/core/select/element-set";
import type { DrawnShape, ShapeTables } from "./drawn-shape";
import { HOVERED, LEFT_OUT, SELECTED, UNMAPPED } from "./shaders";

/** Where a shape begins in the lists of its chunk. */
export interface Bases {
  readonly corner: number;
  readonly vertex: number;
  readonly face: number;
  readonly wedge: number;
  readonly shell: number;
  readonly part: number;
}

/** The face or shell under the pointer. */
export interface Hovered {
  readonly shells: boolean;
  readonly item: number;
}

/** Corners that are sent along when they lie between changed ones. */
const GAP = 4096;

/** One shape in a chunk: writes its layout and its marks into its own stretch of the chunk's tables. */
export class ShapeSlot {
  /** The layout drawn, and what it makes of the mesh. */
  layout: Layout | null = null;
  structure: Structure | null = null;
  /** Mesh corner of every triangle corner. */
  readonly corners: Uint32Array;
  private pickedFaces: ElementSet | null = null;
  private pickedShells: ElementSet | null = null;
  private hovered: Hovered | null = null;
  /** The only faces that are shown; all where it is null. */
  alone: ElementSet | null = null;

  /** @param copies how often its corners stand in the chunk */
  constructor(
    private readonly chunk: ShapeTables,
    readonly shape: DrawnShape,
    readonly base: Bases,
    readonly copies: number,
  ) {
    this.corners = trianglesOf(shape.mesh).corners;
  }

  /** The first corner of a copy. */
  cornerOf(copy: number): number {
    return this.base.corner + copy * this.corners.length;
  }

  /** Takes another layout. @returns whether seams or shells differ from those of the one before */
  setLayout(layout: Layout): boolean {
    const s = structureOf(this.shape.mesh, layout);
    const other = s !== this.structure;
    this.layout = layout;
    this.structure = s;
    if (other) {
      this.chunk.reserve(this.base.wedge + s.wedgeCount, this.base.shell + s.shellCount);
      for (let copy = 0; copy < this.copies; copy++) this.writeWedges(s, this.cornerOf(copy));
      this.writeFaceShells(s);
      this.writeShells(layout, s);
    }
    this.setUv(layout.uv);
    return other;
  }

  private writeWedges(s: Structure, at: number): void {
    const { wedge } = this.chunk;
    const out = wedge.array as Uint32Array;
    const { corners, base } = this;
    let [from, last] = [-1, -GAP];
    const flush = () => {
      if (from >= 0) wedge.addUpdateRange(at + from, last + 1 - from);
    };
    for (let k = 0; k < corners.length; k++) {
      const w = base.wedge + s.cornerWedge[corners[k]!]!;
      if (out[at + k] === w) continue;
      out[at + k] = w;
      if (k - last > GAP) {
        flush();
        from = k;
      }
      last = k;
    }
    flush();
    if (from >= 0) wedge.needsUpdate = true;
  }

  private writeFaceShells(s: Structure): void {
    const { faceShell } = this.chunk;
    const { data } = faceShell;
    const { base } = this;
    let [first, last] = [-1, -1];
    for (let f = 0; f < s.faceShell.length; f++) {
      const shell = base.shell + s.faceShell[f]!;
      if (data[base.face + f] === shell) continue;
      data[base.face + f] = shell;
      if (first < 0) first = f;
      last = f;
    }
    if (first >= 0) faceShell.touch(base.face + first, base.face + last + 1);
  }

  private writeShells(layout: Layout, s: Structure): void {
    const { shells } = this.chunk;
    const { data } = shells;
    const { base, shape } = this;
    for (let k = 0; k < s.shellCount; k++) {
      const own = shellTint(shape.order, k);
      const at = 4 * (base.shell + k);
      for (let i = 0; i < 3; i++) data[at + i] = Math.round(255 * own[i]!);
      data[at + 3] = getBit(layout.mapped, s.shellFaces[s.shellStart[k]!]!) ? 0 : UNMAPPED;
    }
    this.pickedShells?.each((name) => this.markShell(name, SELECTED, true));
    if (this.hovered?.shells) this.markShell(this.hovered.item, HOVERED, true);
    shells.touch(base.shell, base.shell + s.shellCount);
  }

  /** Coordinates by wedge, those of the layout or others while shells follow the pointer. */
  setUv(uv: Float64Array): void {
    this.chunk.uvs.write(uv, this.base.wedge);
  }

  /** Stretch of every triangle; one that has none is drawn as if it had not changed. */
  setStretch(values: Float32Array): void {
    const { stretches } = this.chunk;
    for (let copy = 0; copy < this.copies; copy++) {
      const at = this.cornerOf(copy) / 3;
      for (let t = 0; t < values.length; t++) stretches.data[at + t] = Number.isNaN(values[t]!) ? 1 : values[t]!;
      stretches.touch(at, at + values.length);
    }
  }

  /** Shows some faces alone, or all again. @returns whether that is a change */
  setAlone(faces: ElementSet | null): boolean {
    if (faces === this.alone) return false;
    this.alone = faces;
    const count = this.shape.mesh.faceStart.length - 1;
    const { faceMarks } = this.chunk;
    for (let f = 0; f < count; f++) {
      const at = this.base.face + f;
      const left = faces !== null && !faces.has(f);
      faceMarks.data[at] = left ? faceMarks.data[at]! | LEFT_OUT : faceMarks.data[at]! & ~LEFT_OUT;
    }
    faceMarks.touch(this.base.face, this.base.face + count);
    return true;
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

  setHovered(next: Hovered | null): void {
    const mark = (h: Hovered | null, on: boolean) => {
      if (h) this[h.shells ? "markShell" : "markFace"](h.item, HOVERED, on);
    };
    mark(this.hovered, false);
    this.hovered = next;
    mark(next, true);
  }

  private markFace(face: number, mark: number, on: boolean): void {
    const { faceMarks } = this.chunk;
    const at = this.base.face + face;
    faceMarks.data[at] = on ? faceMarks.data[at]! | mark : faceMarks.data[at]! & ~mark;
    faceMarks.touch(at, at + 1);
  }

  private markShell(name: number, mark: number, on: boolean): void {
    const shell = this.structure && shellNamed(this.structure, name);
    if (shell === null) return;
    const { shells } = this.chunk;
    const at = this.base.shell + shell;
    shells.data[4 * at + 3] = on ? shells.data[4 * at + 3]! | mark : shells.data[4 * at + 3]! & ~mark;
    shells.touch(at, at + 1);
  }
}
