import { z } from "zod";
import { plainText } from "@/core/formats/schema-words";
import { database } from "@/server/database";
import { addMark, changeMark, deleteMark } from "@/server/marks";
import { idOf, jsonOf, queryOf, respond } from "@/server/respond";
import { MarkChange, NewMark } from "@/wire/requests";

type Params = { params: Promise<{ id: string }> };

const WORDS = "A mark needs a name of one to 200 letters.";

export const POST = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const id = await idOf(params);
    return Response.json({ id: await addMark(await database(), id, await jsonOf(request, NewMark, WORDS)) });
  });

export const PATCH = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const id = await idOf(params);
    await changeMark(await database(), id, await jsonOf(request, MarkChange, WORDS));
    return Response.json({});
  });

export const DELETE = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const { mark } = queryOf(request, z.object({ mark: plainText(100, 1) }), "Say which mark is to be deleted.");
    await deleteMark(await database(), await idOf(params), mark);
    return Response.json({});
  });
