import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

const options = z.object({
  along: z.enum(["upright", "across"]).default("upright").meta({
    title: "Lies",
    description: "How the nap comes to lie on the sheet",
  }),
  shells: z.enum(["all in view", "those with picked edges"]).default("all in view").meta({
    title: "Shells",
    description: "All follow the picked edges that lie nearest to them in space, or only shells that have some",
  }),
});

/** Turns shells so that a nap that is drawn over the asset runs one way on the sheet. */
export const followNap: EditOperation<z.infer<typeof options>> = {
  id: "follow-nap",
  title: "Follow the nap",
  about:
    "Turns shells so that the picked edges, taken as the nap of the cloth, run upright or across on all of them: grain, brushed metal and strokes run on over the whole asset.",
  kind: "edit",
  stage: "level",
  heading: "Upright",
  acts: "edges",
  picks: true,
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/follow-nap")),
};
