import { z } from "zod";
import { collapseNeedles } from "../../prepare/repairs";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { mendParts } from "./repair";

/** Joins the ends of the shortest side of needle faces. */
export const collapseNeedleFaces: EditOperation<Record<string, never>> = {
  id: "collapse-needles",
  title: "Collapse needles",
  about: "Joins the ends of the shortest side of needle faces.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options: z.object({}),
  run: (asset, scope) =>
    mendParts(
      asset,
      scope,
      (part, culprits) => collapseNeedles(part, culprits("needles")),
      "There is no needle with a short side.",
      (parts) => `Collapse needles on ${count(parts, "part")}`,
    ),
};
