import { database } from "@/server/database";
import { deletePicture, pictureBytes } from "@/server/pictures";
import { binary, idOf, respond } from "@/server/respond";

type Params = { params: Promise<{ id: string }> };

export const GET = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const { type, bytes } = await pictureBytes(await database(), await idOf(params));
    return binary(bytes, type, { "x-content-type-options": "nosniff", "content-disposition": "attachment" });
  });

export const DELETE = (request: Request, { params }: Params) =>
  respond(request, async () => {
    await deletePicture(await database(), await idOf(params));
    return Response.json({});
  });
