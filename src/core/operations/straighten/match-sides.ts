import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { restOption, spacingOption } from "./rest";

const options = z.object({ spacing: spacingOption, rest: restOption });

/** Makes two opposite sides of a strip as long as each other, and alike in spacing. */
export const matchSides: EditOperation<z.infer<typeof options>> = {
  id: "match-sides",
  title: "Match sides",
  about:
    "Makes two picked runs of edges of a shell as long as each other, edge by edge where they have as many: patterns do not shear along the strip. Each keeps its form.",
  kind: "edit",
  stage: "unfold",
  heading: "Straighten",
  acts: "edges",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/match-sides")),
};
