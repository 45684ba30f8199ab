import { database } from "@/server/database";
import { listMarks } from "@/server/marks";
import { respond } from "@/server/respond";
import { listRevisions } from "@/server/revisions";

/** All steps and marks of an asset. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const db = await database();
    const { id } = await params;
    return Response.json({ steps: await listRevisions(db, id), marks: await listMarks(db, id) });
  });
