import { database } from "@/server/database";
import { idOf, jsonOf, respond } from "@/server/respond";
import { stepHistory } from "@/server/revisions";
import { StepRequest } from "@/wire/requests";

/** Undo, redo, or a jump: moves the head along the history and returns what differs. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = await idOf(params);
    const { base, step } = await jsonOf(request, StepRequest, "The step cannot be read.");
    return Response.json(await stepHistory(await database(), id, base, step));
  });
