import { database } from "@/server/database";
import { pictureOf } from "@/server/picture";
import { binary, respond } from "@/server/respond";

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () =>
    binary(await pictureOf(await database(), (await params).id), "image/png", {
      "cache-control": "private, max-age=86400",
    }),
  );
