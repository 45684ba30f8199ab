import { encodeBundle } from "@/core/formats/bundle";
import { UserError } from "@/core/layout/user-error";
import { filesOf, loadAsset } from "@/server/assets";
import { database } from "@/server/database";
import { binary, respond } from "@/server/respond";

/** With ?key=K one file as it is, images under their own type; without, all files of the asset as one bundle. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const db = await database();
    const { id } = await params;
    const key = new URL(request.url).searchParams.get("key");
    const files = await filesOf(db, id, key ?? undefined);
    if (key === null) return binary(encodeBundle(Object.keys(files), Object.values(files)));
    if (!files[key]) throw new UserError("There is no such file with this asset.");
    const { asset } = await loadAsset(db, id);
    const type = asset.images.find((i) => i.key === key)?.type ?? "application/octet-stream";
    // What came with a foreign file is shown as an image or saved, never run.
    return binary(files[key], type, { "x-content-type-options": "nosniff", "content-disposition": "attachment" });
  });
