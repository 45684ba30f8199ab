import { frameArray } from "../wire/array-stream";
import { arrayRows } from "./arrays";
import type { Database } from "./database";
import { Missing } from "./refusals";

/** Arrays in the order asked for, as they are stored: a portion is read from the database when the one before is gone. */
export async function encodeArrays(db: Database, hashes: readonly string[]): Promise<ReadableStream<Uint8Array>> {
  const rows = await arrayRows(db, hashes).catch(() => {
    throw new Missing("Some of these arrays are no longer there; open the asset again.");
  });
  let at = 0;
  return new ReadableStream({
    async pull(controller) {
      const part = [];
      for (let chunks = 0; at < hashes.length && chunks < 128; at++) {
        const row = rows.get(hashes[at]!)!;
        part.push(row);
        chunks += row.chunks.length;
      }
      if (!part.length) {
        controller.close();
        return;
      }
      const chunks = await db.chunks([...new Set(part.flatMap((r) => r.chunks))]);
      for (const row of part)
        controller.enqueue(
          frameArray(
            row.size,
            row.chunks.map((c) => chunks.get(c)!),
          ),
        );
    },
  });
}
