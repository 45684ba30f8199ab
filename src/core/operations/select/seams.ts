import { z } from "zod";
import { pickEdges } from "./pick-edges";

/** Picks all seams. */
export const seams = pickEdges({
  id: "pick-seams",
  title: "Pick: Seams",
  about: "Picks every edge that is cut.",
  options: z.object({}),
  edges: (_, { cut }) => cut,
});
