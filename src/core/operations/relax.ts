import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  strength: z.number().min(0.01).max(1).default(0.5).meta({
    title: "Strength",
    description: "How far each point goes, of the way to where the faces about it are stretched least",
  }),
  passes: z
    .number()
    .int()
    .min(1)
    .max(1000)
    .default(20)
    .meta({ title: "Passes", description: "How often every point is moved", unit: "passes" }),
});

/** Evens out stretch where it is, point by point, without laying anything out anew. */
export const relax: EditOperation<z.infer<typeof options>> = {
  id: "relax",
  title: "Relax",
  about:
    "Evens out stretch point by point, on the picked points or all of their shells; pinned points and the rest stay, tangles are undone.",
  kind: "edit",
  stage: "unfold",
  heading: "Flatten",
  key: "shift+U",
  fits: ["points"],
  acts: "faces",
  keeps: true,
  options,
  run: loaded(() => import("./large/relax")),
};
