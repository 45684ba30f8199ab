import { nextExport } from "@/server/assets";
import { database } from "@/server/database";
import { respond } from "@/server/respond";

/** Takes the next number for files written of an asset. */
export const POST = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => Response.json({ number: await nextExport(await database(), (await params).id) }));
