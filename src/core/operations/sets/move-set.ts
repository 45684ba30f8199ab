import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
import { targetSet } from "../scope";
import { swapped } from "./swap-sets";

const options = z.object({
  by: z.enum(["up", "down"]).default("up").meta({ title: "Move", description: "Towards the first or the last" }),
});

/** Moves the target UV set up or down the list. */
export const moveSet: EditOperation<z.infer<typeof options>> = {
  id: "move-set",
  title: "Reorder the target set",
  about: "Moves the target UV set up or down the list.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  options,
  run(asset, scope, { by }) {
    const set = targetSet(asset, scope);
    const other = asset.sets[asset.sets.indexOf(set) + (by === "up" ? -1 : 1)];
    if (!other) throw new UserError(`This set is the ${by === "up" ? "first" : "last"} already.`);
    return { asset: swapped(asset, set, other), words: `Move UV set ${set.name} ${by}`, notes: [] };
  },
};
