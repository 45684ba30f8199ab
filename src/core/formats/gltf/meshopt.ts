import { z } from "zod";
import { UserError } from "../../layout/user-error";

const Packed = z.looseObject({
  buffer: z.number().int().min(0),
  byteOffset: z.number().int().min(0).optional(),
  byteLength: z.number().int().min(0),
  byteStride: z.number().int().min(1).max(256),
  count: z.number().int().min(0),
  mode: z.enum(["ATTRIBUTES", "TRIANGLES", "INDICES"]),
  filter: z.enum(["NONE", "OCTAHEDRAL", "QUATERNION", "EXPONENTIAL", "COLOR"]).optional(),
});

/** Unpacks a buffer view compressed by EXT_meshopt_compression. */
export async function decodeMeshopt(
  extension: unknown,
  buffers: readonly (Uint8Array | null)[],
  name: string,
): Promise<Uint8Array> {
  const damaged = new UserError(`${name} is damaged: a compressed part of it cannot be unpacked.`);
  const parsed = Packed.safeParse(extension);
  if (!parsed.success) throw damaged;
  const { buffer, byteOffset = 0, byteLength, byteStride, count, mode, filter } = parsed.data;
  const source = buffers[buffer];
  // The densest blocks take a bit for every hundred bytes: a size far beyond that is damage, not a reason to take memory.
  const size = count * byteStride;
  if (!source || byteOffset + byteLength > source.length || size > 1024 * (byteLength + 64)) throw damaged;
  const { MeshoptDecoder } = await import("meshoptimizer/decoder");
  await MeshoptDecoder.ready;
  const out = new Uint8Array(size);
  try {
    const bytes = source.subarray(byteOffset, byteOffset + byteLength);
    MeshoptDecoder.decodeGltfBuffer(out, count, byteStride, bytes, mode, filter);
  } catch {
    throw damaged;
  }
  return out;
}
