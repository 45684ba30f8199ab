import type { AccessorJson, GltfJson } from "./document";

const VERTICES = 34962;
const INDICES = 34963;

/** Adds accessors and bytes to a glTF's JSON, and writes both as GLB. */
export class GlbBuilder {
  private readonly pieces: Uint8Array[] = [];
  private size = 0;

  constructor(readonly json: GltfJson) {}

  /** Appends bytes on a multiple of eight; returns where they begin. */
  append(bytes: Uint8Array): number {
    const at = this.size;
    const gap = (8 - (bytes.length % 8)) % 8;
    this.pieces.push(bytes, new Uint8Array(gap));
    this.size += bytes.length + gap;
    return at;
  }

  view(bytes: Uint8Array, extra: { byteStride?: number; target?: number } = {}): number {
    this.json.bufferViews ??= [];
    const view = { buffer: 0, byteOffset: this.append(bytes), byteLength: bytes.length, ...extra };
    return this.json.bufferViews.push(view) - 1;
  }

  accessor(view: number, rest: Omit<AccessorJson, "bufferView"> & Record<string, unknown>): number {
    this.json.accessors ??= [];
    return this.json.accessors.push({ bufferView: view, ...rest } as AccessorJson) - 1;
  }

  /** Elements of a vertex attribute as they stand elsewhere, each padded to a multiple of four bytes. */
  attribute(elements: Uint8Array, elementBytes: number, like: AccessorJson & Record<string, unknown>): number {
    const stride = (elementBytes + 3) & ~3;
    const count = elements.length / elementBytes;
    let bytes = elements;
    if (stride !== elementBytes) {
      bytes = new Uint8Array(stride * count);
      for (let i = 0; i < count; i++)
        bytes.set(elements.subarray(elementBytes * i, elementBytes * (i + 1)), stride * i);
    }
    const { bufferView: _, byteOffset: _offset, sparse: _sparse, ...rest } = like;
    // What was unpacked may lie a little beside the bounds the file tells of.
    const bounds = like.min && like.componentType === 5126 ? floatBounds(elements, elementBytes / 4) : {};
    return this.accessor(this.view(bytes, { byteStride: stride, target: VERTICES }), { ...rest, count, ...bounds });
  }

  floats(values: Float32Array, type: "VEC2" | "VEC3", bounds = false): number {
    const size = type === "VEC2" ? 2 : 3;
    const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
    return this.accessor(this.view(bytes, { byteStride: 4 * size, target: VERTICES }), {
      componentType: 5126,
      count: values.length / size,
      type,
      ...(bounds ? boundsOf(values, size) : {}),
    });
  }

  indices(values: Uint32Array, vertices: number): number {
    const small = vertices <= 65535;
    const array = small ? Uint16Array.from(values) : values;
    const bytes = new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
    return this.accessor(this.view(bytes, { target: INDICES }), {
      componentType: small ? 5123 : 5125,
      count: values.length,
      type: "SCALAR",
    });
  }

  /** The whole as GLB. */
  finish(): Uint8Array {
    this.json.buffers = [{ byteLength: this.size }];
    const text = new TextEncoder().encode(JSON.stringify(this.json));
    const textSize = (text.length + 3) & ~3;
    const out = new Uint8Array(12 + 8 + textSize + 8 + this.size);
    const view = new DataView(out.buffer);
    view.setUint32(0, 0x46546c67, true);
    view.setUint32(4, 2, true);
    view.setUint32(8, out.length, true);
    view.setUint32(12, textSize, true);
    view.setUint32(16, 0x4e4f534a, true);
    out.fill(0x20, 20, 20 + textSize);
    out.set(text, 20);
    view.setUint32(20 + textSize, this.size, true);
    view.setUint32(24 + textSize, 0x004e4942, true);
    let at = 28 + textSize;
    for (const piece of this.pieces) {
      out.set(piece, at);
      at += piece.length;
    }
    return out;
  }
}

const floatBounds = (bytes: Uint8Array, size: number) => boundsOf(new Float32Array(bytes.slice().buffer), size);

function boundsOf(values: Float32Array, size: number): { min: number[]; max: number[] } {
  const min = new Array<number>(size).fill(Infinity);
  const max = new Array<number>(size).fill(-Infinity);
  for (let i = 0; i < values.length; i++) {
    min[i % size] = Math.min(min[i % size]!, values[i]!);
    max[i % size] = Math.max(max[i % size]!, values[i]!);
  }
  return { min, max };
}
