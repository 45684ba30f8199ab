import { database } from "@/server/database";
import { lookOf, pictureOf } from "@/server/picture";
import { binary, idOf, respond } from "@/server/respond";

/** The asset's picture; of a step with ?at=N, under the swatch with ?swatch=1&set=K. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const look = lookOf(request);
    return binary(await pictureOf(await database(), await idOf(params), look), "image/png", {
      // A step never changes; what is on the table does.
      "cache-control": look.at === undefined ? "no-cache" : "private, max-age=86400",
    });
  });
