import type { z } from "zod";
import { UserError } from "../layout/user-error";
import { MOST_VIEWS } from "../layout/views";
import { eyeOptions, eyeWay } from "./eye-options";
import type { EditOperation } from "./operation";
import { count } from "./words";

/** Marks a side from which the asset will be seen. */
export const markView: EditOperation<z.infer<typeof eyeOptions>> = {
  id: "mark-view",
  title: "Mark this view",
  about: "Tells that the asset will be seen from where Form looks at it: seams are led to the sides that are not.",
  kind: "edit",
  stage: "seams",
  heading: "Visibility",
  acts: "asset",
  locked: "may",
  takesEye: true,
  options: eyeOptions,
  run(asset, _, eye) {
    const way = eyeWay(eye);
    if (asset.views.length >= MOST_VIEWS) throw new UserError(`At most ${MOST_VIEWS} views can be marked.`);
    const views = [...asset.views, way];
    return { asset: { ...asset, views }, words: `Mark a view: ${count(views.length, "view")} in all`, notes: [] };
  },
};
