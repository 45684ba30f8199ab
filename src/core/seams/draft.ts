import { crossesItself } from "../check/gaps";
import { type Bits, clearBit, fullBits, getBit, makeBits, setBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import { faceCount } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { shortestPaths } from "../numeric/heap";
import { iota } from "../numeric/iota";
import { asMesh, borderCorners, formOf, type ShellMesh } from "../unfold/shell-mesh";
import { unfoldFurther, unfoldShell } from "../unfold/unfold-shell";
import { bisect } from "./bisect";
import { creasedEdges, unwoundEdges, withoutLooseEnds } from "./creased";
import { openUp } from "./open-up";
import { extractPiece, joinedFaces, type Piece, pieceShell, type Source } from "./piece";
import { angleDefects, pieceArea, pieceGraph } from "./piece-graph";

export interface DraftOptions {
  /** Faces meeting at this angle or more are parted first, radians. */
  readonly angle: number;
  /** Mean stretch (symmetric Dirichlet energy, 1 = isometric) beyond which a shell is split. */
  readonly limit: number;
  /** Seams to begin with besides creases; they stay. */
  readonly seams?: Bits;
  /** Told the share of faces done; throws to stop. */
  readonly onStep?: (share: number) => void;
}

const PASSES = 12;
/** Relative gain of a pass below which a shell is done. */
const ENOUGH = 2e-3;
/** Interior curvature beyond which unfolding in one piece is not worth trying: half a sphere has 2 pi. */
const TOO_ROUND = 2.6 * Math.PI;
/** Joining stops to be tried for pairs of shells together larger than this. */
const MOST_FACES_TO_JOIN = 20_000;

/**
 * Makes a layout from nothing: creases first, then every shell is opened, unfolded and checked, and split until it
 * neither flips nor overlaps itself nor stretches beyond the limit; then shells are joined again where that holds
 * without the seam between them. Shells lie each in its own place, at world size.
 */
export function draftLayout(source: Source, options: DraftOptions): Layout {
  const drafting = new Drafting(source, options);
  drafting.splitAll();
  drafting.joinBack();
  drafting.lessen();
  return drafting.layout();
}

class Drafting {
  private readonly cut: Bits;
  private readonly cornerUv: Float64Array;
  private readonly shellOfFace: Int32Array;
  private readonly shells: Uint32Array[] = [];
  private readonly total: number;
  /** Edges whose seams stay: between faces wound against each other, and those that are to be kept. */
  private readonly lasting: Bits;
  private done = 0;

  constructor(
    private readonly source: Source,
    private readonly options: DraftOptions,
  ) {
    const { mesh, world } = source;
    this.cut = withoutLooseEnds(mesh, creasedEdges(mesh, world, options.angle));
    this.lasting = options.seams?.slice() ?? makeBits(source.topology.edgeCount);
    for (const e of unwoundEdges(mesh)) setBit(this.lasting, e);
    for (let i = 0; i < this.cut.length; i++) this.cut[i]! |= this.lasting[i]!;
    this.cornerUv = new Float64Array(2 * mesh.cornerVertex.length);
    this.total = faceCount(mesh);
    this.shellOfFace = new Int32Array(this.total).fill(-1);
  }

  splitAll(): void {
    const all = iota(this.total);
    const waiting = joinedFaces(this.source, all, this.cut);
    for (let faces = waiting.pop(); faces; faces = waiting.pop()) {
      this.options.onStep?.((0.8 * this.done) / this.total);
      const piece = extractPiece(this.source, faces, this.cut);
      const cuts = this.judge(piece);
      if (!cuts) {
        this.done += faces.length;
        continue;
      }
      for (const e of cuts) setBit(this.cut, e);
      waiting.push(...joinedFaces(this.source, faces, this.cut));
    }
  }

  /** Accepts a piece, or answers the edges to cut it along. */
  private judge(piece: Piece): Uint32Array | null {
    const form = formOf(pieceShell(this.source, piece));
    const round = this.roundness(piece);
    if (!form.isDisk) {
      const blob = form.faults === 0 && form.genus === 0 && form.loops.length < 2;
      const cuts =
        blob && !round.long && round.curvature > TOO_ROUND
          ? bisect(this.source, piece)
          : openUp(this.source, piece, false);
      if (cuts.length) return cuts;
      const halves = bisect(this.source, piece);
      if (halves.length) return halves;
    }
    if (form.isDisk && round.long && Math.abs(round.curvature) > Math.PI) {
      const slit = openUp(this.source, piece);
      if (slit.length) return slit;
    }
    const shell = pieceShell(this.source, piece);
    if (round.curvature <= TOO_ROUND || piece.face.length < 12) {
      const uv = this.unfold(shell, this.options.limit);
      if (uv) {
        this.accept(piece, uv);
        return null;
      }
    }
    const halves = bisect(this.source, piece);
    if (halves.length) return halves;
    this.accept(piece, roundTable(shell));
    return null;
  }

  /** Curvature inside a piece, and whether it reaches far for its width, as a finger or a sausage does. */
  private roundness(piece: Piece): { curvature: number; long: boolean } {
    const g = pieceGraph(this.source, piece);
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

  /** The shell laid flat within the limit, or nothing. */
  private unfold(shell: ShellMesh, limit: number): Float64Array | null {
    const result = unfoldShell(shell, { passes: PASSES, enough: ENOUGH, until: limit });
    if (!result.ok || result.energy > limit) return null;
    return crossesItself(outlineOf(shell, result.uv)) ? null : result.uv;
  }

  private accept(piece: Piece, uv: Float64Array): void {
    this.place(piece, uv);
    for (const f of piece.face) this.shellOfFace[f] = this.shells.length;
    this.shells.push(piece.face);
  }

  private place(piece: Piece, uv: Float64Array): void {
    for (let c = 0; c < piece.corner.length; c++) {
      const v = piece.mesh.cornerVertex[c]!;
      this.cornerUv[2 * piece.corner[c]!] = uv[2 * v]!;
      this.cornerUv[2 * piece.corner[c]! + 1] = uv[2 * v + 1]!;
    }
  }

  /** Takes out seams between pairs of shells, the dearest first, where the two lie flat as one. */
  joinBack(): void {
    const tried = new Set<string>();
    const limit = 1 + (this.options.limit - 1) * 0.75;
    for (let round = 0; round < 12; round++) {
      const seams = this.seamsBetween().filter((s) => !tried.has(s.key));
      if (!seams.length) return;
      const taken = new Set<number>();
      for (const seam of seams) {
        if (taken.has(seam.a) || taken.has(seam.b)) continue;
        tried.add(seam.key);
        this.options.onStep?.(0.8 + 0.2 * Math.min(1, round / 6));
        if (!this.joinPair(seam, limit)) continue;
        taken.add(seam.a);
        taken.add(seam.b);
      }
      if (!taken.size) return;
    }
  }

  /** Seams between two shells, with what they cost, the dearest for the border they are part of first. */
  private seamsBetween(): Seam[] {
    const { topology: t, cost } = this.source;
    const between = new Map<string, Seam>();
    for (let e = 0; e < t.edgeCount; e++) {
      if (edgeFaceCount(t, e) !== 2 || !getBit(this.cut, e)) continue;
      const a = this.shellOfFace[t.cornerFace[t.edgeCorners[t.edgeCornerStart[e]!]!]!]!;
      const b = this.shellOfFace[t.cornerFace[t.edgeCorners[t.edgeCornerStart[e]! + 1]!]!]!;
      if (a === b) continue;
      const key = a < b ? `${a},${b}` : `${b},${a}`;
      const seam = between.get(key) ?? { key, a: Math.min(a, b), b: Math.max(a, b), cost: 0, edges: [] };
      seam.cost += cost[e]!;
      seam.edges.push(e);
      between.set(key, seam);
    }
    const worth = (s: Seam) => s.cost / Math.sqrt(Math.min(this.shells[s.a]!.length, this.shells[s.b]!.length));
    return [...between.values()]
      .filter((s) => this.shells[s.a]!.length + this.shells[s.b]!.length <= MOST_FACES_TO_JOIN)
      .sort((x, y) => worth(y) - worth(x));
  }

  private joinPair(seam: Seam, limit: number): boolean {
    const edges = longestRun(
      this.source,
      seam.edges.filter((e) => !getBit(this.lasting, e)),
    );
    for (const e of edges) clearBit(this.cut, e);
    const faces = Uint32Array.from([...this.shells[seam.a]!, ...this.shells[seam.b]!]).sort();
    const piece = extractPiece(this.source, faces, this.cut);
    const shell = pieceShell(this.source, piece);
    const uv = edges.length && formOf(shell).isDisk ? this.unfold(shell, limit) : null;
    if (!uv) {
      for (const e of edges) setBit(this.cut, e);
      return false;
    }
    this.shells[seam.a] = new Uint32Array(0);
    this.shells[seam.b] = new Uint32Array(0);
    this.accept(piece, uv);
    return true;
  }

  /** Lessens the stretch of what has come out: until then every shell was only brought under the limit. */
  lessen(): void {
    for (const faces of this.shells) {
      if (!faces.length) continue;
      const piece = extractPiece(this.source, faces, this.cut);
      const shell = pieceShell(this.source, piece);
      const uv = new Float64Array(2 * shell.wedges.length);
      for (let c = 0; c < piece.corner.length; c++)
        for (let d = 0; d < 2; d++) uv[2 * piece.mesh.cornerVertex[c]! + d] = this.cornerUv[2 * piece.corner[c]! + d]!;
      const result = unfoldFurther(shell, uv, {
        passes: PASSES,
        enough: ENOUGH,
        onPass: () => this.options.onStep?.(0.99),
      });
      if (result.ok && !crossesItself(outlineOf(shell, result.uv))) this.place(piece, result.uv);
    }
  }

  layout(): Layout {
    const { mesh } = this.source;
    const t = topologyOf(mesh);
    for (let e = 0; e < t.edgeCount; e++) if (edgeFaceCount(t, e) !== 2) clearBit(this.cut, e);
    const set = { cut: this.cut, mapped: fullBits(faceCount(mesh)) };
    const s = structureOf(mesh, set);
    const uv = new Float64Array(2 * s.wedgeCount);
    for (let c = 0; c < s.cornerWedge.length; c++) {
      uv[2 * s.cornerWedge[c]!] = this.cornerUv[2 * c]!;
      uv[2 * s.cornerWedge[c]! + 1] = this.cornerUv[2 * c + 1]!;
    }
    return { ...set, uv, pinned: makeBits(s.wedgeCount) };
  }
}

interface Seam {
  readonly key: string;
  readonly a: number;
  readonly b: number;
  cost: number;
  readonly edges: number[];
}

/** The longest connected run among edges: joining along two separate runs would leave a hole between them. */
function longestRun(source: Source, edges: readonly number[]): number[] {
  const { topology: t, cost } = source;
  const at = new Map<number, number[]>();
  for (const e of edges)
    for (const v of [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!]) at.set(v, [...(at.get(v) ?? []), e]);
  const seen = new Set<number>();
  let best: number[] = [];
  let most = -1;
  for (const seed of edges) {
    if (seen.has(seed)) continue;
    const run = [seed];
    seen.add(seed);
    for (let i = 0; i < run.length; i++)
      for (const v of [t.edgeVertices[2 * run[i]!]!, t.edgeVertices[2 * run[i]! + 1]!])
        for (const e of at.get(v)!)
          if (!seen.has(e)) {
            seen.add(e);
            run.push(e);
          }
    const sum = run.reduce((total, e) => total + cost[e]!, 0);
    if (sum > most) {
      most = sum;
      best = run;
    }
  }
  return best;
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
