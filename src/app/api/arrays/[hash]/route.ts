import { encodeArrays } from "@/server/array-stream";
import { database } from "@/server/database";
import { Missing } from "@/server/refusals";
import { respond } from "@/server/respond";

/** One array by the hash of its content. It never changes, so whoever has it need not ask again. */
export const GET = (request: Request, { params }: { params: Promise<{ hash: string }> }) =>
  respond(request, async () => {
    const { hash } = await params;
    if (!/^[0-9a-f]{64}$/.test(hash)) throw new Missing("There is no such array.");
    const headers = {
      "content-type": "application/octet-stream",
      "cache-control": "private, max-age=31536000, immutable",
      etag: `"${hash}"`,
    };
    if (request.headers.get("if-none-match") === `"${hash}"`) return new Response(null, { status: 304, headers });
    return new Response(await encodeArrays(await database(), [hash]), { headers });
  });
