import { writeSheet } from "@/core/formats/sheet-svg";
import { loadAsset } from "@/server/assets";
import { database } from "@/server/database";
import { lookOf, setIndex } from "@/server/picture";
import { binary, respond } from "@/server/respond";

/** A layout as it lies in Sheet, as SVG: of ?at=N and ?set=K, or of what is on the table. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const look = lookOf(request);
    const { asset } = await loadAsset(await database(), (await params).id, look.at);
    const text = writeSheet(asset, { set: setIndex(asset, look), resolution: 512, wires: false, names: false });
    return binary(new TextEncoder().encode(text), "image/svg+xml");
  });
