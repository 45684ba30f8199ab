import { UserError } from "../../layout/user-error";
import { iota } from "../../numeric/iota";
import { accessorAt, elementCount, readIndices, readNumbers } from "./accessors";
import type { GltfDocument, PrimitiveJson } from "./document";
import type { Unpacked } from "./draco";

const TRIANGLES = 4;
const STRIP = 5;
const FAN = 6;

/** Whether a primitive is made of triangles; points and lines are left to the file. */
export const isSurface = (p: PrimitiveJson): boolean =>
  [TRIANGLES, STRIP, FAN].includes(p.mode ?? TRIANGLES) && p.attributes.POSITION !== undefined;

/** Reads primitives, whether compressed or not. */
export class Surfaces {
  constructor(
    readonly doc: GltfDocument,
    readonly unpacked: ReadonlyMap<PrimitiveJson, Unpacked>,
  ) {}

  /** @throws UserError when the file is too small for the count it gives */
  vertexCount(p: PrimitiveJson): number {
    const index = p.attributes.POSITION!;
    // The count of compressed primitives was checked against their unpacked bytes.
    return this.unpacked.get(p)?.attributes.has("POSITION")
      ? accessorAt(this.doc, index).count
      : elementCount(this.doc, index);
  }

  /** An attribute's numbers; null where the primitive has none of that name. */
  numbers(p: PrimitiveJson, semantic: string, components: number): Float32Array | Float64Array | null {
    const index = p.attributes[semantic];
    if (index === undefined) return null;
    const bytes = this.unpacked.get(p)?.attributes.get(semantic);
    if (!bytes) return readNumbers(this.doc, index, components);
    // The same accessor over the bytes that were unpacked.
    const { sparse: _, ...plain } = accessorAt(this.doc, index);
    const json = { ...this.doc.json, accessors: [{ ...plain, bufferView: 0, byteOffset: 0 }], bufferViews: [] };
    return readNumbers({ ...this.doc, json, views: [bytes] }, 0, components);
  }

  /** Vertices of the primitive's triangles, 3 each, strips and fans taken apart. */
  triangles(p: PrimitiveJson): Uint32Array {
    const count = this.vertexCount(p);
    const packed = this.unpacked.get(p);
    const list = packed ? packed.indices : p.indices !== undefined ? readIndices(this.doc, p.indices) : iota(count);
    for (let i = 0; i < list.length; i++)
      if (list[i]! >= count)
        throw new UserError(`${this.doc.name} names vertex ${list[i]} of ${count} in a primitive.`);
    const mode = p.mode ?? TRIANGLES;
    if (mode === TRIANGLES || packed) return list.subarray(0, list.length - (list.length % 3));
    const out = new Uint32Array(3 * Math.max(0, list.length - 2));
    for (let i = 2; i < list.length; i++) {
      const [a, b] = mode === FAN ? [0, i - 1] : [i - 2 + (i % 2), i - 1 - (i % 2)];
      out.set([list[a]!, list[b]!, list[i]!], 3 * (i - 2));
    }
    return out;
  }
}
