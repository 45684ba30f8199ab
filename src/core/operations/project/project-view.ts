import type { z } from "zod";
import { eyeOptions } from "../eye-options";
import { type EditOperation, loaded } from "../operation";

/** Projects faces flat, as they are seen. */
export const projectView: EditOperation<z.infer<typeof eyeOptions>> = {
  id: "project-view",
  title: "Project from this view",
  about: "Projects the picked faces flat, as Form shows them now, and lays them beside what is there.",
  kind: "edit",
  stage: "unfold",
  heading: "Project",
  acts: "faces",
  takesEye: true,
  options: eyeOptions,
  run: loaded(() => import("../large/project-view")),
};
