import { z } from "zod";
import { UserError } from "@/core/layout/user-error";
import { database } from "@/server/database";
import { addMark, changeMark, deleteMark } from "@/server/marks";
import { respond } from "@/server/respond";

type Params = { params: Promise<{ id: string }> };

const Words = { name: z.string().trim().min(1).max(200), note: z.string().max(2000).default("") };
const New = z.object({ ...Words, automatic: z.boolean().optional(), number: z.number().int().min(0).optional() });
const Changed = z.object({ ...Words, id: z.string().max(100) });

async function parsed<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
  const result = schema.safeParse(await request.json().catch(() => null));
  if (!result.success) throw new UserError("A mark needs a name of one to 200 letters.");
  return result.data;
}

export const POST = (request: Request, { params }: Params) =>
  respond(async () =>
    Response.json({ id: await addMark(await database(), (await params).id, await parsed(request, New)) }),
  );

export const PATCH = (request: Request, { params }: Params) =>
  respond(async () => {
    const { id, name, note } = await parsed(request, Changed);
    await changeMark(await database(), (await params).id, id, name, note);
    return Response.json({});
  });

export const DELETE = (request: Request, { params }: Params) =>
  respond(async () => {
    await deleteMark(await database(), (await params).id, new URL(request.url).searchParams.get("mark") ?? "");
    return Response.json({});
  });
