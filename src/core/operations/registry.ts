import type { z } from "zod";
import type { FindingKind } from "../layout/rules";
import { UserError } from "../layout/user-error";
import type { FaultKind } from "../prepare/faults";
import { assemble } from "./assemble";
import { breakOff } from "./break-off";
import { byGroup } from "./by-group";
import { byMaterial } from "./by-material";
import { byNormals } from "./by-normals";
import { centreLine } from "./centre-line";
import { acceptFindings } from "./check/accept-findings";
import { checkReport } from "./check/check-report";
import { pickWorseSmoothed } from "./check/pick-worse-smoothed";
import { setRules } from "./check/set-rules";
import { subdivide } from "./check/subdivide";
import { creased } from "./creased";
import { cut } from "./cut";
import { dome } from "./dome";
import { draft } from "./draft";
import { exportGlb } from "./export-glb";
import { exportObj } from "./export-obj";
import { exportPly } from "./export-ply";
import { forgetViews } from "./forget-views";
import { graft } from "./graft";
import { join } from "./join";
import { LEVELLING } from "./levelling";
import { lockSeams } from "./lock-seams";
import { markView } from "./mark-view";
import { measure } from "./measure";
import { mirrorSeams } from "./mirror-seams";
import { move } from "./move";
import { withImagesOption } from "./move-images";
import { movePoints } from "./move-points";
import { nextJoin } from "./next-join";
import { oneSpot } from "./one-spot";
import { openUp } from "./open-up";
import type { AnyOperation, Stage } from "./operation";
import { meaningful, optionFields } from "./option-fields";
import { pack } from "./pack";
import { panels } from "./panels";
import { groupParts } from "./parts/group-parts";
import { labelParts } from "./parts/label-parts";
import { lockParts } from "./parts/lock-parts";
import { merge } from "./parts/merge";
import { ownMesh } from "./parts/own-mesh";
import { pickSimilar } from "./parts/pick-similar";
import { renamePart } from "./parts/rename-part";
import { separate } from "./parts/separate";
import { setStatus } from "./parts/set-status";
import { splitOff } from "./parts/split-off";
import { takeOut } from "./parts/take-out";
import { ungroupParts } from "./parts/ungroup-parts";
import { unite } from "./parts/unite";
import { unlockParts } from "./parts/unlock-parts";
import { pin, unpin } from "./pin";
import { addPlot } from "./place/add-plot";
import { ARRANGING } from "./place/arranging";
import { bringBack } from "./place/bring-back";
import { intoFree } from "./place/into-free";
import { layLike } from "./place/lay-like";
import { nudge } from "./place/nudge";
import { removePlots } from "./place/remove-plots";
import { standUpright } from "./place/stand-upright";
import { applyTransform } from "./prepare/apply-transform";
import { closeGaps } from "./prepare/close-gaps";
import { collapseNeedleFaces } from "./prepare/collapse-needles";
import { cutPolygonsOp } from "./prepare/cut-polygons";
import { dropFlatFaces } from "./prepare/drop-flat";
import { dropStrayVertices } from "./prepare/drop-stray";
import { joinDoubled } from "./prepare/join-doubled";
import { movePart } from "./prepare/move-part";
import { partManyFaced } from "./prepare/part-edges";
import { pickDoubled } from "./prepare/pick-doubled";
import { setPivot } from "./prepare/set-pivot";
import { setResolution } from "./prepare/set-resolution";
import { setUnit } from "./prepare/set-unit";
import { windFacesAlike } from "./prepare/wind-alike";
import { freshStart } from "./project/fresh-start";
import { project } from "./project/project";
import { projectView } from "./project/project-view";
import { pullPoints } from "./pull-points";
import { relax } from "./relax";
import { relaxStroke } from "./relax-stroke";
import { repeatSeams } from "./repeat-seams";
import { rounded } from "./rounded";
import { pickByMaterial } from "./select/by-material";
import { connected } from "./select/connected";
import { convert } from "./select/convert";
import { flatRegion } from "./select/flat-region";
import { forgetSelection } from "./select/forget-selection";
import { grow } from "./select/grow";
import { pickInnerGaps } from "./select/inner-gaps";
import { invert } from "./select/invert";
import { pickLocked } from "./select/locked-seams";
import { loopPart } from "./select/loop-part";
import { loops } from "./select/loops";
import { mirrorPicked } from "./select/mirror";
import { nameSelection } from "./select/name-selection";
import { paths } from "./select/paths";
import { pickFaulty } from "./select/pick-faulty";
import { pickNamed } from "./select/pick-named";
import { pickSmall } from "./select/pick-small";
import { pickTile } from "./select/pick-tile";
import { rim } from "./select/rim";
import { rings } from "./select/rings";
import { seams } from "./select/seams";
import { sharpEdges } from "./select/sharp-edges";
import { shrink } from "./select/shrink";
import { strip } from "./select/strip";
import { addSet } from "./sets/add-set";
import { clearSet } from "./sets/clear-set";
import { copyToSet } from "./sets/copy-to-set";
import { deleteSet } from "./sets/delete-set";
import { describeSet } from "./sets/describe-set";
import { duplicateSet } from "./sets/duplicate-set";
import { mergeSets } from "./sets/merge-sets";
import { moveSet } from "./sets/move-set";
import { packedSet } from "./sets/packed-set";
import { redrawImages } from "./sets/redraw-images";
import { setAside } from "./sets/set-aside";
import { swapSets } from "./sets/swap-sets";
import { textureSet } from "./sets/texture-set";
import { unmap } from "./sets/unmap";
import { sheet } from "./sheet";
import { shorten } from "./shorten";
import { smoothBorders } from "./smooth-borders";
import { snapPoints } from "./snap-points";
import { splitPoints } from "./split-points";
import { alignPoints } from "./straighten/align-points";
import { matchSides } from "./straighten/match-sides";
import { rectangle } from "./straighten/rectangle";
import { regularOutline } from "./straighten/regular-outline";
import { squareEnds } from "./straighten/square-ends";
import { straightenAll } from "./straighten/straighten-all";
import { straightenEdges } from "./straighten/straighten-edges";
import { symmetrise } from "./straighten/symmetrise";
import { turnByEdge } from "./straighten/turn-by-edge";
import { straightenSeams } from "./straighten-seams";
import { addFile } from "./transfer/add-file";
import { exportLayout } from "./transfer/export-layout";
import { layLayout } from "./transfer/lay-layout";
import { mirrorHalf } from "./transfer/mirror-half";
import { replaceMesh } from "./transfer/replace-mesh";
import { transfer } from "./transfer/transfer";
import { turned } from "./turned";
import { unfold } from "./unfold";
import { unlockSeams } from "./unlock-seams";
import { weldPoints } from "./weld-points";

const LISTED: readonly AnyOperation[] = [
  draft,
  cut,
  breakOff,
  join,
  mirrorSeams,
  repeatSeams,
  graft,
  assemble,
  nextJoin,
  creased,
  rounded,
  dome,
  panels,
  openUp,
  turned,
  centreLine,
  byMaterial,
  byGroup,
  byNormals,
  shorten,
  straightenSeams,
  loops,
  loopPart,
  paths,
  rings,
  strip,
  grow,
  shrink,
  connected,
  flatRegion,
  invert,
  convert,
  rim,
  mirrorPicked,
  seams,
  pickInnerGaps,
  sharpEdges,
  nameSelection,
  pickNamed,
  forgetSelection,
  lockSeams,
  unlockSeams,
  pickLocked,
  markView,
  forgetViews,
  unfold,
  relax,
  relaxStroke,
  smoothBorders,
  oneSpot,
  project,
  projectView,
  freshStart,
  straightenEdges,
  rectangle,
  squareEnds,
  matchSides,
  turnByEdge,
  alignPoints,
  symmetrise,
  regularOutline,
  straightenAll,
  pullPoints,
  movePoints,
  snapPoints,
  weldPoints,
  splitPoints,
  ...LEVELLING,
  pack,
  move,
  ...ARRANGING,
  pin,
  unpin,
  pickTile,
  dropStrayVertices,
  dropFlatFaces,
  windFacesAlike,
  partManyFaced,
  collapseNeedleFaces,
  cutPolygonsOp,
  setUnit,
  setResolution,
  pickDoubled,
  joinDoubled,
  closeGaps,
  movePart,
  setPivot,
  applyTransform,
  renamePart,
  groupParts,
  ungroupParts,
  labelParts,
  setStatus,
  lockParts,
  unlockParts,
  splitOff,
  unite,
  merge,
  separate,
  ownMesh,
  takeOut,
  pickByMaterial,
  pickSimilar,
  addSet,
  duplicateSet,
  describeSet,
  moveSet,
  swapSets,
  clearSet,
  deleteSet,
  mergeSets,
  copyToSet,
  unmap,
  setAside,
  textureSet,
  packedSet,
  redrawImages,
  transfer,
  mirrorHalf,
  addFile,
  replaceMesh,
  layLayout,
  pickFaulty,
  pickSmall,
  pickWorseSmoothed,
  subdivide,
  setRules,
  acceptFindings,
  measure,
  exportObj,
  exportGlb,
  exportPly,
  exportLayout,
  sheet,
  checkReport,
];

/**
 * Every operation there is, in the order in which rows, palette and command line show them. Those that move shells can
 * move the images painted for them as well.
 */
export const OPERATIONS: readonly AnyOperation[] = LISTED.map(withImagesOption);

export { movesShells } from "./move-images";

/** Those that somebody asks for one by one. */
export {
  acceptFindings,
  addFile,
  addPlot,
  addSet,
  assemble,
  bringBack,
  clearSet,
  copyToSet,
  cut,
  deleteSet,
  describeSet,
  duplicateSet,
  groupParts,
  intoFree,
  join,
  labelParts,
  layLike,
  lockParts,
  lockSeams,
  mergeSets,
  move,
  movePoints,
  moveSet,
  nextJoin,
  nudge,
  ownMesh,
  packedSet,
  pickByMaterial,
  pickSimilar,
  pullPoints,
  relaxStroke,
  removePlots,
  renamePart,
  separate,
  setAside,
  setResolution,
  setStatus,
  standUpright,
  swapSets,
  takeOut,
  textureSet,
  unfold,
  ungroupParts,
  unite,
  unlockParts,
};

const byId = new Map(OPERATIONS.map((op) => [op.id, op]));

export function operationById(id: string): AnyOperation {
  const op = byId.get(id);
  if (!op) throw new UserError(`There is no operation called ${id}.`);
  return op;
}

/** Operations that stand in a stage, each under its heading. */
export const operationsIn = (stage: Stage): readonly AnyOperation[] =>
  OPERATIONS.filter((op) => op.stage === stage && op.heading !== undefined);

/** The operation that mends a finding, if there is one. */
export const mendOfFinding = (kind: FindingKind): AnyOperation | undefined =>
  OPERATIONS.find((op) => op.mends?.findings?.includes(kind));

/** The operation that mends a fault of a mesh, and the options it does so by. */
export function mendOfFault(kind: FaultKind): { op: AnyOperation; options: Readonly<Record<string, unknown>> } {
  const op = OPERATIONS.find((o) => o.mends?.faults?.[kind]);
  if (!op) throw new Error(`Nothing mends ${kind}.`);
  return { op, options: op.mends!.faults![kind] as Readonly<Record<string, unknown>> };
}

/** Options checked against the operation's schema, defaults filled in. @throws UserError naming the first bad one */
export function parseOptions(op: AnyOperation, raw: unknown): unknown {
  const result = op.options.safeParse(raw ?? {});
  if (result.success) return withoutMeaningless(op, result.data as Readonly<Record<string, unknown>>);
  const issue = result.error.issues[0]!;
  throw new UserError(`${op.title}: ${issue.path.join(".") || "the options"} ${faultOf(issue)}.`);
}

/** Options that have no meaning beside the others hold what they are when not given: nobody sees them. */
function withoutMeaningless(op: AnyOperation, data: Readonly<Record<string, unknown>>): unknown {
  const shown = new Set(meaningful(op, data));
  const hidden = optionFields(op).filter((f) => !shown.has(f));
  return hidden.length ? { ...data, ...Object.fromEntries(hidden.map((f) => [f.name, f.initial])) } : data;
}

function faultOf(issue: z.core.$ZodIssue): string {
  switch (issue.code) {
    case "too_small":
      return `must be at least ${issue.minimum}`;
    case "too_big":
      return `must be at most ${issue.maximum}`;
    case "invalid_value":
      return `must be one of ${issue.values.map(String).join(", ")}`;
    case "invalid_type":
      return `must be ${issue.expected === "int" ? "a whole number" : `a ${issue.expected}`}`;
    default:
      return "is not as it should be";
  }
}
