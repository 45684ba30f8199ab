import { nextExport } from "@/server/assets";
import { database } from "@/server/database";
import { idOf, respond } from "@/server/respond";

/** Takes the next number for files written of an asset. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => Response.json({ number: await nextExport(await database(), await idOf(params)) }));
