import {
  DataTexture,
  FloatType,
  NearestFilter,
  type PixelFormat,
  RedFormat,
  RedIntegerFormat,
  RGBAFormat,
  RGFormat,
  type TextureDataType,
  UnsignedByteType,
  UnsignedIntType,
  UnsignedShortType,
} from "three";

/** Texels a row of a table. */
export const ROW = 2048;
/** Rows that are sent one by one; when more have changed the table is sent whole. */
const MOST_ROWS = 64;

type Numbers = Float32Array | Uint32Array | Uint16Array | Uint8Array;
interface Kind<A extends Numbers> {
  readonly array: new (length: number) => A;
  readonly per: number;
  readonly format: PixelFormat;
  readonly type: TextureDataType;
}

/** What a texel can hold. */
export const POINT: Kind<Float32Array> = { array: Float32Array, per: 4, format: RGBAFormat, type: FloatType };
export const UV: Kind<Float32Array> = { array: Float32Array, per: 2, format: RGFormat, type: FloatType };
export const NUMBER: Kind<Float32Array> = { array: Float32Array, per: 1, format: RedFormat, type: FloatType };
export const INDEX: Kind<Uint32Array> = { array: Uint32Array, per: 1, format: RedIntegerFormat, type: UnsignedIntType };
export const SHORT: Kind<Uint16Array> = {
  array: Uint16Array,
  per: 1,
  format: RedIntegerFormat,
  type: UnsignedShortType,
};
export const BYTE: Kind<Uint8Array> = { array: Uint8Array, per: 1, format: RedFormat, type: UnsignedByteType };
export const COLOR: Kind<Uint8Array> = { array: Uint8Array, per: 4, format: RGBAFormat, type: UnsignedByteType };

/**
 * Something per element, which shaders look up by the element's number: a texture read as a list. What is written goes to
 * the graphics card with the next drawing, by rows and only those that changed.
 */
export class TexelTable<A extends Numbers> {
  readonly texture: DataTexture;
  readonly data: A;
  private readonly per: number;
  /** All of it waits to be sent: telling of rows would keep the others back. */
  private whole = true;

  constructor(kind: Kind<A>, count: number) {
    const rows = Math.max(1, Math.ceil(count / ROW));
    this.per = kind.per;
    this.data = new kind.array(kind.per * ROW * rows);
    this.texture = new DataTexture(this.data as never, ROW, rows, kind.format, kind.type);
    this.texture.minFilter = NearestFilter;
    this.texture.magFilter = NearestFilter;
    this.texture.needsUpdate = true;
    this.texture.onUpdate = () => {
      this.whole = false;
    };
  }

  /** How many elements it has room for. */
  get room(): number {
    return this.data.length / this.per;
  }

  /** Elements `from` up to `to` were written. */
  touch(from: number, to: number): void {
    if (to <= from) return;
    this.texture.needsUpdate = true;
    if (this.whole) return;
    const [first, last] = [Math.floor(from / ROW), Math.floor((to - 1) / ROW)];
    if (last - first + this.texture.updateRanges.length >= MOST_ROWS) {
      this.touchAll();
      return;
    }
    for (let row = first; row <= last; row++) {
      const start = Math.max(from, row * ROW);
      // The renderer counts four numbers to a texel, whatever the texel holds.
      this.texture.addUpdateRange(4 * start, 4 * (Math.min(to, (row + 1) * ROW) - start));
    }
  }

  /** Everything is sent again: it was written, or the graphics card has lost it. */
  touchAll(): void {
    this.whole = true;
    this.texture.clearUpdateRanges();
    this.texture.needsUpdate = true;
  }

  /** Writes values from an element on, and tells of the rows in which one differed. */
  write(values: Float64Array, from = 0): void {
    const data = this.data as Float32Array;
    const { per } = this;
    const [first, end] = [per * from, per * from + values.length];
    for (let start = first; start < end; ) {
      const stop = Math.min(end, (Math.floor(start / (per * ROW)) + 1) * per * ROW);
      const differs = writeNumbers(data, values, start, stop, first);
      if (differs >= 0) this.touch(Math.floor(differs / per), Math.ceil(stop / per));
      start = stop;
    }
  }

  dispose(): void {
    this.texture.dispose();
  }
}

/** Writes a stretch. @returns the first place at which it differed; -1 for none */
function writeNumbers(data: Float32Array, values: Float64Array, start: number, end: number, shift: number): number {
  let i = start;
  while (i < end && data[i] === Math.fround(values[i - shift]!)) i++;
  if (i === end) return -1;
  for (let k = i; k < end; k++) data[k] = values[k - shift]!;
  return i;
}
