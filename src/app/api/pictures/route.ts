import { z } from "zod";
import { plainText } from "@/core/formats/schema-words";
import { database } from "@/server/database";
import { addPicture, listPictures } from "@/server/pictures";
import { bodyOf, queryOf, respond } from "@/server/respond";

export const dynamic = "force-dynamic";

const Named = z.object({ name: plainText(200, 1) });

export const GET = (request: Request) =>
  respond(request, async () => Response.json({ pictures: await listPictures(await database()) }));

/** Takes a picture into the library, under ?name=N. */
export const POST = (request: Request) =>
  respond(request, async () => {
    const { name } = queryOf(request, Named, "The picture has no name.");
    return Response.json({ id: await addPicture(await database(), name, await bodyOf(request)) });
  });
