import { z } from "zod";
import { encodeArrays } from "@/server/array-stream";
import { database } from "@/server/database";
import { jsonOf, respond } from "@/server/respond";

const Wanted = z.object({ hashes: z.array(z.string().regex(/^[0-9a-f]{64}$/)).max(200_000) });

/** Arrays by the hashes of their content, compressed as they are stored, as a stream (wire/array-stream.ts). */
export const POST = (request: Request) =>
  respond(request, async () => {
    const { hashes } = await jsonOf(request, Wanted, "The list of arrays cannot be read.", 16 * 1024 * 1024);
    const stream = await encodeArrays(await database(), hashes);
    return new Response(stream, {
      headers: { "content-type": "application/octet-stream", "cache-control": "no-store" },
    });
  });
