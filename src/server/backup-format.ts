import { once } from "node:events";
import { Unzip, UnzipInflate, UnzipPassThrough } from "fflate";
import { extract, pack } from "tar-stream";
import { isUserError, UserError } from "../core/layout/user-error";

// A backup is a tar archive: what it is, then chunks of arrays in packs of some megabytes, then the list of arrays, then
// one file of rows an asset. It is written and read as a stream, so its size has no limit. Backups of before were zip
// archives with a file a chunk; those are read as well.

/** One file of a backup, in the order they stand. */
export interface Entry {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** Writes entries as a stream of bytes. */
export async function* writeEntries(entries: AsyncIterable<Entry>): AsyncGenerator<Uint8Array> {
  const archive = pack();
  const filling = (async () => {
    for await (const { name, bytes } of entries)
      await new Promise<void>((resolve, reject) =>
        archive.entry({ name }, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), (error) =>
          error ? reject(error) : resolve(),
        ),
      );
    archive.finalize();
  })();
  // A fault in the middle must end the stream as a fault, not as its end.
  filling.catch((error: Error) => archive.destroy(error));
  for await (const piece of archive) yield piece as Uint8Array;
  await filling;
}

/** An entry may not be larger: packs are some megabytes, lists of rows larger. */
const MOST_ENTRY = 1024 * 1024 * 1024;

/**
 * Reads the entries of a backup of either kind.
 *
 * @throws UserError when the bytes are none
 */
export async function* readEntries(bytes: AsyncIterable<Uint8Array>, name: string): AsyncGenerator<Entry> {
  const bad = () => new UserError(`${name} is not a backup that can be read, or it ends too early.`);
  const iterator = bytes[Symbol.asyncIterator]();
  const first = await iterator.next();
  if (first.done || !first.value.length) throw bad();
  const all = (async function* () {
    yield first.value;
    for (let next = await iterator.next(); !next.done; next = await iterator.next()) yield next.value;
  })();
  try {
    if (first.value[0] === 0x50 && first.value[1] === 0x4b) yield* readZip(all);
    else yield* readTar(all);
  } catch (error) {
    throw isUserError(error) ? error : bad();
  }
}

async function* readTar(bytes: AsyncIterable<Uint8Array>): AsyncGenerator<Entry> {
  const archive = extract();
  const feeding = (async () => {
    for await (const piece of bytes) if (!archive.write(piece)) await once(archive, "drain");
    archive.end(undefined);
  })();
  feeding.catch((error: Error) => archive.destroy(error));
  for await (const entry of archive) {
    const size = entry.header.size ?? 0;
    if (size > MOST_ENTRY) throw new Error("An entry is too large.");
    const pieces: Uint8Array[] = [];
    for await (const piece of entry as AsyncIterable<Uint8Array>) pieces.push(piece as Uint8Array);
    yield { name: entry.header.name, bytes: Buffer.concat(pieces) };
  }
  await feeding;
}

/** The zip archives of before. */
async function* readZip(bytes: AsyncIterable<Uint8Array>): AsyncGenerator<Entry> {
  const done: Entry[] = [];
  let fault: Error | null = null;
  let open = 0;
  const unpacker = new Unzip((file) => {
    const pieces: Uint8Array[] = [];
    let size = 0;
    open++;
    file.ondata = (error, piece, final) => {
      if (error) fault ??= error;
      if (fault) return;
      size += piece.length;
      if (size > MOST_ENTRY) fault = new Error("An entry is too large.");
      pieces.push(piece);
      if (!final) return;
      open--;
      done.push({ name: file.name, bytes: Buffer.concat(pieces) });
    };
    file.start();
  });
  unpacker.register(UnzipInflate);
  unpacker.register(UnzipPassThrough);
  for await (const piece of bytes) {
    // In small steps: each may finish many entries.
    for (let at = 0; at < piece.length; at += 65536) {
      unpacker.push(piece.subarray(at, at + 65536));
      if (fault) throw fault;
      yield* done.splice(0);
    }
  }
  unpacker.push(new Uint8Array(0), true);
  if (fault || open) throw fault ?? new Error("It ends too early.");
  yield* done.splice(0);
}

/** Chunks of arrays one after another: 32 bytes of hash, 4 of length, then the compressed bytes. */
export function packChunks(chunks: ReadonlyMap<string, Uint8Array>): Uint8Array {
  let size = 0;
  for (const b of chunks.values()) size += 36 + b.length;
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  let at = 0;
  for (const [hash, b] of chunks) {
    out.set(Buffer.from(hash, "hex"), at);
    view.setUint32(at + 32, b.length);
    out.set(b, at + 36);
    at += 36 + b.length;
  }
  return out;
}

/** @throws when the bytes end within a chunk */
export function unpackChunks(bytes: Uint8Array): Map<string, Uint8Array> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out = new Map<string, Uint8Array>();
  for (let at = 0; at < bytes.length; ) {
    if (at + 36 > bytes.length) throw new Error("A pack ends too early.");
    const hash = Buffer.from(bytes.subarray(at, at + 32)).toString("hex");
    const size = view.getUint32(at + 32);
    if (at + 36 + size > bytes.length) throw new Error("A pack ends too early.");
    out.set(hash, bytes.slice(at + 36, at + 36 + size));
    at += 36 + size;
  }
  return out;
}
