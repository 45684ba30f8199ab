import { z } from "zod";
import { LINES } from "../../straighten/edge-runs";
import { type EditOperation, loaded } from "../operation";
import { restOption, spacingOption } from "./rest";

const options = z.object({
  line: z.enum(LINES).default("nearest axis").meta({
    title: "Along",
    description: "Across, upright, whichever is nearer, or the line between a run's own ends",
  }),
  spacing: spacingOption,
  rest: restOption,
});

/** Lays runs of edges on straight lines. */
export const straightenEdges: EditOperation<z.infer<typeof options>> = {
  id: "straighten-edges",
  title: "Straighten edges",
  about:
    "Lays every run of picked edges on a straight line of the sheet; the rest of their shells follows, never flipped.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  key: "shift+E",
  acts: "edges",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/straighten-edges")),
};
