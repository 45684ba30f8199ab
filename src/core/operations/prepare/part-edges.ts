import { z } from "zod";
import { partEdges } from "../../prepare/repairs";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { mendParts } from "./repair";

/** Gives the faces at edges with three or more of them vertices of their own, so that they come apart there. */
export const partManyFaced: EditOperation<Record<string, never>> = {
  id: "part-edges",
  title: "Part edges with many faces",
  about: "Gives the faces at edges with three or more of them vertices of their own, so that they come apart there.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options: z.object({}),
  run: (asset, scope) =>
    mendParts(
      asset,
      scope,
      (part, culprits) => partEdges(part, culprits("manyFaced")),
      "No edge has three or more faces.",
      (parts) => `Part edges with many faces on ${count(parts, "part")}`,
    ),
};
