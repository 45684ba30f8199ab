import { z } from "zod";
import { dropStray } from "../../prepare/repairs";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { mendParts } from "./repair";

/** Removes vertices that no face uses. */
export const dropStrayVertices: EditOperation<Record<string, never>> = {
  id: "drop-stray",
  title: "Remove stray vertices",
  about: "Removes vertices that no face uses.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options: z.object({}),
  run: (asset, scope) =>
    mendParts(
      asset,
      scope,
      (part, culprits) => dropStray(part, culprits("stray")),
      "There is no stray vertex.",
      (parts) => `Remove stray vertices on ${count(parts, "part")}`,
    ),
};
