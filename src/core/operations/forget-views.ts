import { z } from "zod";
import { UserError } from "../layout/user-error";
import type { EditOperation } from "./operation";
import { count } from "./words";

/** Takes all marked views off: the asset is looked at from all round again. */
export const forgetViews: EditOperation<Record<string, never>> = {
  id: "forget-views",
  title: "Forget marked views",
  about: "Seams are led to where little is seen from all round again, as before views were marked.",
  kind: "edit",
  stage: "seams",
  heading: "Visibility",
  acts: "asset",
  locked: "may",
  options: z.object({}),
  run(asset) {
    if (!asset.views.length) throw new UserError("No view is marked: what is seen from all round counts alike.");
    return { asset: { ...asset, views: [] }, words: `Forget ${count(asset.views.length, "marked view")}`, notes: [] };
  },
};
