import { z } from "zod";
import { cutPolygons } from "../../prepare/repairs";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { mendParts } from "./repair";

const options = z.object({
  which: z
    .enum(["all", "concave"])
    .default("all")
    .meta({ title: "Which", description: "All faces of more than four corners, or concave ones only" }),
});

/** Cuts concave faces, and if wanted all of more than four corners, into triangles. */
export const cutPolygonsOp: EditOperation<z.infer<typeof options>> = {
  id: "cut-polygons",
  title: "Cut polygons into triangles",
  about: "Cuts concave faces, and if wanted all of more than four corners, into triangles.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  big: true,
  options: options,
  run: (asset, scope, { which }) =>
    mendParts(
      asset,
      scope,
      (shape, culprits) =>
        cutPolygons(shape, [...(culprits("concave") ?? []), ...((which === "all" && culprits("polygons")) || [])]),
      "No face is to be cut.",
      (parts) => `Cut polygons on ${count(parts, "part")}`,
    ),
};
