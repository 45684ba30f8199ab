import { decodeAsset } from "@/core/formats/asset-bundle";
import { createAsset, listAssets } from "@/server/assets";
import { database } from "@/server/database";
import { bodyOf, respond } from "@/server/respond";

export const dynamic = "force-dynamic";

export const GET = () => respond(async () => Response.json({ assets: await listAssets(await database()) }));

/** Takes a bundle made by the page from a file; checks it as if it came from anywhere. */
export const POST = (request: Request) =>
  respond(async () => Response.json({ id: await createAsset(await database(), decodeAsset(await bodyOf(request))) }));
