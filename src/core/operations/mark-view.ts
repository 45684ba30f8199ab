import { z } from "zod";
import { UserError } from "../layout/user-error";
import { MOST_VIEWS } from "../layout/views";
import { length3 } from "../numeric/length";
import type { EditOperation } from "./operation";
import { count } from "./words";

const way = (axis: string) =>
  z
    .number()
    .min(-1e6)
    .max(1e6)
    .default(0)
    .meta({ title: axis, description: "Of the way from the asset to who looks, in world space" });
const options = z.object({ x: way("x"), y: way("y"), z: way("z") });

/** Marks a side from which the asset will be seen. */
export const markView: EditOperation<z.infer<typeof options>> = {
  id: "mark-view",
  title: "Mark this view",
  about: "Tells that the asset will be seen from where Form looks at it: seams are led to the sides that are not.",
  kind: "edit",
  stage: "seams",
  heading: "Visibility",
  acts: "asset",
  locked: "may",
  takesEye: true,
  options,
  run(asset, _, { x, y, z }) {
    const length = length3(x, y, z);
    if (!(length > 0)) throw new UserError("Say from where the asset is looked at: x, y and z of the way to the eye.");
    if (asset.views.length >= MOST_VIEWS) throw new UserError(`At most ${MOST_VIEWS} views can be marked.`);
    const views = [...asset.views, [x / length, y / length, z / length] as const];
    return { asset: { ...asset, views }, words: `Mark a view: ${count(views.length, "view")} in all`, notes: [] };
  },
};
