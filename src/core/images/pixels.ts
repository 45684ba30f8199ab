import { UserError } from "../layout/user-error";

/** An image as numbers: four a texel (red, green, blue, alpha), rows from the top, of 8 or 16 bits. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array | Uint8ClampedArray | Uint16Array;
}

/** Compiled decoders and encoders, as bytes of WebAssembly: that of PNG, and that of JPEG where it is needed. */
export interface Codecs {
  readonly png: Uint8Array;
  readonly jpeg?: Uint8Array;
}

/** Texels a side that an image may have: four bytes each, some times over, is what memory holds. */
export const MOST_SIDE = 8192;

const PNG = [0x89, 0x50, 0x4e, 0x47];
const JPEG = [0xff, 0xd8, 0xff];
const begins = (bytes: Uint8Array, with_: readonly number[]): boolean => with_.every((b, i) => bytes[i] === b);

/** What an image's bytes are; null for a kind that is not read here. */
export const imageKind = (bytes: Uint8Array): "png" | "jpeg" | null =>
  begins(bytes, PNG) ? "png" : begins(bytes, JPEG) ? "jpeg" : null;

let pngReady: Promise<typeof import("@jsquash/png/codec/pkg/squoosh_png.js")> | undefined;

/** The coder of PNG, begun once a thread. It brings its own stand-in for ImageData where there is none. */
const png = (wasm: Uint8Array) => {
  pngReady ??= (async () => {
    const coder = await import("@jsquash/png/codec/pkg/squoosh_png.js");
    await coder.default(wasm.slice());
    return coder;
  })();
  return pngReady;
};

let jpegReady: Promise<import("@jsquash/jpeg/codec/dec/mozjpeg_dec.js").MozJPEGModule> | undefined;

const jpeg = (wasm: Uint8Array) => {
  jpegReady ??= (async () => {
    const { default: create } = await import("@jsquash/jpeg/codec/dec/mozjpeg_dec.js");
    return create({ wasmBinary: wasm.slice().buffer });
  })();
  return jpegReady;
};

/** Where a PNG tells its width, height and bits. */
const [AT_WIDTH, AT_HEIGHT, AT_DEPTH, HEADER] = [16, 20, 24, 33];

/** @throws UserError naming the image where its header asks for more than is taken */
function checkSize(bytes: Uint8Array, name: string): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const isWhole = bytes.length >= HEADER;
  const sides = isWhole ? [view.getUint32(AT_WIDTH), view.getUint32(AT_HEIGHT)] : [0];
  if (sides.some((n) => n > MOST_SIDE)) throw new UserError(`The image ${name} has more than ${MOST_SIDE} px a side.`);
}

/**
 * Reads a PNG of any kind or a JPEG. Grey and palettes become colours; a PNG of 16 bits stays one.
 *
 * @param name of the image, for what is said of it
 * @throws UserError where it is damaged, too large, or of another kind
 */
export async function decodeImage(bytes: Uint8Array, codecs: Codecs, name: string): Promise<Pixels> {
  const kind = imageKind(bytes);
  if (!kind || (kind === "jpeg" && !codecs.jpeg))
    throw new UserError(`The image ${name} is neither PNG nor JPEG; only these can be drawn anew.`);
  if (kind === "png") checkSize(bytes, name);
  const found = await (kind === "png" ? decodePng(bytes, codecs.png) : decodeJpeg(bytes, codecs.jpeg!)).catch(
    () => null,
  );
  if (!found?.width) throw new UserError(`The image ${name} is damaged: it cannot be read.`);
  if (Math.max(found.width, found.height) > MOST_SIDE)
    throw new UserError(`The image ${name} has more than ${MOST_SIDE} px a side.`);
  return found;
}

async function decodePng(bytes: Uint8Array, wasm: Uint8Array): Promise<Pixels> {
  const coder = await png(wasm);
  if (bytes[AT_DEPTH] !== 16) {
    const { width, height, data } = coder.decode(bytes);
    return { width, height, data };
  }
  const deep = coder.decode_rgba16(bytes);
  const pixels = { width: deep.width, height: deep.height, data: deep.data };
  deep.free();
  return pixels;
}

async function decodeJpeg(bytes: Uint8Array, wasm: Uint8Array): Promise<Pixels | null> {
  const found = (await jpeg(wasm)).decode(bytes.slice(), false);
  return found && { width: found.width, height: found.height, data: found.data };
}

/** The image as a PNG, to the last bit. */
export async function encodePng({ width, height, data }: Pixels, codecs: Codecs): Promise<Uint8Array> {
  const coder = await png(codecs.png);
  if (data instanceof Uint16Array) return coder.encode(highFirst(data), width, height, 16);
  return coder.encode(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), width, height, 8);
}

/** Whether an image looks like one of directions: blue and, on the whole, neither red nor green. */
export function looksLikeDirections({ data }: Pixels): boolean {
  const full = data instanceof Uint16Array ? 65535 : 255;
  const sum = [0, 0, 0];
  // Every texel of some thousands tells enough.
  const step = 4 * Math.max(1, Math.floor(data.length / 40_000));
  let count = 0;
  for (let i = 0; i < data.length; i += step, count++) for (let c = 0; c < 3; c++) sum[c]! += data[i + c]! / full;
  const [r, g, b] = sum.map((x) => x / count) as [number, number, number];
  return b > 0.7 && Math.abs(r - 0.5) < 0.15 && Math.abs(g - 0.5) < 0.15;
}

/** Numbers of 16 bits as bytes, the high one first, as the coder writes them. */
function highFirst(data: Uint16Array): Uint8Array {
  const out = new Uint8Array(2 * data.length);
  for (let i = 0; i < data.length; i++) {
    out[2 * i] = data[i]! >> 8;
    out[2 * i + 1] = data[i]! & 0xff;
  }
  return out;
}
