import type { Bits } from "../layout/bits";
import { shortestPaths } from "../numeric/heap";
import { formOf, type ShellMesh } from "../unfold/shell-mesh";
import { stretchTail } from "../unfold/triangle-energy";
import { unfoldShell } from "../unfold/unfold-shell";
import { bisect } from "./bisect";
import { openUp } from "./open-up";
import { extractPiece, joinedFaces, type Piece, pieceShell, type Source } from "./piece";
import { angleDefects, pieceArea, pieceGraph } from "./piece-graph";
import type { SectionJudge } from "./turned-sections";

// What Draft asks of one piece. Each looks at nothing but the piece's own faces and the seams between them, so that
// pieces can be worked on side by side, in any order.

const PASSES = 12;
/** Interior curvature beyond which unfolding in one piece is not worth trying: half a sphere has 2 pi. */
const TOO_ROUND = 2.6 * Math.PI;

/** What a shell has to keep to. */
export interface Bounds {
  /** Mean stretch. */
  readonly limit: number;
  /** The stretch beyond which only a hundredth of the area may be. */
  readonly tail: number;
}

/** The tail of shells that are laid out by themselves, and of such as come from elsewhere. */
export const TAIL = 1.35;
export const LOOSE_TAIL = 1.4;

/** What to do with a piece. */
export type PieceAsk = {
  /** Ascending. */
  readonly faces: Uint32Array;
  readonly cut: Bits;
  /** To lay it flat, or if that cannot be to tell where it is to be cut; or to lay it flat and nothing else. */
  readonly what: "judge" | "weigh";
} & Bounds;

/** Edges of the part to cut, or coordinates for the corners of the faces, in their order; neither when it cannot be. */
export interface PieceAnswer {
  readonly cuts?: Uint32Array;
  readonly cornerUv?: Float64Array;
  /** Of the map that the coordinates are of: its mean stretch, and that beyond which only a hundredth of the area is. */
  readonly energy?: number;
  readonly tail?: number;
}

/** The coordinates of an answer with their stretch; nothing where it has none. */
export const weighedBy = ({ cornerUv, energy, tail }: PieceAnswer) =>
  cornerUv ? { cornerUv, energy: energy!, tail: tail! } : null;

type OnPass = () => void;

interface Laid {
  /** 2 per point. */
  readonly uv: Float64Array;
  readonly energy: number;
  readonly tail: number;
}

/** @param onPass called between the passes of unfolding; throws to stop */
export function draftPiece(source: Source, ask: PieceAsk, onPass: OnPass): PieceAnswer {
  const piece = extractPiece(source, ask.faces, ask.cut);
  if (ask.what === "judge") return judge(source, piece, ask, onPass);
  const flat = laidFlat(pieceShell(source, piece), ask, onPass);
  return flat ? answerOf(piece, flat) : {};
}

/** A shell with the least stretch; nothing where it is no disk, stretched beyond the limits, or lies over itself. */
export function laidFlat(shell: ShellMesh, { limit, tail }: Bounds, onPass: OnPass): Laid | null {
  if (!formOf(shell).isDisk) return null;
  const flat = unfoldShell(shell, { passes: PASSES, above: limit, onStep: onPass });
  if (!flat.ok || flat.energy > limit || flat.crosses) return null;
  const { uv, energy } = flat;
  const own = stretchTail(shell, uv);
  return own > tail ? null : { uv, energy, tail: own };
}

const answerOf = (piece: Piece, { uv, energy, tail }: Laid): PieceAnswer => ({
  ...layoutFrom(piece, uv),
  energy,
  tail,
});

/** Coordinates by corner out of those by point. */
function layoutFrom(piece: Piece, uv: Float64Array): PieceAnswer {
  const cornerUv = new Float64Array(2 * piece.corner.length);
  for (let c = 0; c < piece.corner.length; c++) {
    const v = piece.mesh.cornerVertex[c]!;
    cornerUv[2 * c] = uv[2 * v]!;
    cornerUv[2 * c + 1] = uv[2 * v + 1]!;
  }
  return { cornerUv };
}

/** Lays a piece flat, or returns the edges to cut it along. */
function judge(source: Source, piece: Piece, bounds: Bounds, onPass: OnPass): PieceAnswer {
  const shell = pieceShell(source, piece);
  const form = formOf(shell);
  const round = roundness(source, piece);
  onPass();
  if (!form.isDisk) {
    const blob = form.faults === 0 && form.genus === 0 && form.loops.length < 2;
    const cuts =
      blob && !round.long && round.curvature > TOO_ROUND ? bisect(source, piece) : openUp(source, piece, false);
    if (cuts.length) return { cuts };
    const halves = bisect(source, piece);
    if (halves.length) return { cuts: halves };
  }
  if (form.isDisk && round.long && Math.abs(round.curvature) > Math.PI) {
    const slit = openUp(source, piece);
    if (slit.length) return { cuts: slit };
  }
  if (round.curvature <= TOO_ROUND || piece.face.length < 12) {
    const flat = laidFlat(shell, bounds, onPass);
    if (flat) return answerOf(piece, flat);
  }
  const halves = bisect(source, piece);
  return halves.length ? { cuts: halves } : layoutFrom(piece, roundTable(shell));
}

/** Curvature inside a piece, and whether it reaches far for its width, as a finger or a sausage does. */
function roundness(source: Source, piece: Piece): { curvature: number; long: boolean } {
  const g = pieceGraph(source, piece);
  const curvature = angleDefects(piece, g.loopOf).reduce((a, b) => a + b, 0);
  const border: number[] = [];
  let girth = 0;
  for (let v = 0; v < g.loopOf.length; v++) if (g.loopOf[v]! >= 0) border.push(v);
  for (let e = 0; e < g.edges; e++) if (g.right[e]! < 0) girth += g.length[e]!;
  const far = (sources: number[]) => {
    const { distance } = shortestPaths(g.graph, g.length, sources);
    let best = 0;
    for (let v = 0; v < distance.length; v++) if (distance[v]! > distance[best]! && distance[v]! < Infinity) best = v;
    return { vertex: best, distance: distance[best]! };
  };
  if (!border.length) {
    const across = far([far([0]).vertex]).distance;
    return { curvature, long: across > 1.3 * Math.sqrt(pieceArea(piece)) };
  }
  return { curvature, long: far(border).distance > 0.5 * girth };
}

/** A single face that cannot lie flat in its own shape (no area, or over itself), on a circle: every triangulation fits. */
function roundTable(shell: ShellMesh): Float64Array {
  const n = shell.wedges.length;
  const uv = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    uv[2 * i] = 1e-6 * Math.cos((2 * Math.PI * i) / n);
    uv[2 * i + 1] = 1e-6 * Math.sin((2 * Math.PI * i) / n);
  }
  return uv;
}

/** Judges sections of turned bodies. @param lies whether some faces, as they are cut, lie flat within the bounds */
export const sectionJudge = (
  source: Source,
  lies: (faces: Uint32Array, cut: Bits) => Promise<boolean>,
  bounds: Bounds,
  onPass: OnPass,
): SectionJudge => ({
  async faces(faces, cut) {
    for (const group of joinedFaces(source, faces, cut)) if (!(await lies(group, cut))) return false;
    return true;
  },
  shell: async (shell) => laidFlat(shell, bounds, onPass) !== null,
});
