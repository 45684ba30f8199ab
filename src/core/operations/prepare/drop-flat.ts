import { z } from "zod";
import { dropFlat } from "../../prepare/repairs";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { mendParts } from "./repair";

/** Removes faces without area, and repeated vertices from faces. */
export const dropFlatFaces: EditOperation<Record<string, never>> = {
  id: "drop-flat",
  title: "Remove faces without area",
  about: "Removes faces without area, and repeated vertices from faces.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options: z.object({}),
  run: (asset, scope) =>
    mendParts(
      asset,
      scope,
      (part, culprits) => dropFlat(part, culprits("flat")),
      "Every face has an area and no vertex twice.",
      (parts) => `Remove faces without area on ${count(parts, "part")}`,
    ),
};
