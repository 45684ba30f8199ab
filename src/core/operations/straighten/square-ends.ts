import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { END_FORMS, restOption, spacingOption } from "./rest";

const options = z.object({
  ends: z.enum(END_FORMS).default("square").meta({
    title: "Ends",
    description:
      "Square to the strip, or as they run: then each point is only moved as far from the row before it as in space",
  }),
  spacing: spacingOption.meta({ ...spacingOption.meta(), only: { ends: ["square"] } }),
  rest: restOption,
});

/** Squares the ends of strips, or only makes their last row or ring as deep as it is in space. */
export const squareEnds: EditOperation<z.infer<typeof options>> = {
  id: "square-ends",
  title: "Square ends",
  about:
    "Lays every picked run of border edges square to the strip it ends, or leaves its form; either way as far from the row before it as in space.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  acts: "edges",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/square-ends")),
};
