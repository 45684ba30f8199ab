import { crossesItself } from "../check/gaps";
import type { Bits } from "../layout/bits";
import { topologyOf } from "../mesh/topology";
import { shortestPaths } from "../numeric/heap";
import { asMesh, borderCorners, formOf, type ShellMesh } from "../unfold/shell-mesh";
import { unfoldFurther, unfoldShell } from "../unfold/unfold-shell";
import { bisect } from "./bisect";
import { openUp } from "./open-up";
import { extractPiece, type Piece, pieceShell, type Source } from "./piece";
import { angleDefects, pieceArea, pieceGraph } from "./piece-graph";

// What Draft asks of one piece. Each looks at nothing but the piece's own faces and the seams between them, so that
// pieces can be worked on side by side, in any order.

const PASSES = 12;
/** Interior curvature beyond which unfolding in one piece is not worth trying: half a sphere has 2 pi. */
const TOO_ROUND = 2.6 * Math.PI;

/** What to do with a piece. */
export type PieceAsk = {
  /** Ascending. */
  readonly faces: Uint32Array;
  readonly cut: Bits;
} & (
  | { readonly what: "judge" | "join"; readonly limit: number }
  | { readonly what: "minimise"; readonly cornerUv: Float64Array }
);

/** Edges of the part to cut, or coordinates for the corners of the faces, in their order; neither when it cannot be. */
export interface PieceAnswer {
  readonly cuts?: Uint32Array;
  readonly cornerUv?: Float64Array;
}

type OnPass = () => void;

/** @param onPass called between the passes of unfolding; throws to stop */
export function draftPiece(source: Source, ask: PieceAsk, onPass: OnPass): PieceAnswer {
  const piece = extractPiece(source, ask.faces, ask.cut);
  if (ask.what === "judge") return judge(source, piece, ask.limit, onPass);
  if (ask.what === "minimise") return minimise(source, piece, ask.cornerUv, onPass);
  const shell = pieceShell(source, piece);
  const uv = formOf(shell).isDisk ? unfold(shell, ask.limit, onPass) : null;
  return uv ? layoutFrom(piece, uv) : {};
}

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
function judge(source: Source, piece: Piece, limit: number, onPass: OnPass): PieceAnswer {
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
    const uv = unfold(shell, limit, onPass);
    if (uv) return layoutFrom(piece, uv);
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

/** The shell unfolded within the limit, or nothing. */
function unfold(shell: ShellMesh, limit: number, onPass: OnPass): Float64Array | null {
  const result = unfoldShell(shell, { passes: PASSES, until: limit, onStep: onPass });
  if (!result.ok || result.energy > limit) return null;
  return crossesItself(outlineOf(shell, result.uv)) ? null : result.uv;
}

/** Minimises the stretch of a piece that lies flat already. */
function minimise(source: Source, piece: Piece, cornerUv: Float64Array, onPass: OnPass): PieceAnswer {
  const shell = pieceShell(source, piece);
  const uv = new Float64Array(2 * shell.wedges.length);
  for (let c = 0; c < piece.corner.length; c++)
    for (let d = 0; d < 2; d++) uv[2 * piece.mesh.cornerVertex[c]! + d] = cornerUv[2 * c + d]!;
  const result = unfoldFurther(shell, uv, { passes: PASSES, onStep: onPass });
  return result.ok && !crossesItself(outlineOf(shell, result.uv)) ? layoutFrom(piece, result.uv) : {};
}

/** UV ends of a shell's border edges, 4 per edge. */
export function outlineOf(shell: ShellMesh, uv: Float64Array): Float64Array {
  const mesh = asMesh(shell);
  const t = topologyOf(mesh);
  const corners = borderCorners(t);
  const out = new Float64Array(4 * corners.length);
  corners.forEach((c, i) => {
    const a = 2 * mesh.cornerVertex[c]!;
    const b = 2 * mesh.cornerVertex[t.cornerNext[c]!]!;
    out.set([uv[a]!, uv[a + 1]!, uv[b]!, uv[b + 1]!], 4 * i);
  });
  return out;
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
