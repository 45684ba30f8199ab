import type { Decoder, DecoderModule, Mesh } from "draco3dgltf";
import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { ReadOptions } from "../read-options";
import { accessorAt, componentBytes, elementSize } from "./accessors";
import type { GltfDocument, PrimitiveJson } from "./document";

const Packed = z.looseObject({
  bufferView: z.number().int().min(0),
  attributes: z.record(z.string(), z.number().int().min(0)),
});

/** What a compressed primitive holds: indices, and every attribute's elements, tightly packed. */
export interface Unpacked {
  readonly indices: Uint32Array;
  readonly attributes: ReadonlyMap<string, Uint8Array>;
}

export const DRACO = "KHR_draco_mesh_compression";

let loading: Promise<DecoderModule> | undefined;

async function decoderModule(wasm: ReadOptions["wasm"], name: string): Promise<DecoderModule> {
  if (!wasm) throw new UserError(`${name} is compressed in a way that cannot be read here.`);
  loading ??= (async () => {
    const { default: create } = await import("draco3dgltf/draco_decoder_gltf_nodejs.js");
    const bytes = await wasm("draco");
    return create({ wasmBinary: bytes.slice().buffer });
  })().catch((error) => {
    loading = undefined;
    throw error;
  });
  return loading;
}

/** Unpacks the primitives of a document that are compressed by KHR_draco_mesh_compression. */
export async function unpackDraco(doc: GltfDocument, wasm: ReadOptions["wasm"]): Promise<Map<PrimitiveJson, Unpacked>> {
  const out = new Map<PrimitiveJson, Unpacked>();
  for (const mesh of doc.json.meshes ?? [])
    for (const primitive of mesh.primitives)
      if (primitive.extensions?.[DRACO])
        out.set(primitive, unpack(await decoderModule(wasm, doc.name), doc, primitive));
  return out;
}

function unpack(draco: DecoderModule, doc: GltfDocument, primitive: PrimitiveJson): Unpacked {
  const damaged = new UserError(`${doc.name} is damaged: a compressed part of it cannot be unpacked.`);
  const parsed = Packed.safeParse(primitive.extensions![DRACO]);
  const bytes = parsed.success ? doc.views[parsed.data.bufferView] : undefined;
  if (!parsed.success || !bytes) throw damaged;
  const decoder = new draco.Decoder();
  const buffer = new draco.DecoderBuffer();
  const mesh = new draco.Mesh();
  try {
    buffer.Init(new Int8Array(bytes.buffer, bytes.byteOffset, bytes.length), bytes.length);
    if (decoder.GetEncodedGeometryType(buffer) !== draco.TRIANGULAR_MESH) throw damaged;
    const status = decoder.DecodeBufferToMesh(buffer, mesh);
    if (!status.ok()) throw damaged;
    const size = 12 * mesh.num_faces();
    const indices = fromHeap(draco, size, (at) => decoder.GetTrianglesUInt32Array(mesh, size, at));
    const attributes = new Map<string, Uint8Array>();
    for (const [semantic, id] of Object.entries(parsed.data.attributes)) {
      const index = primitive.attributes[semantic];
      if (index !== undefined) attributes.set(semantic, attribute(draco, decoder, mesh, doc, index, id, damaged));
    }
    return { indices: new Uint32Array(indices.buffer), attributes };
  } catch (error) {
    throw error instanceof UserError ? error : damaged;
  } finally {
    draco.destroy(mesh);
    draco.destroy(buffer);
    draco.destroy(decoder);
  }
}

function attribute(
  draco: DecoderModule,
  decoder: Decoder,
  mesh: Mesh,
  doc: GltfDocument,
  index: number,
  id: number,
  damaged: UserError,
): Uint8Array {
  const a = accessorAt(doc, index);
  const kind = {
    5120: draco.DT_INT8,
    5121: draco.DT_UINT8,
    5122: draco.DT_INT16,
    5123: draco.DT_UINT16,
    5125: draco.DT_UINT32,
    5126: draco.DT_FLOAT32,
  }[a.componentType];
  const found = decoder.GetAttributeByUniqueId(mesh, id);
  if (kind === undefined || !found || mesh.num_points() !== a.count || found.num_components() !== elementSize(a))
    throw damaged;
  const size = componentBytes(a.componentType) * elementSize(a) * a.count;
  return fromHeap(draco, size, (at) => decoder.GetAttributeDataArrayForAllPoints(mesh, found, kind, size, at));
}

/** Lets the decoder write into its own memory, and copies that out. */
function fromHeap(draco: DecoderModule, size: number, write: (at: number) => unknown): Uint8Array<ArrayBuffer> {
  const at = draco._malloc(size);
  try {
    if (write(at) === false) throw new Error("The decoder refused.");
    return draco.HEAPU8.slice(at, at + size) as Uint8Array<ArrayBuffer>;
  } finally {
    draco._free(at);
  }
}
