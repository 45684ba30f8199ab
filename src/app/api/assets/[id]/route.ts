import { z } from "zod";
import { encodeAsset } from "@/core/formats/asset-bundle";
import { UserError } from "@/core/layout/user-error";
import { database } from "@/server/database";
import { binary, respond } from "@/server/respond";
import { deleteAsset, loadAsset, renameAsset } from "@/server/store";

type Params = { params: Promise<{ id: string }> };

const Rename = z.object({ name: z.string().trim().min(1).max(300) });

/** The asset as a bundle; where its history stands is in a header, as JSON in percent coding. */
export const GET = (_: Request, { params }: Params) =>
  respond(async () => {
    const { asset, history } = await loadAsset(await database(), (await params).id);
    return binary(encodeAsset(asset), undefined, { "x-history": encodeURIComponent(JSON.stringify(history)) });
  });

export const PATCH = (request: Request, { params }: Params) =>
  respond(async () => {
    const parsed = Rename.safeParse(await request.json().catch(() => null));
    if (!parsed.success) throw new UserError("An asset needs a name of one to 300 letters.");
    await renameAsset(await database(), (await params).id, parsed.data.name);
    return Response.json({});
  });

export const DELETE = (_: Request, { params }: Params) =>
  respond(async () => {
    await deleteAsset(await database(), (await params).id);
    return Response.json({});
  });
