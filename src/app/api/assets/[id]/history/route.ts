import { database } from "@/server/database";
import { listMarks } from "@/server/marks";
import { idOf, respond } from "@/server/respond";
import { listRevisions } from "@/server/revisions";

/** All steps and marks of an asset. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const db = await database();
    const id = await idOf(params);
    return Response.json({ steps: await listRevisions(db, id), marks: await listMarks(db, id) });
  });
