import { createHash } from "node:crypto";
import { gunzipSync, gzipSync } from "node:zlib";
import type { Numbers } from "../core/formats/bundle";

// Arrays are cut into chunks where their content says so, each stored once under its hash: an array that changed in one
// place, or was lengthened in its middle, shares all other chunks with the one before. (Rolling "gear" hash with two
// masks, after Xia et al., FastCDC, USENIX ATC 2016; over whole 8-byte words, so that numbers stay whole.)

const LEAST = 4 * 1024;
const MOST = 128 * 1024;
/** One boundary in 2048 words (16 KB) on average. */
const MASK = 0x7ff00000;

export const bytesOf = (a: Numbers): Uint8Array => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);
export const hashOf = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

/** Ends of the chunks of a run of bytes. */
export function chunkEnds(bytes: Uint8Array): number[] {
  const ends: number[] = [];
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let start = 0;
  let rolling = 0;
  for (let at = 0; at + 8 <= bytes.length; at += 8) {
    let word = Math.imul(view.getUint32(at, true), 0x9e3779b1) ^ Math.imul(view.getUint32(at + 4, true), 0x85ebca6b);
    word ^= word >>> 15;
    rolling = ((rolling << 1) + Math.imul(word, 0xc2b2ae35)) | 0;
    const size = at + 8 - start;
    if ((size >= LEAST && (rolling & MASK) === 0) || size >= MOST) {
      ends.push(at + 8);
      start = at + 8;
      rolling = 0;
    }
  }
  if (start < bytes.length || !ends.length) ends.push(bytes.length);
  return ends;
}

/** An array as the database lists it: its hash, its size in bytes, and the hashes of its chunks. */
export interface ArrayRow {
  readonly hash: string;
  readonly size: number;
  readonly chunks: readonly string[];
}

/** Arrays cut into chunks, not yet compressed. */
export interface Cut {
  /** Of every array given, in their order. */
  readonly rows: readonly ArrayRow[];
  readonly chunks: ReadonlyMap<string, Uint8Array>;
}

/** Cuts arrays into chunks and takes their hashes. */
export function cutArrays(arrays: readonly Numbers[]): Cut {
  const chunks = new Map<string, Uint8Array>();
  const rows = arrays.map((array): ArrayRow => {
    const bytes = bytesOf(array);
    let start = 0;
    const list = chunkEnds(bytes).map((end) => {
      const chunk = bytes.subarray(start, end);
      start = end;
      const name = hashOf(chunk);
      chunks.set(name, chunk);
      return name;
    });
    // An array of one chunk is that chunk: its hash need not be taken twice.
    return { hash: list.length === 1 ? list[0]! : hashOf(bytes), size: bytes.length, chunks: list };
  });
  return { rows, chunks };
}

export const squeeze = (chunk: Uint8Array): Uint8Array => gzipSync(chunk, { level: 1, memLevel: 9 });

/** A chunk as it was. @throws for one that unpacks to more than `most` */
export const unsqueeze = (bytes: Uint8Array, most = 2 ** 30): Uint8Array =>
  gunzipSync(bytes, { maxOutputLength: most });

/** An array out of its compressed chunks. */
export function joinChunks(row: ArrayRow, chunks: ReadonlyMap<string, Uint8Array>): Uint8Array<ArrayBuffer> {
  const parts = row.chunks.map((name) => {
    const bytes = chunks.get(name);
    if (!bytes) throw new Error(`Chunk ${name} is missing.`);
    return unsqueeze(bytes);
  });
  const bytes = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    bytes.set(p, at);
    at += p.length;
  }
  return bytes;
}
