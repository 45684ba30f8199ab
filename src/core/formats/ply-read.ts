import { type Asset, fileKey } from "../layout/asset";
import { layoutFromCorners } from "../layout/layout";
import { newAsset } from "../layout/new-asset";
import { UserError } from "../layout/user-error";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { pickPoints, weldExact } from "../mesh/weld-exact";
import { GrowableArray } from "../numeric/growable-array";
import { iota } from "../numeric/iota";
import { baseName, idAndUnit, type ReadOptions, stem } from "./read-options";

type Kind = "i1" | "u1" | "i2" | "u2" | "i4" | "u4" | "f4" | "f8";
const KINDS: ReadonlyMap<string | undefined, Kind> = new Map(
  Object.entries({
    char: "i1",
    int8: "i1",
    uchar: "u1",
    uint8: "u1",
    short: "i2",
    int16: "i2",
    ushort: "u2",
    uint16: "u2",
    int: "i4",
    int32: "i4",
    uint: "u4",
    uint32: "u4",
    float: "f4",
    float32: "f4",
    double: "f8",
    float64: "f8",
  } satisfies Record<string, Kind>),
);
const SIZE: Record<Kind, number> = { i1: 1, u1: 1, i2: 2, u2: 2, i4: 4, u4: 4, f4: 4, f8: 8 };

interface Property {
  readonly name: string;
  readonly kind: Kind;
  /** Kind of the count that stands before a list. */
  readonly list?: Kind;
}
interface Element {
  readonly name: string;
  readonly count: number;
  readonly properties: Property[];
}
interface Header {
  readonly format: "ascii" | "little" | "big";
  readonly elements: Element[];
  readonly start: number;
}

function readHeader(bytes: Uint8Array, name: string): Header {
  const bad = (why: string) => new UserError(`${name} is not a PLY file that can be read: ${why}.`);
  const elements: Element[] = [];
  let format: Header["format"] | undefined;
  let at = 0;
  for (let line = 0; ; line++) {
    let end = at;
    while (end < bytes.length && bytes[end] !== 10 && bytes[end] !== 13) end++;
    if (end >= bytes.length || line > 10_000) throw bad("its header does not end");
    const words = new TextDecoder("latin1").decode(bytes.subarray(at, end)).trim().split(/\s+/);
    at = end + (bytes[end] === 13 && bytes[end + 1] === 10 ? 2 : 1);
    if (line === 0 && words[0] !== "ply") throw bad("it does not begin with “ply”");
    if (words[0] === "format") {
      format = ({ ascii: "ascii", binary_little_endian: "little", binary_big_endian: "big" } as const)[words[1]!];
      if (!format) throw bad(`the format ${words[1]} is not known`);
    } else if (words[0] === "element") {
      const count = Number(words[2]);
      if (!Number.isInteger(count) || count < 0) throw bad(`element ${words[1]} has no proper count`);
      if (elements.some((e) => e.name === words[1])) throw bad(`the element ${words[1]} stands there twice`);
      elements.push({ name: words[1]!, count, properties: [] });
    } else if (words[0] === "property") {
      const list = words[1] === "list";
      const kind = KINDS.get(words[list ? 3 : 1]);
      const countKind = list ? KINDS.get(words[2]) : undefined;
      if (!kind || (list && !countKind) || !elements.length)
        throw bad(`the property ${words.at(-1)} has no known type`);
      elements.at(-1)!.properties.push({ name: words.at(-1)!, kind, ...(countKind ? { list: countKind } : {}) });
    } else if (words[0] === "end_header") break;
  }
  if (!format) throw bad("it names no format");
  return { format, elements, start: at };
}

/** Takes one number after another from the body, whatever the format. */
interface Source {
  number(kind: Kind): number;
  at(): number;
  /** Columns of an element without lists, at once; only a binary file has places to find them at. */
  fixed?(element: Element, columns: readonly number[]): Float64Array[];
  /** A whole list at once, put behind what is there; returns how many. */
  list(property: Property, into: GrowableArray): number;
}

function textSource(bytes: Uint8Array, start: number, name: string): Source {
  let at = start;
  const decoder = new TextDecoder("latin1");
  return {
    at: () => at,
    list(property, into) {
      const count = this.number(property.list!);
      if (!(count >= 0 && Number.isInteger(count))) throw new UserError(`${name} has a list of ${count} entries.`);
      for (let k = 0; k < count; k++) into.add(this.number(property.kind));
      return count;
    },
    number() {
      while (at < bytes.length && bytes[at]! <= 32) at++;
      const from = at;
      while (at < bytes.length && bytes[at]! > 32) at++;
      if (from === at) throw new UserError(`${name} ends too early.`);
      const value = shortNumber(bytes, from, at);
      if (!Number.isNaN(value)) return value;
      const text = decoder.decode(bytes.subarray(from, at));
      const slow = Number(text);
      if (!Number.isFinite(slow)) throw new UserError(`${name} has “${text.slice(0, 24)}” where a number belongs.`);
      return slow;
    },
  };
}

const POWERS = Float64Array.from({ length: 16 }, (_, i) => 10 ** i);

/** A plain decimal of at most 15 digits, read exactly; NaN for anything else. */
function shortNumber(bytes: Uint8Array, from: number, to: number): number {
  let i = from;
  const negative = bytes[i] === 45;
  if (negative || bytes[i] === 43) i++;
  if (to - i > 16 || i >= to) return Number.NaN;
  let mantissa = 0;
  let point = -1;
  let digits = 0;
  for (; i < to; i++) {
    const c = bytes[i]!;
    if (c === 46 && point < 0) point = i;
    else if (c >= 48 && c <= 57) {
      mantissa = mantissa * 10 + c - 48;
      digits++;
    } else return Number.NaN;
  }
  if (!digits || digits > 15) return Number.NaN;
  const value = point < 0 ? mantissa : mantissa / POWERS[to - point - 1]!;
  return negative ? -value : value;
}

const READ: Record<Kind, (view: DataView, at: number, little: boolean) => number> = {
  i1: (v, at) => v.getInt8(at),
  u1: (v, at) => v.getUint8(at),
  i2: (v, at, little) => v.getInt16(at, little),
  u2: (v, at, little) => v.getUint16(at, little),
  i4: (v, at, little) => v.getInt32(at, little),
  u4: (v, at, little) => v.getUint32(at, little),
  f4: (v, at, little) => v.getFloat32(at, little),
  f8: (v, at, little) => v.getFloat64(at, little),
};

function binarySource(bytes: Uint8Array, start: number, little: boolean, name: string): Source {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = start;
  const short = () => new UserError(`${name} ends too early.`);
  return {
    at: () => at,
    number(kind) {
      const from = at;
      at += SIZE[kind];
      if (at > bytes.length) throw short();
      if (kind === "u4") return view.getUint32(from, little);
      if (kind === "f8") return view.getFloat64(from, little);
      if (kind === "u1") return view.getUint8(from);
      if (kind === "i4") return view.getInt32(from, little);
      return READ[kind](view, from, little);
    },
    list(property, into) {
      const count = this.number(property.list!);
      const { kind } = property;
      const end = at + count * SIZE[kind];
      if (!(count >= 0 && end <= bytes.length)) throw short();
      into.reserve(count);
      const { data } = into;
      let to = into.length;
      if (kind === "i4") for (; at < end; at += 4) data[to++] = view.getInt32(at, little);
      else if (kind === "u4") for (; at < end; at += 4) data[to++] = view.getUint32(at, little);
      else if (kind === "f8") for (; at < end; at += 8) data[to++] = view.getFloat64(at, little);
      else if (kind === "f4") for (; at < end; at += 4) data[to++] = view.getFloat32(at, little);
      else for (; at < end; at += SIZE[kind]) data[to++] = READ[kind](view, at, little);
      into.length = to;
      return count;
    },
    fixed(element, columns) {
      const size = element.properties.reduce((n, p) => n + SIZE[p.kind], 0) * element.count;
      if (at + size > bytes.length) throw short();
      const out = readFixedVertices(view, at, little, element, columns);
      at += size;
      return out;
    },
  };
}

interface Body {
  positions: Float64Array;
  vertexUv: Float64Array | null;
  faceStart: GrowableArray;
  corners: GrowableArray;
  cornerUv: GrowableArray;
}

const U_NAMES = ["s", "u", "texture_u", "s0"];
const V_NAMES = ["t", "v", "texture_v", "t0"];

/** Vertices of a binary file without lists all have one size: their columns are read where they stand. */
function readFixedVertices(
  view: DataView,
  start: number,
  little: boolean,
  element: Element,
  columns: readonly number[],
): Float64Array[] {
  const offsets: number[] = [];
  let stride = 0;
  for (const p of element.properties) {
    offsets.push(stride);
    stride += SIZE[p.kind];
  }
  return columns.map((column) => {
    const out = new Float64Array(element.count);
    const { kind } = element.properties[column]!;
    let at = start + offsets[column]!;
    if (kind === "f4") for (let i = 0; i < out.length; i++, at += stride) out[i] = view.getFloat32(at, little);
    else if (kind === "f8") for (let i = 0; i < out.length; i++, at += stride) out[i] = view.getFloat64(at, little);
    else {
      const read = READ[kind];
      for (let i = 0; i < out.length; i++, at += stride) out[i] = read(view, at, little);
    }
    return out;
  });
}

function readVertices(source: Source, element: Element, body: Body, name: string, tell: () => void): void {
  const column = (names: readonly string[]) => element.properties.findIndex((p) => names.includes(p.name));
  const [x, y, z] = [column(["x"]), column(["y"]), column(["z"])];
  if (x < 0 || y < 0 || z < 0) throw new UserError(`${name} has vertices without x, y and z.`);
  const [u, v] = [column(U_NAMES), column(V_NAMES)];
  body.positions = new Float64Array(3 * element.count);
  if (u >= 0 && v >= 0) body.vertexUv = new Float64Array(2 * element.count);
  if (source.fixed && element.properties.every((p) => !p.list)) {
    const columns = source.fixed(element, body.vertexUv ? [x, y, z, u, v] : [x, y, z]);
    for (let i = 0; i < element.count; i++) {
      for (let d = 0; d < 3; d++) body.positions[3 * i + d] = columns[d]![i]!;
      if (!Number.isFinite(columns[0]![i]! + columns[1]![i]! + columns[2]![i]!))
        throw new UserError(`${name}: vertex ${i} has no finite position.`);
      if (body.vertexUv) for (let d = 0; d < 2; d++) body.vertexUv[2 * i + d] = columns[3 + d]![i]!;
    }
    return;
  }
  const row = new Float64Array(element.properties.length);
  for (let i = 0; i < element.count; i++) {
    if ((i & 0xffff) === 0) tell();
    for (let p = 0; p < row.length; p++) {
      const property = element.properties[p]!;
      if (property.list) skipList(source, property);
      else row[p] = source.number(property.kind);
    }
    body.positions[3 * i] = row[x]!;
    body.positions[3 * i + 1] = row[y]!;
    body.positions[3 * i + 2] = row[z]!;
    if (!Number.isFinite(row[x]! + row[y]! + row[z]!))
      throw new UserError(`${name}: vertex ${i} has no finite position.`);
    if (body.vertexUv) {
      body.vertexUv[2 * i] = row[u]!;
      body.vertexUv[2 * i + 1] = row[v]!;
    }
  }
}

/** Bytes that one binary record takes at least: its numbers, and the counts of its lists. */
const leastSize = (element: Element): number => element.properties.reduce((n, p) => n + SIZE[p.list ?? p.kind], 0);

function skipList(source: Source, property: Property): void {
  const count = source.number(property.list!);
  for (let k = 0; k < count; k++) source.number(property.kind);
}

function readFaces(source: Source, element: Element, body: Body, name: string, tell: () => void): void {
  const vertices = body.positions.length / 3;
  for (let f = 0; f < element.count; f++) {
    if ((f & 0xffff) === 0) tell();
    const start = body.corners.length;
    let uvs = 0;
    for (const property of element.properties) {
      if (property.name === "vertex_indices" || property.name === "vertex_index") {
        const count = property.list ? source.list(property, body.corners) : 0;
        if (count < 3) throw new UserError(`${name}: face ${f} has fewer than three corners.`);
        const { data, length } = body.corners;
        for (let k = length - count; k < length; k++) {
          const v = data[k]!;
          if (!(v >= 0 && v < vertices && Number.isInteger(v)))
            throw new UserError(`${name}: face ${f} names vertex ${v} of ${vertices}.`);
        }
      } else if (property.name === "texcoord" && property.list) {
        uvs = source.list(property, body.cornerUv);
      } else if (property.list) skipList(source, property);
      else source.number(property.kind);
    }
    const corners = body.corners.length - start;
    if (!corners) throw new UserError(`${name} has faces without a list of vertices.`);
    // A face without a whole list of coordinates has none.
    if (uvs !== 2 * corners) {
      body.cornerUv.length -= uvs;
      for (let k = 0; k < 2 * corners; k++) body.cornerUv.add(Number.NaN);
    }
    body.faceStart.add(body.corners.length);
  }
}

/**
 * Reads a PLY file: ASCII and binary in both orders, polygons, coordinates per vertex (s t, u v) or per corner
 * (a texcoord list). A file with coordinates per vertex has its vertices split along seams: those at exactly the same
 * position are one.
 *
 * @throws UserError with the reason
 */
export function readPly(bytes: Uint8Array, options: ReadOptions): Asset {
  const { name } = options;
  if (!bytes.length) throw new UserError(`${name} is empty.`);
  const header = readHeader(bytes, name);
  const source =
    header.format === "ascii"
      ? textSource(bytes, header.start, name)
      : binarySource(bytes, header.start, header.format === "little", name);
  const body: Body = {
    positions: new Float64Array(0),
    vertexUv: null,
    faceStart: new GrowableArray().add(0),
    corners: new GrowableArray(),
    cornerUv: new GrowableArray(),
  };
  const tell = () => options.progress?.(source.at() / bytes.length);
  for (const element of header.elements) {
    // Every number takes a byte or more: a count beyond that is a broken header, not a reason to take the memory.
    const least = element.properties.length && header.format !== "ascii" ? leastSize(element) : 1;
    if (element.count * least > bytes.length - source.at() + 1) throw new UserError(`${name} ends too early.`);
    if (element.name === "vertex") readVertices(source, element, body, name, tell);
    else if (element.name === "face") readFaces(source, element, body, name, tell);
    else
      for (let i = 0; i < element.count; i++)
        for (const p of element.properties) {
          if (p.list) skipList(source, p);
          else source.number(p.kind);
        }
  }
  if (body.faceStart.length < 2) throw new UserError(`${name} holds no faces.`);
  return assetOf(bytes, options, body);
}

function assetOf(bytes: Uint8Array, options: ReadOptions, body: Body): Asset {
  const faces = body.faceStart.length - 1;
  const cornerUv = body.cornerUv.data.slice(0, body.cornerUv.length);
  let cornerVertex: Uint32Array = new Uint32Array(body.corners.data.subarray(0, body.corners.length));
  let { positions } = body;
  if (body.vertexUv) {
    cornerVertex.forEach((v, c) => {
      cornerUv[2 * c] = body.vertexUv![2 * v]!;
      cornerUv[2 * c + 1] = body.vertexUv![2 * v + 1]!;
    });
    const { of, count } = weldExact(positions);
    positions = pickPoints(positions, of, count);
    cornerVertex = cornerVertex.map((v) => of[v]!);
  }
  const mesh: PolyMesh = {
    positions,
    faceStart: Uint32Array.from(body.faceStart.data.subarray(0, faces + 1)),
    cornerVertex,
    faceMaterial: new Uint32Array(faces).fill(NONE),
    faceGroup: new Uint32Array(faces).fill(NONE),
    groups: [],
    origin: {
      vertex: iota(positions.length / 3),
      face: iota(faces),
    },
  };
  const any = cornerUv.some(Number.isFinite);
  const key = fileKey(bytes);
  const layouts = [any ? layoutFromCorners(mesh, cornerUv) : undefined];
  const name = stem(options.name);
  const source = { name: baseName(options.name), format: "ply" as const, key };
  return newAsset({ ...idAndUnit(options), name, source, files: { [key]: bytes } }, [
    { id: "p1", name, sourceIndex: 0, mesh, layouts },
  ]);
}
