import { z } from "zod";
import { measure as measureAsset } from "../check/measure";
import { type MeasureOperation, resolutionOption } from "./operation";
import { shapesInScope } from "./scope";

const options = z.object({ resolution: resolutionOption });

/** Figures of a layout: stretch, density, coverage, overlap, gaps, seams. */
export const measure: MeasureOperation<z.infer<typeof options>> = {
  id: "measure",
  title: "Measure",
  about:
    "Measures a layout: shells, stretch of area and angle, flips, overlap, texel density, coverage, gaps, seam length.",
  kind: "measure",
  stage: "check",
  command: "measure",
  acts: "parts",
  options,
  run: (asset, scope, { resolution }) =>
    measureAsset(asset, resolution, scope.set, new Set(shapesInScope(asset, scope).map((p) => p.id))),
};
