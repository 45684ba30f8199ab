import { z } from "zod";
import { worldPositions } from "../../mesh/transform";
import { innerGaps } from "../../seams/inner-gaps";
import { pickEdges } from "./pick-edges";

/** Picks what is left open within shells. */
export const pickInnerGaps = pickEdges({
  id: "pick-inner-gaps",
  title: "Pick: Gaps within shells",
  about: "Picks open edges inside shells: round holes, and seams whose two sides lie in one place.",
  options: z.object({}),
  edges: ({ mesh, metric }, layout) => innerGaps(mesh, layout, worldPositions(mesh, metric)),
});
