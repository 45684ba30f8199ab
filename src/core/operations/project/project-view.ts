import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

const way = (axis: string) =>
  z
    .number()
    .min(-1e6)
    .max(1e6)
    .default(0)
    .meta({ title: axis, description: "Of the way from the asset to who looks, in world space" });
const options = z.object({ x: way("x"), y: way("y"), z: way("z") });

/** Projects faces flat, as they are seen. */
export const projectView: EditOperation<z.infer<typeof options>> = {
  id: "project-view",
  title: "Project from this view",
  about: "Projects the picked faces flat, as Form shows them now, and lays them beside what is there.",
  kind: "edit",
  stage: "unfold",
  heading: "Project",
  acts: "faces",
  takesEye: true,
  options,
  run: loaded(() => import("../large/project-view")),
};
