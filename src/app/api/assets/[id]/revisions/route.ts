import { database } from "@/server/database";
import { bodyOf, idOf, respond } from "@/server/respond";
import { receiveEdit } from "@/server/revisions";

/** Adds one revision; answers when the database has it, with the hashes of the arrays that came with it. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = await idOf(params);
    return Response.json(await receiveEdit(await database(), id, await bodyOf(request)));
  });
