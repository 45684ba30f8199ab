import { BufferAttribute, InstancedBufferAttribute, InstancedBufferGeometry } from "three";
import type { PartId, ShapeId } from "@/core/layout/asset";
import { faceCount, NONE } from "@/core/mesh/poly-mesh";
import { trianglesOf } from "@/core/mesh/triangulate";
import { fillCornerNormals } from "./corner-normals";
import type { DrawnPart, DrawnShape, ShapeTables } from "./drawn-shape";
import { ShapeSlot } from "./shape-slot";
import { BYTE, COLOR, INDEX, NUMBER, POINT, SHORT, TexelTable, UV } from "./texel-table";

/** Corners that are filled in at a stretch. */
const STRETCH = 200_000;
/** Texels of a part: three rows of its transform, then whether it is shown in Form and in Sheet, and its first face. */
const PER_PART = 4;

/**
 * Shapes as the graphics card has them, drawn together: what their corners are (vertex, wedge, face, part), and tables of
 * points, coordinates, marks and places that these look up. A large shape has a chunk of its own and its parts are
 * instances; small ones share a chunk, where each part has corners of its own. An edit writes the entries it changes.
 */
export class Chunk implements ShapeTables {
  readonly form = new InstancedBufferGeometry();
  readonly sheet = new InstancedBufferGeometry();
  readonly points: TexelTable<Float32Array>;
  uvs: TexelTable<Float32Array>;
  readonly faceShell: TexelTable<Uint32Array>;
  readonly faceMarks: TexelTable<Uint8Array>;
  readonly faceMaterial: TexelTable<Uint16Array>;
  shells: TexelTable<Uint8Array>;
  readonly stretches: TexelTable<Float32Array>;
  readonly places: TexelTable<Float32Array>;
  readonly slots: ReadonlyMap<ShapeId, ShapeSlot>;
  /** Every part of it is an instance. */
  readonly instanced: boolean;
  readonly wedge: BufferAttribute;
  /** Whether its corners are filled in; until then nothing of it is drawn. */
  ready = false;

  constructor(shapes: readonly DrawnShape[]) {
    this.instanced = shapes.length === 1;
    const slots = new Map<ShapeId, ShapeSlot>();
    let [corners, vertices, faces, wedges, shells, parts] = [0, 0, 0, 0, 0, 0];
    for (const shape of shapes) {
      const copies = this.instanced ? 1 : shape.parts.length;
      const bases = { corner: corners, vertex: vertices, face: faces, wedge: wedges, shell: shells, part: parts };
      slots.set(shape.id, new ShapeSlot(this, shape, bases, copies));
      corners += copies * trianglesOf(shape.mesh).corners.length;
      vertices += shape.mesh.positions.length / 3;
      faces += faceCount(shape.mesh);
      wedges += shape.wedges;
      shells += shape.shells;
      parts += shape.parts.length;
    }
    this.slots = slots;
    this.points = new TexelTable(POINT, vertices);
    this.uvs = new TexelTable(UV, wedges);
    this.shells = new TexelTable(COLOR, shells);
    this.faceShell = new TexelTable(INDEX, faces);
    this.faceMarks = new TexelTable(BYTE, faces);
    this.faceMaterial = new TexelTable(SHORT, faces);
    this.stretches = new TexelTable(NUMBER, corners / 3);
    this.stretches.data.fill(1);
    this.places = new TexelTable(POINT, PER_PART * parts);
    this.wedge = new BufferAttribute(new Uint32Array(corners), 1);
    this.setAttributes(corners, parts);
  }

  private setAttributes(corners: number, parts: number): void {
    const index = () => new BufferAttribute(new Uint32Array(corners), 1);
    const shared = {
      vertex: index(),
      face: index(),
      normal: new BufferAttribute(new Int8Array(4 * corners), 4, true),
      wedge: this.wedge,
    };
    const part = this.instanced
      ? new InstancedBufferAttribute(
          Uint32Array.from({ length: parts }, (_, i) => i),
          1,
        )
      : index();
    for (const geometry of [this.form, this.sheet]) {
      for (const [name, attribute] of Object.entries(shared)) geometry.setAttribute(name, attribute);
      geometry.setAttribute("part", part);
      geometry.setDrawRange(0, corners);
      geometry.instanceCount = 1;
    }
    if (this.instanced) this.form.instanceCount = parts;
  }

  private numbers(name: string): Uint32Array {
    return this.form.getAttribute(name).array as Uint32Array;
  }

  /** Fills in what its corners are, a stretch at a time: it yields between them. */
  *fill(): Generator<void> {
    for (const slot of this.slots.values()) {
      this.fillMesh(slot);
      yield;
      const { corners } = slot;
      const normal = this.form.getAttribute("normal").array as Int8Array;
      const first = normal.subarray(4 * slot.base.corner, 4 * (slot.base.corner + corners.length));
      yield* fillCornerNormals(slot.shape.mesh, corners, first);
      for (let copy = 0; copy < slot.copies; copy++) {
        yield* this.fillCopy(slot, copy);
        if (copy) normal.set(first, 4 * slot.cornerOf(copy));
      }
      yield;
    }
    this.ready = true;
  }

  private fillMesh({ shape: { mesh }, base }: ShapeSlot): void {
    const { positions } = mesh;
    const points = this.points.data;
    for (let v = 0; 3 * v < positions.length; v++) {
      const to = 4 * (base.vertex + v);
      points[to] = positions[3 * v]!;
      points[to + 1] = positions[3 * v + 1]!;
      points[to + 2] = positions[3 * v + 2]!;
    }
    const materials = this.faceMaterial.data;
    for (let f = 0; f < mesh.faceMaterial.length; f++) {
      const m = mesh.faceMaterial[f]!;
      materials[base.face + f] = m === NONE || m >= 0xffff ? 0 : m + 1;
    }
  }

  private *fillCopy(slot: ShapeSlot, copy: number): Generator<void> {
    const { corners, base } = slot;
    const { mesh } = slot.shape;
    const [vertex, face] = [this.numbers("vertex"), this.numbers("face")];
    const triangleFace = trianglesOf(mesh).face;
    const at = slot.cornerOf(copy);
    for (let k = 0; k < corners.length; k++) {
      vertex[at + k] = base.vertex + mesh.cornerVertex[corners[k]!]!;
      face[at + k] = base.face + triangleFace[(k / 3) | 0]!;
      if (k % STRETCH === STRETCH - 1) yield;
    }
    if (!this.instanced) this.numbers("part").fill(base.part + copy, at, at + corners.length);
  }

  /** Puts parts where they are, and shows those that are not hidden; Sheet shows a shape when any part of it is shown. */
  /** @param picture the layer of the picture that lies on a part alone; 0 for none */
  setParts(
    id: ShapeId,
    parts: readonly DrawnPart[],
    hidden: ReadonlySet<PartId>,
    picture: (part: PartId) => number = () => 0,
  ): void {
    const { base } = this.slots.get(id)!;
    const { data } = this.places;
    const any = parts.some((p) => !hidden.has(p.id));
    parts.forEach(({ id: part, transform: m, firstFace }, i) => {
      const at = 4 * PER_PART * (base.part + i);
      for (let row = 0; row < 3; row++)
        for (let column = 0; column < 4; column++) data[at + 4 * row + column] = m[4 * column + row]!;
      data[at + 12] = hidden.has(part) ? 0 : 1;
      data[at + 13] = i === 0 && any ? 1 : 0;
      data[at + 14] = firstFace - base.face;
      data[at + 15] = picture(part);
    });
    this.places.touch(PER_PART * base.part, PER_PART * (base.part + parts.length));
  }

  /** Makes room for more wedges; only a shape that has the chunk to itself ever needs more than it has. */
  reserve(wedges: number, shells: number): void {
    if (this.uvs.room < wedges) {
      this.uvs.dispose();
      this.uvs = new TexelTable(UV, wedges);
    }
    if (this.shells.room < shells) {
      this.shells.dispose();
      this.shells = new TexelTable(COLOR, shells);
    }
  }

  get tables(): ReadonlyArray<TexelTable<Float32Array | Uint32Array | Uint16Array | Uint8Array>> {
    const { points, uvs, faceShell, faceMarks, faceMaterial, shells, stretches, places } = this;
    return [points, uvs, faceShell, faceMarks, faceMaterial, shells, stretches, places];
  }

  /** What its shaders look up. */
  get uniforms(): Readonly<Record<string, unknown>> {
    const { points, uvs, faceShell, faceMarks, faceMaterial, shells, stretches, places } = this;
    return {
      points: points.texture,
      uvs: uvs.texture,
      faceShell: faceShell.texture,
      faceMarks: faceMarks.texture,
      faceMaterial: faceMaterial.texture,
      shells: shells.texture,
      stretches: stretches.texture,
      places: places.texture,
    };
  }

  /** Bytes that it takes on the graphics card. */
  bytes(): number {
    let sum = 0;
    for (const attribute of Object.values(this.form.attributes)) sum += attribute.array.byteLength;
    for (const table of this.tables) sum += table.data.byteLength;
    return sum;
  }

  dispose(): void {
    this.form.dispose();
    this.sheet.dispose();
    for (const table of this.tables) table.dispose();
  }
}
