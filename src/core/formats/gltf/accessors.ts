import { UserError } from "../../layout/user-error";
import type { AccessorJson, GltfDocument } from "./document";

const SIZES = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 } as const;

/** Component types of glTF: bytes, how one is read, and what a normalised one is divided by. */
const COMPONENTS: Record<number, { bytes: number; read: (v: DataView, at: number) => number; most: number }> = {
  5120: { bytes: 1, read: (v, at) => v.getInt8(at), most: 127 },
  5121: { bytes: 1, read: (v, at) => v.getUint8(at), most: 255 },
  5122: { bytes: 2, read: (v, at) => v.getInt16(at, true), most: 32767 },
  5123: { bytes: 2, read: (v, at) => v.getUint16(at, true), most: 65535 },
  5125: { bytes: 4, read: (v, at) => v.getUint32(at, true), most: 4294967295 },
  5126: { bytes: 4, read: (v, at) => v.getFloat32(at, true), most: 1 },
};

export const componentBytes = (type: number): number => COMPONENTS[type]?.bytes ?? 0;
export const elementSize = (a: AccessorJson): number => SIZES[a.type];
/** Bytes of one element without padding. */
export const elementBytes = (a: AccessorJson): number => componentBytes(a.componentType) * elementSize(a);

export function accessorAt(doc: GltfDocument, index: number): AccessorJson {
  const accessor = doc.json.accessors?.[index];
  if (!accessor) throw new UserError(`${doc.name} is damaged: it refers to accessor ${index}, which is not there.`);
  if (!COMPONENTS[accessor.componentType])
    throw new UserError(`${doc.name} is damaged: accessor ${index} has the unknown type ${accessor.componentType}.`);
  return accessor;
}

/** Bytes of an accessor's elements and the distance between them, checked to lie in the file. */
function elements(doc: GltfDocument, index: number): { view: DataView; stride: number } | null {
  const a = accessorAt(doc, index);
  if (a.bufferView === undefined) return null;
  const bytes = doc.views[a.bufferView];
  const size = elementBytes(a);
  const stride = doc.json.bufferViews?.[a.bufferView]?.byteStride ?? size;
  const start = a.byteOffset ?? 0;
  if (!bytes || start > bytes.length || (a.count && start + stride * (a.count - 1) + size > bytes.length))
    throw new UserError(`${doc.name} is damaged: accessor ${index} lies outside its buffer view.`);
  // A stride shorter than an element would let a few bytes stand for any count.
  if (stride < size) throw new UserError(`${doc.name} is damaged: the elements of accessor ${index} overlap.`);
  return { view: new DataView(bytes.buffer, bytes.byteOffset + start, bytes.length - start), stride };
}

/**
 * Elements of an accessor, checked to be there before anything is made for them. Those without a buffer view are all
 * zero but for sparse ones; together they may be as many as the file has bytes.
 *
 * @throws UserError when the file is too small for its count
 */
export function elementCount(doc: GltfDocument, index: number): number {
  const a = accessorAt(doc, index);
  if (elements(doc, index)) return a.count;
  let empty = 0;
  for (const other of doc.json.accessors ?? []) if (other.bufferView === undefined) empty += other.count;
  const bytes = doc.views.reduce((n, v) => n + v.length, 0);
  if (empty > bytes) throw new UserError(`${doc.name} is damaged: accessor ${index} has no bytes.`);
  return a.count;
}

/**
 * Numbers of an accessor, normalised ones divided, sparse ones put in.
 *
 * @returns components x count
 */
export function readNumbers(doc: GltfDocument, index: number, components: number): Float32Array | Float64Array {
  const a = accessorAt(doc, index);
  const size = elementSize(a);
  if (size !== components)
    throw new UserError(`${doc.name} is damaged: accessor ${index} is ${a.type} where ${components} numbers belong.`);
  const { read, bytes, most } = COMPONENTS[a.componentType]!;
  const source = elements(doc, index);
  elementCount(doc, index);
  // Whole numbers up to 32 bits need double precision; everything else fits single.
  const out = a.componentType === 5125 ? new Float64Array(size * a.count) : new Float32Array(size * a.count);
  if (source) {
    const { view, stride } = source;
    if (a.componentType === 5126 && stride === 4 * size && view.byteOffset % 4 === 0)
      out.set(new Float32Array(view.buffer, view.byteOffset, size * a.count));
    else
      for (let i = 0; i < a.count; i++)
        for (let d = 0; d < size; d++) out[size * i + d] = read(view, stride * i + bytes * d);
  }
  if (a.sparse) putSparse(doc, index, a, out);
  if (a.normalized && most > 1) for (let i = 0; i < out.length; i++) out[i] = Math.max(-1, out[i]! / most);
  return out;
}

function putSparse(doc: GltfDocument, index: number, a: AccessorJson, out: Float32Array | Float64Array): void {
  const { count, indices, values } = a.sparse!;
  const size = elementSize(a);
  const damaged = new UserError(`${doc.name} is damaged: the sparse part of accessor ${index} lies outside its bytes.`);
  const where = doc.views[indices.bufferView];
  const what = doc.views[values.bufferView];
  const kind = COMPONENTS[indices.componentType];
  if (!where || !what || !kind || count > a.count) throw damaged;
  const [w0, v0] = [indices.byteOffset ?? 0, values.byteOffset ?? 0];
  if (w0 + count * kind.bytes > where.length || v0 + count * elementBytes(a) > what.length) throw damaged;
  const w = new DataView(where.buffer, where.byteOffset + w0);
  const v = new DataView(what.buffer, what.byteOffset + v0);
  const { read, bytes } = COMPONENTS[a.componentType]!;
  for (let i = 0; i < count; i++) {
    const at = kind.read(w, kind.bytes * i);
    if (at >= a.count) throw damaged;
    for (let d = 0; d < size; d++) out[size * at + d] = read(v, bytes * (size * i + d));
  }
}

/** Whole numbers of an accessor, as indices are. */
export function readIndices(doc: GltfDocument, index: number): Uint32Array {
  const a = accessorAt(doc, index);
  if (a.type !== "SCALAR" || ![5121, 5123, 5125].includes(a.componentType))
    throw new UserError(`${doc.name} is damaged: accessor ${index} holds no indices.`);
  const source = elements(doc, index);
  if (!source) throw new UserError(`${doc.name} is damaged: accessor ${index} has no bytes.`);
  const { view, stride } = source;
  const out = new Uint32Array(a.count);
  const { read } = COMPONENTS[a.componentType]!;
  for (let i = 0; i < a.count; i++) out[i] = read(view, stride * i);
  return out;
}

/** The elements of an accessor as they stand, tightly packed; sparse values put in. */
export function rawElements(doc: GltfDocument, index: number): Uint8Array {
  const a = accessorAt(doc, index);
  const size = elementBytes(a);
  const source = elements(doc, index);
  const out = new Uint8Array(size * elementCount(doc, index));
  if (source) {
    const bytes = new Uint8Array(source.view.buffer, source.view.byteOffset);
    for (let i = 0; i < a.count; i++) out.set(bytes.subarray(source.stride * i, source.stride * i + size), size * i);
  }
  if (!a.sparse) return out;
  const where = doc.views[a.sparse.indices.bufferView]!;
  const what = doc.views[a.sparse.values.bufferView]!;
  const kind = COMPONENTS[a.sparse.indices.componentType]!;
  const w = new DataView(where.buffer, where.byteOffset + (a.sparse.indices.byteOffset ?? 0));
  const v0 = a.sparse.values.byteOffset ?? 0;
  for (let i = 0; i < a.sparse.count; i++)
    out.set(what.subarray(v0 + size * i, v0 + size * (i + 1)), size * kind.read(w, kind.bytes * i));
  return out;
}
