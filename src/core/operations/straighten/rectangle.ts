import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { restOption, spacingOption } from "./rest";

const options = z.object({ spacing: spacingOption, rest: restOption });

/** Lays strips, tubes, patches of quads and four-cornered shells as rectangles. */
export const rectangle: EditOperation<z.infer<typeof options>> = {
  id: "rectangle",
  title: "Straighten: Rectangles",
  about:
    "Lays strips, rings and patches of quads as rectangles whose rows and columns are as long as in space; other shells with four corners as well, which you may pick as points. With faces picked only those, and the rest follows.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  fits: ["shells"],
  key: "alt+R",
  acts: "shells",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/rectangle")),
};
