import { z } from "zod";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { mendParts } from "./repair";

const options = z.object({
  which: z
    .enum(["all", "concave"])
    .default("all")
    .meta({ title: "Which", description: "All faces of more than four corners, or concave ones only" }),
});

/** Cuts concave faces, and if wanted all of more than four corners, into triangles; picked ones where faces are picked. */
export const cutPolygonsOp: EditOperation<z.infer<typeof options>> = {
  id: "cut-polygons",
  title: "Cut polygons into triangles",
  about: "Cuts concave faces, and if wanted all of more than four corners, into triangles; of picked faces only those.",
  kind: "edit",
  stage: "brief",
  mends: { faults: { concave: { which: "concave" }, polygons: {} } },
  acts: "parts",
  big: true,
  options: options,
  run: (asset, scope, { which }) =>
    mendParts(
      asset,
      scope,
      (repairs, shape, culprits) => {
        const found = [...(culprits("concave") ?? []), ...((which === "all" && culprits("polygons")) || [])];
        const picked = scope.selection?.kind === "faces" ? scope.selection.items.get(shape.id) : undefined;
        const wanted = picked && new Set(picked);
        return repairs.cutPolygons(shape, wanted ? found.filter((f) => wanted.has(f)) : found);
      },
      "No such faces were found.",
      (parts) => `Cut polygons on ${count(parts, "part")}`,
    ),
};
