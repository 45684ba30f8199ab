import { z } from "zod";
import { type EditOperation, loaded } from "./operation";

const options = z.object({
  passes: z.number().int().min(0).max(200).default(20).meta({
    title: "Passes",
    description: "Passes of minimising stretch; 0 keeps angles only (conformal)",
    unit: "passes",
  }),
  skip: z
    .boolean()
    .default(false)
    .meta({ title: "Leave out what cannot lie flat", description: "Unfold the other shells when one cannot lie flat" }),
});

/** Lays shells flat: conformal with a free border, then with less stretch, never flipping a face. */
export const unfold: EditOperation<z.infer<typeof options>> = {
  id: "unfold",
  title: "Unfold",
  about:
    "Flattens shells along their seams with little stretch. Shells that are laid out already keep their place, turn and density.",
  kind: "edit",
  stage: "unfold",
  fits: ["faces", "shells"],
  heading: "Flatten",
  key: "U",
  command: "unfold",
  given: { skip: true },
  mends: { findings: ["unmapped", "flipped"] },
  acts: "shells",
  keeps: true,
  options,
  run: loaded(() => import("./large/unfold")),
};
