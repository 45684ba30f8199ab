import { type Bits, clearBit, fullBits, getBit, makeBits, setBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import { faceCount } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { creasedEdges, unwoundEdges, withoutLooseEnds } from "./creased";
import { draftPiece, type PieceAnswer, type PieceAsk } from "./draft-piece";
import { joinedFaces, type Source } from "./piece";

export interface DraftOptions {
  /** Faces meeting at this angle or more are parted first, radians. */
  readonly angle: number;
  /** Mean stretch (symmetric Dirichlet energy, 1 = isometric) beyond which a shell is split. */
  readonly limit: number;
  /** Seams to begin with besides creases; they stay. */
  readonly seams?: Bits;
  /** Told the share that is done; throws to stop. */
  readonly onStep?: (share: number) => void;
  /** Works on a piece, somewhere else where there is room; here when not given. */
  readonly piece?: (ask: PieceAsk) => Promise<PieceAnswer>;
}

/** Joining stops to be tried for pairs of shells together larger than this. */
const MOST_FACES_TO_JOIN = 20_000;
/** Of the way to the limit: how much a shell may be stretched that is two joined. */
const JOINED = 0.75;
const MOST_ROUNDS = 12;

/**
 * Makes a layout from nothing: creases first, then every shell is opened, unfolded and checked, and split until it
 * neither flips nor overlaps itself nor stretches beyond the limit; then shells are joined again where that holds
 * without the seam between them. Shells lie each in its own place, at world size. The same comes out wherever and in
 * whatever order pieces are worked on.
 */
export async function draftLayout(source: Source, options: DraftOptions): Promise<Layout> {
  const drafting = new Drafting(source, options);
  await drafting.splitAll();
  await drafting.joinBack();
  await drafting.minimise();
  return drafting.layout();
}

class Drafting {
  private readonly cut: Bits;
  private readonly cornerUv: Float64Array;
  private readonly shellOfFace: Int32Array;
  private shells: Uint32Array[] = [];
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

  private tell(share: number): void {
    this.options.onStep?.(share);
  }

  private ask(ask: PieceAsk, share: () => number): Promise<PieceAnswer> {
    this.tell(share());
    const { piece } = this.options;
    return piece ? piece(ask) : Promise.resolve(draftPiece(this.source, ask, () => this.tell(share())));
  }

  async splitAll(): Promise<void> {
    await this.splitEach(joinedFaces(this.source, iota(this.total), this.cut));
    // In an order of their own, whichever was done first.
    this.shells.sort((a, b) => a[0]! - b[0]!);
    this.shells.forEach((faces, shell) => {
      for (const f of faces) this.shellOfFace[f] = shell;
    });
  }

  private async splitEach(groups: readonly Uint32Array[]): Promise<void> {
    await Promise.all(groups.map((faces) => this.split(faces)));
  }

  /** Lays faces flat, in as many shells as it takes. */
  private async split(faces: Uint32Array): Promise<void> {
    const { cut } = this;
    const { limit } = this.options;
    const { cuts, cornerUv } = await this.ask(
      { what: "judge", faces, cut, limit },
      () => (0.8 * this.done) / this.total,
    );
    if (!cuts) {
      this.done += faces.length;
      this.place(faces, cornerUv!);
      this.shells.push(faces);
      return;
    }
    for (const e of cuts) setBit(cut, e);
    await this.splitEach(joinedFaces(this.source, faces, cut));
  }

  /** Gives the corners of faces their coordinates. */
  private place(faces: Uint32Array, cornerUv: Float64Array): void {
    const { faceStart } = this.source.mesh;
    let at = 0;
    for (const f of faces)
      for (let c = 2 * faceStart[f]!; c < 2 * faceStart[f + 1]!; c++) this.cornerUv[c] = cornerUv[at++]!;
  }

  /** Takes out seams between pairs of shells, the dearest first, where the two lie flat as one. */
  async joinBack(): Promise<void> {
    const tried = new Set<string>();
    for (let round = 0; round < MOST_ROUNDS; round++) {
      const seams = this.seamsBetween().filter((s) => !tried.has(s.key));
      const tries = await this.tryEach(seams, () => 0.8 + 0.15 * Math.min(1, round / 6));
      let joined = 0;
      tries.forEach((outcome, i) => {
        if (!outcome) return;
        tried.add(seams[i]!.key);
        if (!outcome.cornerUv) return;
        this.join(seams[i]!, outcome.edges, outcome.faces, outcome.cornerUv);
        joined++;
      });
      if (!joined) return;
    }
  }

  /**
   * Tries to join each pair whose two shells no pair before it has joined, as if one were tried after another: a pair
   * waits for those before it that share a shell with it. Null for those that were not tried.
   */
  private tryEach(seams: readonly Seam[], share: () => number): Promise<Array<Tried | null>> {
    /** Whether a shell is taken, once all pairs so far are tried. */
    const taken = new Map<number, Promise<boolean>>();
    return Promise.all(
      seams.map((seam) => {
        const before = Promise.all([taken.get(seam.a) ?? false, taken.get(seam.b) ?? false]);
        const outcome = before.then(([a, b]) => (a || b ? null : this.tryJoin(seam, share)));
        [seam.a, seam.b].forEach((shell, side) => {
          const after = Promise.all([before, outcome]).then(([was, now]) => was[side]! || now?.cornerUv !== undefined);
          // The outcome reports a failure.
          taken.set(
            shell,
            after.catch(() => true),
          );
        });
        return outcome;
      }),
    );
  }

  private async tryJoin(seam: Seam, share: () => number): Promise<Tried> {
    const edges = longestRun(
      this.source,
      seam.edges.filter((e) => !getBit(this.lasting, e)),
    );
    const faces = Uint32Array.from([...this.shells[seam.a]!, ...this.shells[seam.b]!]).sort();
    if (!edges.length) return { edges, faces };
    const cut = this.cut.slice();
    for (const e of edges) clearBit(cut, e);
    const limit = 1 + (this.options.limit - 1) * JOINED;
    return { edges, faces, ...(await this.ask({ what: "join", faces, cut, limit }, share)) };
  }

  private join(seam: Seam, edges: readonly number[], faces: Uint32Array, cornerUv: Float64Array): void {
    for (const e of edges) clearBit(this.cut, e);
    this.shells[seam.a] = new Uint32Array(0);
    this.shells[seam.b] = new Uint32Array(0);
    this.place(faces, cornerUv);
    for (const f of faces) this.shellOfFace[f] = this.shells.length;
    this.shells.push(faces);
  }

  /** Seams between two shells, with what they cost, the dearest for the border they are part of first. */
  private seamsBetween(): Seam[] {
    const { topology: t, cost } = this.source;
    const between = new Map<string, Seam>();
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      if (edgeFaceCount(t, e) !== 2 || !getBit(this.cut, e)) continue;
      const a = this.shellOfFace[t.cornerFace[edgeCorner(t, e)]!]!;
      const b = this.shellOfFace[t.cornerFace[edgeCorner(t, e, 1)]!]!;
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

  /** Minimises stretch of the result: until then every shell was only kept under the limit. */
  async minimise(): Promise<void> {
    const { cut } = this;
    const { faceStart } = this.source.mesh;
    const work = this.shells.filter((faces) => faces.length);
    const corners = (faces: Uint32Array): Float64Array => {
      const parts = Array.from(faces, (f) => this.cornerUv.subarray(2 * faceStart[f]!, 2 * faceStart[f + 1]!));
      const out = new Float64Array(parts.reduce((n, p) => n + p.length, 0));
      let at = 0;
      for (const part of parts) {
        out.set(part, at);
        at += part.length;
      }
      return out;
    };
    await Promise.all(
      work.map(async (faces) => {
        const { cornerUv } = await this.ask({ what: "minimise", faces, cut, cornerUv: corners(faces) }, () => 0.96);
        if (cornerUv) this.place(faces, cornerUv);
      }),
    );
  }

  layout(): Layout {
    const { mesh } = this.source;
    const t = topologyOf(mesh);
    for (let e = 0 as Edge; e < t.edgeCount; e++) if (edgeFaceCount(t, e) !== 2) clearBit(this.cut, e);
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

/** What came of trying to join two shells; without coordinates they stay apart. */
interface Tried extends PieceAnswer {
  readonly edges: readonly number[];
  readonly faces: Uint32Array;
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
