import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

/** Clears seams: the smaller shell is moved, turned and scaled onto its mates; where that is not enough both are unfolded again. */
export const join: EditOperation<Record<string, never>> = {
  id: "join",
  title: "Join",
  about:
    "Removes the seam from the picked edges: the smaller shell is moved to its neighbours, or both are unfolded again in place.",
  kind: "edit",
  stage: "seams",
  moves: true,
  fits: ["edges"],
  heading: "By hand",
  key: "J",
  acts: "edges",
  options: z.object({}),
  run: loaded(() => import("./large/join")),
};
