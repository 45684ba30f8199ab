import { z } from "zod";
import { type EditOperation, loaded } from "../operation";

const options = z.object({
  place: z
    .boolean()
    .default(false)
    .meta({ title: "Apply the place as well", description: "Otherwise the part keeps its origin where it is" }),
});

/** Writes rotation and scale into the vertices; the part looks and measures as before. */
export const applyTransform: EditOperation<z.infer<typeof options>> = {
  id: "apply-transform",
  title: "Apply transform",
  about: "Writes rotation and scale of the parts into their vertices. Nothing looks or measures differently.",
  kind: "edit",
  stage: "brief",
  heading: "Parts",
  mends: { faults: { turned: {}, uneven: {}, mirrored: {} } },
  acts: "parts",
  big: true,
  options,
  run: loaded(() => import("../large/apply-transform")),
};
