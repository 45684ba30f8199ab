import { z } from "zod";
import { encodeDelta } from "@/core/formats/asset-bundle";
import { UserError } from "@/core/layout/user-error";
import { database } from "@/server/database";
import { binary, respond } from "@/server/respond";
import { stepHistory } from "@/server/revisions";

const Step = z.object({
  base: z.number().int().min(0),
  step: z.union([z.enum(["undo", "redo"]), z.object({ to: z.number().int().min(0) })]),
});

/** Undo, redo, or a jump: moves the head along the history and answers what differs. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const parsed = Step.safeParse(await request.json().catch(() => null));
    if (!parsed.success) throw new UserError("The step cannot be read.");
    const { base, step } = parsed.data;
    const { history, delta } = await stepHistory(await database(), (await params).id, base, step);
    return binary(encodeDelta(delta, { history }));
  });
