export { contactScore, fitContact, fitNear, fitRuns } from "./bit-fit";
export { beginGrid, copyAll, copyRows, freeAll, gridBytes, keepLevels, limitTo, setRuns } from "./bit-grid";
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
export { shellDistances } from "./distances";
export { forgetBorder, growBorder } from "./growing-border";
export { putBack } from "./put-back";
export { laplacian, restShapes, takeAngles } from "./rest-shapes";
export { settleWeights } from "./settle-costs";
export { settleFree, settleHits, settleMove, settleSeparate, settleWeigh } from "./settle-move";
export { settleBegin, settlePage, settleRoom, settleWork } from "./settle-page";
export { settleRelax, settleSum } from "./settle-relax";
export { smooth } from "./smooth";
export { markStretched, stepBeforeFlip, stretchEnergy, stretchGradient, stretchMetric } from "./stretch";
export { addScaled, dot } from "./vectors";

/** The first byte of linear memory that is free. */
export function firstFree(): usize {
  return __heap_base;
}
