import { listAssets, receiveAsset } from "@/server/assets";
import { database } from "@/server/database";
import { bodyOf, respond } from "@/server/respond";

export const dynamic = "force-dynamic";

export const GET = (request: Request) =>
  respond(request, async () => Response.json({ assets: await listAssets(await database()) }));

/** Takes a bundle made by the page from a file; checks it as if it came from anywhere. */
export const POST = (request: Request) =>
  respond(request, async () => Response.json({ id: await receiveAsset(await database(), await bodyOf(request)) }));
