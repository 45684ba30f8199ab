import { z } from "zod";
import { Summary } from "@/core/check/summary";
import { encodeAsset } from "@/core/formats/asset-bundle";
import { UserError } from "@/core/layout/user-error";
import { deleteAsset, loadAsset, noteFigures, renameAsset } from "@/server/assets";
import { database } from "@/server/database";
import { binary, respond } from "@/server/respond";

type Params = { params: Promise<{ id: string }> };

const Change = z.union([
  z.object({ name: z.string().trim().min(1).max(300) }),
  z.object({ version: z.number().int().min(0), figures: Summary }),
]);

/** The asset as a bundle, or with ?at=N as it stood then; where its history stands is in a header, in percent coding. */
export const GET = (request: Request, { params }: Params) =>
  respond(async () => {
    const at = z.coerce
      .number()
      .int()
      .min(0)
      .optional()
      .safeParse(new URL(request.url).searchParams.get("at") ?? undefined);
    if (!at.success) throw new UserError("A step is named by its number.");
    const { asset, history } = await loadAsset(await database(), (await params).id, at.data);
    return binary(encodeAsset(asset), undefined, { "x-history": encodeURIComponent(JSON.stringify(history)) });
  });

export const PATCH = (request: Request, { params }: Params) =>
  respond(async () => {
    const parsed = Change.safeParse(await request.json().catch(() => null));
    if (!parsed.success)
      throw new UserError("An asset needs a name of one to 300 letters, or figures with their version.");
    const { id } = await params;
    if ("name" in parsed.data) await renameAsset(await database(), id, parsed.data.name);
    else await noteFigures(await database(), id, parsed.data.version, parsed.data.figures);
    return Response.json({});
  });

export const DELETE = (_: Request, { params }: Params) =>
  respond(async () => {
    await deleteAsset(await database(), (await params).id);
    return Response.json({});
  });
