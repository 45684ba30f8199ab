import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

const options = z.object({
  to: z
    .enum(["nearest axis", "horizontal", "vertical"])
    .default("nearest axis")
    .meta({ title: "Edge to", description: "The direction that the picked edges get" }),
});

/** Turns shells so that an edge lies along an axis. */
export const turnByEdge: EditOperation<z.infer<typeof options>> = {
  id: "turn-by-edge",
  title: "Turn by an edge",
  about: "Turns each shell about its middle until its picked edges lie across or upright. Nothing is stretched.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  acts: "edges",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/turn-by-edge")),
};
