import { z } from "zod";
import { loaded, type SelectOperation } from "../operation";

const options = z.object({
  share: z.number().min(1).max(90).default(20).meta({
    title: "Share",
    description: "How much of the area of what is visible is picked, beginning with what is seen least",
    unit: "%",
  }),
});

/** Picks the faces that are seen least: they may be smaller on the sheet. */
export const pickLeastSeen: SelectOperation<z.infer<typeof options>> = {
  id: "pick-least-seen",
  title: "Pick: Least seen",
  about:
    "Picks the faces that are seen least, from all round or from the views that are marked: what can be smaller on the sheet, or squeezed.",
  kind: "select",
  stage: "level",
  heading: "Density",
  acts: "parts",
  options,
  run: loaded(() => import("../large/pick-least-seen")),
};
