import { z } from "zod";
import { UserError } from "../../layout/user-error";
import { type FileIn, findBeside, type ReadOptions } from "../read-options";
import { decodeMeshopt } from "./meshopt";

// glTF 2.0 (Khronos Group, 2021) as its JSON and its bytes. The JSON is kept whole, what is not known included, so that
// a file can be written back with nothing changed but what was meant to be.

const Index = z.number().int().min(0);
const Extensions = z.record(z.string(), z.unknown()).optional();

const TextureInfo = z.looseObject({ index: Index, texCoord: Index.optional() });
const PrimitiveJson = z.looseObject({
  attributes: z.record(z.string(), Index),
  indices: Index.optional(),
  material: Index.optional(),
  mode: z.number().int().min(0).max(6).optional(),
  targets: z.array(z.record(z.string(), Index)).optional(),
  extensions: Extensions,
});
const AccessorJson = z.looseObject({
  bufferView: Index.optional(),
  byteOffset: Index.optional(),
  componentType: z.number().int(),
  normalized: z.boolean().optional(),
  count: Index,
  type: z.enum(["SCALAR", "VEC2", "VEC3", "VEC4", "MAT2", "MAT3", "MAT4"]),
  sparse: z
    .looseObject({
      count: Index,
      indices: z.looseObject({ bufferView: Index, byteOffset: Index.optional(), componentType: z.number().int() }),
      values: z.looseObject({ bufferView: Index, byteOffset: Index.optional() }),
    })
    .optional(),
});
const BufferViewJson = z.looseObject({
  buffer: Index,
  byteOffset: Index.optional(),
  byteLength: Index,
  byteStride: Index.optional(),
  extensions: Extensions,
});
const NodeJson = z.looseObject({
  name: z.string().optional(),
  mesh: Index.optional(),
  children: z.array(Index).optional(),
  matrix: z.array(z.number()).length(16).optional(),
  translation: z.array(z.number()).length(3).optional(),
  rotation: z.array(z.number()).length(4).optional(),
  scale: z.array(z.number()).length(3).optional(),
  skin: Index.optional(),
});

export const GltfJson = z.looseObject({
  asset: z.looseObject({ version: z.string() }),
  scene: Index.optional(),
  scenes: z.array(z.looseObject({ nodes: z.array(Index).optional() })).optional(),
  nodes: z.array(NodeJson).optional(),
  meshes: z.array(z.looseObject({ name: z.string().optional(), primitives: z.array(PrimitiveJson) })).optional(),
  accessors: z.array(AccessorJson).optional(),
  bufferViews: z.array(BufferViewJson).optional(),
  buffers: z.array(z.looseObject({ uri: z.string().optional(), byteLength: Index, extensions: Extensions })).optional(),
  materials: z
    .array(
      z.looseObject({
        name: z.string().optional(),
        pbrMetallicRoughness: z
          .looseObject({
            baseColorFactor: z.array(z.number()).length(4).optional(),
            baseColorTexture: TextureInfo.optional(),
            metallicRoughnessTexture: TextureInfo.optional(),
          })
          .optional(),
        normalTexture: TextureInfo.optional(),
        occlusionTexture: TextureInfo.optional(),
        emissiveTexture: TextureInfo.optional(),
      }),
    )
    .optional(),
  textures: z.array(z.looseObject({ source: Index.optional(), extensions: Extensions })).optional(),
  images: z
    .array(
      z.looseObject({
        uri: z.string().optional(),
        bufferView: Index.optional(),
        mimeType: z.string().optional(),
        name: z.string().optional(),
      }),
    )
    .optional(),
  animations: z.array(z.looseObject({ channels: z.array(z.unknown()).optional() })).optional(),
  extensionsUsed: z.array(z.string()).optional(),
  extensionsRequired: z.array(z.string()).optional(),
});
export type GltfJson = z.infer<typeof GltfJson>;
export type PrimitiveJson = z.infer<typeof PrimitiveJson>;
export type AccessorJson = z.infer<typeof AccessorJson>;
export type NodeJson = z.infer<typeof NodeJson>;

/** A file's JSON, and the bytes of its buffer views, unpacked where they were compressed. */
export interface GltfDocument {
  readonly name: string;
  readonly json: GltfJson;
  readonly views: readonly Uint8Array[];
  /** Views that were compressed in the file. */
  readonly unpacked: ReadonlySet<number>;
}

const KNOWN_EXTENSIONS = new Set([
  "KHR_draco_mesh_compression",
  "EXT_meshopt_compression",
  "KHR_mesh_quantization",
  "KHR_texture_transform",
  "KHR_texture_basisu",
  "EXT_texture_webp",
  "EXT_texture_avif",
  "KHR_lights_punctual",
  "KHR_animation_pointer",
  "KHR_node_visibility",
  "KHR_xmp_json_ld",
]);

/** Extensions of materials change how a surface looks, never where it lies. */
const harmless = (name: string): boolean => KNOWN_EXTENSIONS.has(name) || name.startsWith("KHR_materials_");

const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;

const isBinary = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;

/** Opens glTF, text or binary, with the files it refers to. @throws UserError with the reason */
export async function openGltf(
  bytes: Uint8Array,
  { name, beside }: Pick<ReadOptions, "name" | "beside">,
): Promise<GltfDocument> {
  if (!bytes.length) throw new UserError(`${name} is empty.`);
  const { text, bin } = isBinary(bytes) ? splitGlb(bytes, name) : { text: bytes, bin: undefined };
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder("utf-8").decode(text));
  } catch {
    throw new UserError(`${name} is not a glTF file that can be read: its JSON is broken.`);
  }
  const parsed = GltfJson.safeParse(raw);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new UserError(`${name} is not a glTF file that can be read: ${issue.path.join(".")}: ${issue.message}.`);
  }
  const json = parsed.data;
  if (!/^2\./.test(json.asset.version))
    throw new UserError(`${name} is glTF ${json.asset.version.slice(0, 8)}; only version 2 can be opened.`);
  const unknown = json.extensionsRequired?.find((e) => !harmless(e));
  if (unknown) throw new UserError(`${name} needs the glTF extension ${unknown}, which Tavlin does not read.`);
  const buffers = (json.buffers ?? []).map((b, i) => bufferBytes(b, i, bin, beside, name));
  return { name, json, ...(await readViews(json, buffers, name)) };
}

function splitGlb(bytes: Uint8Array, name: string): { text: Uint8Array; bin: Uint8Array | undefined } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const bad = (why: string) => new UserError(`${name} is not a GLB file that can be read: ${why}.`);
  if (bytes.length < 20) throw bad("it is too short");
  if (view.getUint32(4, true) !== 2) throw bad(`it has version ${view.getUint32(4, true)}, and only 2 is known`);
  if (view.getUint32(8, true) > bytes.length) throw bad("it ends too early");
  let text: Uint8Array | undefined;
  let bin: Uint8Array | undefined;
  for (let at = 12; at + 8 <= bytes.length; ) {
    const size = view.getUint32(at, true);
    const kind = view.getUint32(at + 4, true);
    if (at + 8 + size > bytes.length) throw bad("it ends too early");
    const chunk = bytes.subarray(at + 8, at + 8 + size);
    if (kind === JSON_CHUNK) text ??= chunk;
    else if (kind === BIN_CHUNK) bin ??= chunk;
    at += 8 + size + ((4 - (size % 4)) % 4);
  }
  if (!text) throw bad("it holds no JSON");
  return { text, bin };
}

type BufferJson = NonNullable<GltfJson["buffers"]>[number];

function bufferBytes(
  buffer: BufferJson,
  index: number,
  bin: Uint8Array | undefined,
  beside: readonly FileIn[] | undefined,
  name: string,
): Uint8Array | null {
  if (buffer.uri === undefined) {
    if (index === 0 && bin) {
      if (bin.length < buffer.byteLength) throw new UserError(`${name} ends too early: its binary part is too short.`);
      return bin;
    }
    // A fallback for readers without a decompressor holds nothing.
    if (buffer.extensions?.EXT_meshopt_compression) return null;
    throw new UserError(`${name} has no bytes for its buffer ${index}.`);
  }
  const bytes = uriBytes(buffer.uri, beside);
  if (!bytes)
    throw new UserError(`${name} refers to ${shown(buffer.uri)}, which did not come along; bring both together.`);
  if (bytes.length < buffer.byteLength) throw new UserError(`${shown(buffer.uri)} is shorter than ${name} says.`);
  return bytes;
}

const shown = (uri: string): string => (uri.startsWith("data:") ? "data within it" : decoded(uri).slice(0, 80));

function decoded(uri: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}

/** Bytes behind a URI: within it, or of a file that came along. */
export function uriBytes(uri: string, beside: readonly FileIn[] | undefined): Uint8Array | undefined {
  if (!uri.startsWith("data:")) return findBeside(beside, decoded(uri))?.bytes;
  const comma = uri.indexOf(",");
  if (comma < 0 || !uri.slice(0, comma).endsWith(";base64")) return undefined;
  try {
    const text = atob(uri.slice(comma + 1));
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < bytes.length; i++) bytes[i] = text.charCodeAt(i);
    return bytes;
  } catch {
    return undefined;
  }
}

async function readViews(json: GltfJson, buffers: readonly (Uint8Array | null)[], name: string) {
  const unpacked = new Set<number>();
  const views: Uint8Array[] = [];
  for (const [i, view] of (json.bufferViews ?? []).entries()) {
    const packed = view.extensions?.EXT_meshopt_compression;
    if (packed) {
      unpacked.add(i);
      views.push(await decodeMeshopt(packed, buffers, name));
      continue;
    }
    const buffer = buffers[view.buffer];
    const start = view.byteOffset ?? 0;
    if (!buffer || start + view.byteLength > buffer.length)
      throw new UserError(`${name} is damaged: its buffer view ${i} lies outside its buffer.`);
    views.push(buffer.subarray(start, start + view.byteLength));
  }
  return { views, unpacked };
}
