import { z } from "zod";
import type { Measures } from "./measure";

/** The figures kept with an asset and its revisions, shown on Home and on the rail. */
export const Summary = z.object({
  faces: z.number(),
  shells: z.number(),
  unmapped: z.number(),
  stretch: z.number().nullable(),
  spread: z.number().nullable(),
  coverage: z.number().nullable(),
  overlap: z.number().nullable(),
  flipped: z.number(),
  collapsed: z.number(),
  seams: z.number(),
});
export type Summary = z.infer<typeof Summary>;

export const summaryOf = (m: Measures): Summary => ({
  faces: m.faces,
  shells: m.allShells,
  unmapped: m.cornersWithoutUv,
  stretch: m.symmetricDirichlet ?? null,
  spread: m.texelDensityVariation ?? null,
  coverage: m.coverage ?? null,
  overlap: m.overlapShare ?? null,
  flipped: m.flippedTriangles ?? 0,
  collapsed: m.collapsedTriangles ?? 0,
  seams: m.cutLength,
});
