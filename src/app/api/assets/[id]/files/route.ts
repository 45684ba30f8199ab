import { z } from "zod";
import { encodeBundle } from "@/core/formats/bundle";
import { plainText } from "@/core/formats/schema-words";
import { filesOf, stateOf } from "@/server/assets";
import { database } from "@/server/database";
import { Missing } from "@/server/refusals";
import { binary, idOf, queryOf, respond } from "@/server/respond";

const Asked = z.object({ key: plainText(100).optional() });
/** Types that a browser shows as images; a file may claim to be anything. */
const SHOWN = /^image\/(png|jpeg|webp|gif|bmp|avif)$/;

/** With ?key=K one file as it is, images under their own type; without, all files of the asset as one bundle. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const db = await database();
    const id = await idOf(params);
    const { key } = queryOf(request, Asked, "There is no such file with this asset.");
    const files = await filesOf(db, id, key);
    if (key === undefined) return binary(encodeBundle([...files.keys()], [...files.values()]));
    const bytes = files.get(key);
    if (!bytes) throw new Missing("There is no such file with this asset.");
    const { manifest } = await stateOf(db, id);
    const type = manifest.head!.images.find((i) => i.key === key)?.type ?? "";
    // What came with a foreign file is shown as an image or saved, never run.
    return binary(bytes, SHOWN.test(type) ? type : "application/octet-stream", {
      "x-content-type-options": "nosniff",
      "content-disposition": "attachment",
    });
  });
