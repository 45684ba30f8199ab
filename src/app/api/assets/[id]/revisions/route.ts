import { z } from "zod";
import { decodeDelta } from "@/core/formats/asset-bundle";
import { database } from "@/server/database";
import { bodyOf, respond } from "@/server/respond";
import { appendRevision } from "@/server/revisions";

const Beside = z.object({
  base: z.number().int().min(0),
  operation: z.string().max(100),
  options: z.unknown(),
  words: z.string().max(500),
  figures: z.unknown(),
});

/** Adds one revision; answers when the database has it. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { delta, beside, files } = decodeDelta(await bodyOf(request), Beside);
    return Response.json(await appendRevision(await database(), (await params).id, { ...beside, delta, files }));
  });
