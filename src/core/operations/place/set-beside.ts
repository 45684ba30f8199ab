import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

const options = z.object({
  gap: z.number().min(0).max(256).default(8).meta({
    title: "Gap",
    description: "Left between both sides, in the asset's resolution",
    unit: "px",
  }),
});

/** Sets shells beside their neighbours without joining them. */
export const setBeside: EditOperation<z.infer<typeof options>> = {
  id: "set-beside",
  title: "Set beside",
  about:
    "Moves and turns the picked shells to lie beside the neighbour they share the longest seam with, side to side, as a net that one can read; nothing is joined or scaled.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  picks: true,
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/set-beside")),
};
