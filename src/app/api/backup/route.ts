import { makeBackup, restoreBackup } from "@/server/backup";
import { database } from "@/server/database";
import { binary, bodyOf, respond } from "@/server/respond";

/** A backup of everything, or with ?asset=ID of one asset with its history. */
export const GET = (request: Request) =>
  respond(async () => {
    const id = new URL(request.url).searchParams.get("asset") ?? undefined;
    const day = new Date().toISOString().slice(0, 10);
    return binary(await makeBackup(await database(), id), "application/zip", {
      "content-disposition": `attachment; filename="tavlin-${id ? "asset-" : ""}${day}.tavlin"`,
    });
  });

/** Puts back what a backup holds. */
export const POST = (request: Request) =>
  respond(async () => {
    const ids = await restoreBackup(await database(), await bodyOf(request), "The backup");
    return Response.json({ ids });
  });
