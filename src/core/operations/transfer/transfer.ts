import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

const options = z.object({
  from: z.string().default("").meta({ title: "From", description: "The part whose layout is copied", from: "parts" }),
  way: z.enum(["best", "connectivity", "surface"]).default("best").meta({
    title: "By",
    description: "How its faces are found again: by how they are joined, by the nearest surface, or whichever fits",
  }),
});

/** Copies the layout of one part to others: joined alike, numbered otherwise or mirrored, or merely near in shape. */
export const transfer: EditOperation<z.infer<typeof options>> = {
  id: "transfer",
  title: "Transfer the layout",
  about:
    "Copies a part's layout to the picked parts: by how their faces are joined, whatever the numbering, or by the nearest surface.",
  kind: "edit",
  stage: "brief",
  moves: true,
  heading: "Parts",
  acts: "parts",
  picks: true,
  big: true,
  options,
  run: loaded(() => import("../large/transfer")),
};
