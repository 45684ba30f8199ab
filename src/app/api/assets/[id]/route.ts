import { z } from "zod";
import { deleteAsset, noteFigures, renameAsset, stateOf } from "@/server/assets";
import { database } from "@/server/database";
import { idOf, jsonOf, queryOf, respond, StepNumber } from "@/server/respond";
import { manifestOf } from "@/wire/manifest";
import { AssetChange } from "@/wire/requests";

type Params = { params: Promise<{ id: string }> };

const At = z.object({ at: StepNumber.optional() });

/** The asset as it stands, or with ?at=N as it stood then: arrays are named by hash. */
export const GET = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const { at } = queryOf(request, At, "A step is named by its number.");
    const { name, manifest, history } = await stateOf(await database(), await idOf(params), at);
    return Response.json({ name, history, state: manifestOf(manifest) }, { headers: { "cache-control": "no-store" } });
  });

export const PATCH = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const id = await idOf(params);
    const change = await jsonOf(
      request,
      AssetChange,
      "An asset needs a name of one to 300 letters, or figures with their version.",
    );
    if ("name" in change) await renameAsset(await database(), id, change.name);
    else await noteFigures(await database(), id, change.version, change.figures);
    return Response.json({});
  });

export const DELETE = (request: Request, { params }: Params) =>
  respond(request, async () => {
    await deleteAsset(await database(), await idOf(params));
    return Response.json({});
  });
