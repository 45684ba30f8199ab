import { z } from "zod";
import { plainText } from "@/core/formats/schema-words";
import { makeBackup, restoreBackup } from "@/server/backup";
import { database } from "@/server/database";
import { bodyStream, queryOf, respond, streamed } from "@/server/respond";

const Asked = z.object({ asset: plainText(100, 1).optional() });

/** A backup of everything, or with ?asset=ID of one asset with its history, of any size. */
export const GET = (request: Request) =>
  respond(request, async () => {
    const { asset } = queryOf(request, Asked, "There is no such asset.");
    const day = new Date().toISOString().slice(0, 10);
    return streamed(await makeBackup(await database(), asset), "application/x-tar", {
      "content-disposition": `attachment; filename="tavlin-${asset ? "asset-" : ""}${day}.tavlin"`,
    });
  });

/** Puts back what a backup holds, as it comes. */
export const POST = (request: Request) =>
  respond(request, async () =>
    Response.json({ ids: await restoreBackup(await database(), bodyStream(request), "The backup") }),
  );
