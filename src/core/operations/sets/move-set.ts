import { z } from "zod";
import { UserError } from "../../layout/user-error";
import type { EditOperation } from "../operation";
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
    const to = scope.set + (by === "up" ? -1 : 1);
    if (to < 0 || to >= asset.sets.length)
      throw new UserError(`This set is the ${by === "up" ? "first" : "last"} already.`);
    return {
      asset: swapped(asset, scope.set, to),
      words: `Move UV set ${asset.sets[scope.set]!.name} ${by}`,
      notes: [],
    };
  },
};
