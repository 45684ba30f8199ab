import { z } from "zod";
import { encodeChanges } from "@/core/formats/asset-bundle";
import { UserError } from "@/core/layout/user-error";
import { database } from "@/server/database";
import { binary, respond } from "@/server/respond";
import { stepHistory } from "@/server/store";

const Step = z.object({ base: z.number().int().min(0), direction: z.enum(["undo", "redo"]) });

/** Undo and redo: moves the head along the history and answers the layouts that differ. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const parsed = Step.safeParse(await request.json().catch(() => null));
    if (!parsed.success) throw new UserError("The step cannot be read.");
    const { history, changes } = await stepHistory(
      await database(),
      (await params).id,
      parsed.data.base,
      parsed.data.direction,
    );
    return binary(encodeChanges(changes, { history }));
  });
