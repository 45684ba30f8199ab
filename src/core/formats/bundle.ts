import { z } from "zod";
import { UserError } from "../layout/user-error";

/** Typed arrays that travel in a bundle. */
export type Numbers = Uint8Array | Uint32Array | Float32Array | Float64Array;

const KINDS = { u8: Uint8Array, u32: Uint32Array, f32: Float32Array, f64: Float64Array } as const;
type Kind = keyof typeof KINDS;

const kindOf = (a: Numbers): Kind =>
  a instanceof Uint8Array ? "u8" : a instanceof Uint32Array ? "u32" : a instanceof Float32Array ? "f32" : "f64";

const Header = z.object({
  json: z.unknown(),
  arrays: z.array(z.tuple([z.enum(["u8", "u32", "f32", "f64"]), z.number().int().min(0)])),
});

const MAGIC = 0x314e4c54; // "TLN1"

/**
 * One block of bytes from JSON and typed arrays: magic, header length, header (JSON with the arrays' kinds and
 * lengths), then the arrays, each on a multiple of eight. Little-endian.
 */
export function encodeBundle(json: unknown, arrays: readonly Numbers[]): Uint8Array<ArrayBuffer> {
  const header = new TextEncoder().encode(JSON.stringify({ json, arrays: arrays.map((a) => [kindOf(a), a.length]) }));
  const pad = (n: number) => (n + 7) & ~7;
  let size = pad(8 + header.length);
  for (const a of arrays) size += pad(a.byteLength);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, header.length, true);
  out.set(header, 8);
  let at = pad(8 + header.length);
  for (const a of arrays) {
    out.set(new Uint8Array(a.buffer, a.byteOffset, a.byteLength), at);
    at += pad(a.byteLength);
  }
  return out;
}

/** @throws UserError when the bytes are no whole bundle */
export function decodeBundle(bytes: Uint8Array): { json: unknown; arrays: Numbers[] } {
  const bad = () => new UserError("The data is not a whole Tavlin bundle.");
  if (bytes.length < 8) throw bad();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(4, true);
  if (view.getUint32(0, true) !== MAGIC || 8 + length > bytes.length) throw bad();
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder().decode(bytes.subarray(8, 8 + length)));
  } catch {
    throw bad();
  }
  const parsed = Header.safeParse(raw);
  if (!parsed.success) throw bad();
  const header = parsed.data;
  let at = (8 + length + 7) & ~7;
  const arrays = header.arrays.map(([kind, count]) => {
    const make = KINDS[kind];
    const size = count * make.BYTES_PER_ELEMENT;
    if (at + size > bytes.length) throw bad();
    const array = new make(bytes.slice(at, at + size).buffer);
    at += (size + 7) & ~7;
    return array;
  });
  return { json: header.json, arrays };
}
