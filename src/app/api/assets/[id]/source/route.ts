import { database } from "@/server/database";
import { binary, respond } from "@/server/respond";
import { loadAsset } from "@/server/store";

/** The bytes of the file an asset came from; empty when it was made here. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { asset } = await loadAsset(await database(), (await params).id, true);
    return binary(asset.source.bytes ?? new Uint8Array(0));
  });
