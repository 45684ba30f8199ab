export { fitRuns, freeAll, takeRuns } from "./bit-grid";
export {
  addBarrierGradient,
  addBarrierMetric,
  barrierEnergy,
  borderCrosses,
  setBorder,
} from "./border";
export { borderRadii, closePoints } from "./border-room";
export { factor, solvePairs } from "./cholesky";
export { beginCoarsening, coarsenTo } from "./coarsen";
export { dissect } from "./dissect";
export { forgetBorder, growBorder } from "./growing-border";
export { putBack } from "./put-back";
export { laplacian, restShapes, takeAngles } from "./rest-shapes";
export { smooth } from "./smooth";
export { markStretched, stepBeforeFlip, stretchEnergy, stretchGradient, stretchMetric } from "./stretch";
export { addScaled, dot } from "./vectors";

/** The first byte of linear memory that is free. */
export function firstFree(): usize {
  return __heap_base;
}
