import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { restOption, spacingOption } from "./rest";

const options = z.object({ spacing: spacingOption, rest: restOption });

/** Squares the ends of strips, their last row as deep as it is in space. */
export const squareEnds: EditOperation<z.infer<typeof options>> = {
  id: "square-ends",
  title: "Square ends",
  about:
    "Lays every picked run of border edges square to the strip it ends, so far from the row before it as it is in space.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  acts: "edges",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/square-ends")),
};
