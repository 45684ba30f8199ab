import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  longest: z.boolean().default(false).meta({
    title: "Longest side where unclear",
    description: "Where a shell touches several about alike, take the side with the longest border in place of asking",
  }),
});

/** Moves picked shells onto their mates. */
export const graft: EditOperation<z.infer<typeof options>> = {
  id: "graft",
  title: "Graft",
  about:
    "Moves, turns and scales the picked shells onto the neighbour they share the longest border with, and joins them; pick edges and Join for another side.",
  kind: "edit",
  stage: "seams",
  moves: true,
  heading: "Join",
  key: "shift+G",
  acts: "shells",
  picks: true,
  options,
  run: loaded(() => import("./large/graft")),
};
