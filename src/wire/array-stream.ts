import { gunzipSync } from "fflate";

// Arrays on their way: for each its size in bytes (0 when that is not known), the number of its chunks, and of every
// chunk its length and its gzip stream. Numbers are 32 bits, little-endian. The server sends chunks as it stores them,
// so that it compresses nothing; whoever reads them unpacks them in a worker.

export function frameArray(size: number, chunks: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(8 + chunks.reduce((n, c) => n + 4 + c.length, 0));
  const view = new DataView(out.buffer);
  view.setUint32(0, size, true);
  view.setUint32(4, chunks.length, true);
  let at = 8;
  for (const c of chunks) {
    view.setUint32(at, c.length, true);
    out.set(c, at + 4);
    at += 4 + c.length;
  }
  return out;
}

/**
 * Reads arrays from a stream as they arrive.
 *
 * @param make makes room for an array of a size: in memory shared by workers where that can be
 * @throws when the stream ends within an array
 */
export async function* readArrays(
  stream: ReadableStream<Uint8Array>,
  make: (size: number) => Uint8Array = (size) => new Uint8Array(size),
): AsyncGenerator<Uint8Array> {
  const source = new ByteSource(stream.getReader());
  while (!(await source.atEnd())) {
    const size = await source.number();
    const count = await source.number();
    const chunks: Uint8Array[] = [];
    let total = 0;
    for (let i = 0; i < count; i++) {
      const chunk = gunzipSync((await source.take(await source.number())) as Uint8Array<ArrayBuffer>);
      chunks.push(chunk);
      total += chunk.length;
    }
    if (size && total !== size) throw new Error("An array arrived at another size.");
    const out = make(total);
    let at = 0;
    for (const c of chunks) {
      out.set(c, at);
      at += c.length;
    }
    yield out;
  }
}

/** Bytes of a stream, as many at a time as are asked for. */
class ByteSource {
  private buffer: Uint8Array = new Uint8Array(0);
  private at = 0;
  private ended = false;

  constructor(private readonly reader: ReadableStreamDefaultReader<Uint8Array>) {}

  private async fill(count: number): Promise<void> {
    const pieces = [this.buffer.subarray(this.at)];
    let size = pieces[0]!.length;
    while (size < count && !this.ended) {
      const { done, value } = await this.reader.read();
      if (done) this.ended = true;
      else {
        pieces.push(value);
        size += value.length;
      }
    }
    this.buffer = new Uint8Array(size);
    this.at = 0;
    let at = 0;
    for (const p of pieces) {
      this.buffer.set(p, at);
      at += p.length;
    }
  }

  async atEnd(): Promise<boolean> {
    if (this.at === this.buffer.length) await this.fill(1);
    return this.at === this.buffer.length;
  }

  async take(count: number): Promise<Uint8Array> {
    if (this.buffer.length - this.at < count) await this.fill(Math.max(count, 1 << 20));
    if (this.buffer.length - this.at < count) throw new Error("The arrays end too early.");
    this.at += count;
    return this.buffer.subarray(this.at - count, this.at);
  }

  async number(): Promise<number> {
    const b = await this.take(4);
    return (b[0]! | (b[1]! << 8) | (b[2]! << 16) | (b[3]! << 24)) >>> 0;
  }
}
