import { z } from "zod";
import { windAlike } from "../../prepare/repairs";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { mendParts } from "./repair";

/** Turns faces over so that neighbours run alike; closed shapes face outwards. */
export const windFacesAlike: EditOperation<Record<string, never>> = {
  id: "wind-alike",
  title: "Wind faces alike",
  about: "Turns faces over so that neighbours run alike; closed shapes face outwards.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options: z.object({}),
  run: (asset, scope) =>
    mendParts(
      asset,
      scope,
      (part) => windAlike(part),
      "All faces are wound alike.",
      (parts) => `Wind faces alike on ${count(parts, "part")}`,
    ),
};
