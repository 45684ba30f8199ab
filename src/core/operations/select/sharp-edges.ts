import { z } from "zod";
import { worldPositions } from "../../mesh/transform";
import { creasedEdges } from "../../seams/creased";
import { pickEdges } from "./pick-edges";

const options = z.object({
  angle: z
    .number()
    .min(0)
    .max(180)
    .default(50)
    .meta({ title: "Angle", description: "Edges whose faces meet at this angle or more", unit: "°" }),
});

/** Picks edges by the angle of their faces. */
export const sharpEdges = pickEdges({
  id: "pick-sharp",
  title: "Pick: Sharp edges",
  about: "Picks every edge whose faces meet at the angle or more; nothing is cut.",
  options,
  edges: ({ mesh, metric }, _, { angle }) => creasedEdges(mesh, worldPositions(mesh, metric), (angle * Math.PI) / 180),
});
