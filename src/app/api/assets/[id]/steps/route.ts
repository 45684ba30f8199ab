import { database } from "@/server/database";
import { idOf, respond } from "@/server/respond";
import { savedHistory } from "@/server/saved-history";

/** The steps that led to what is on the table, as a file that can be done again. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => Response.json(await savedHistory(await database(), await idOf(params))));
