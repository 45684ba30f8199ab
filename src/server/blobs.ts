import { createHash } from "node:crypto";
import { gunzipSync, gzipSync } from "node:zlib";
import type { Numbers } from "../core/formats/bundle";
import type { Queries } from "./database";

const bytesOf = (a: Numbers): Uint8Array => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);

/** Stores an array under the hash of its content, compressed; one that is there is not written again. */
export async function putBlob(db: Queries, array: Numbers): Promise<string> {
  const bytes = bytesOf(array);
  const hash = createHash("sha256").update(bytes).digest("hex");
  const known = await db.query("select 1 from blobs where hash = $1", [hash]);
  if (!known.rows.length)
    await db.query("insert into blobs (hash, bytes) values ($1, $2) on conflict do nothing", [
      hash,
      new Uint8Array(gzipSync(bytes, { level: 1 })),
    ]);
  return hash;
}

/** Contents by hash, as bytes of their own buffer (so that any typed array may lie over them). */
export async function getBlobs(db: Queries, hashes: readonly string[]): Promise<Map<string, Uint8Array<ArrayBuffer>>> {
  const out = new Map<string, Uint8Array<ArrayBuffer>>();
  const wanted = [...new Set(hashes)];
  if (!wanted.length) return out;
  const rows = await db.query<{ hash: string; bytes: Uint8Array }>(
    "select hash, bytes from blobs where hash = any($1)",
    [wanted],
  );
  for (const row of rows.rows) out.set(row.hash, Uint8Array.from(gunzipSync(row.bytes)));
  for (const hash of wanted) if (!out.has(hash)) throw new Error(`Blob ${hash} is missing.`);
  return out;
}
