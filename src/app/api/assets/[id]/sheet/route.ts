import { database } from "@/server/database";
import { lookOf, sheetOf } from "@/server/picture";
import { binary, idOf, respond } from "@/server/respond";

/** A layout as it lies in Sheet, as SVG: of ?at=N and ?set=K, or of what is on the table. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () =>
    binary(await sheetOf(await database(), await idOf(params), lookOf(request)), "image/svg+xml"),
  );
