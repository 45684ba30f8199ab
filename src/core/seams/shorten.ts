import type { Bits } from "../layout/bits";
import type { Bounds } from "./draft-piece";
import { cutsOfShell } from "./seam-cuts";
import { areaOf } from "./seam-field";
import type { Chain, Change, GraphShell, SeamGraph } from "./seam-graph";
import { type Move, movesOfChain } from "./seam-moves";
import { SeamWays } from "./seam-ways";

/** A shell laid flat. */
export interface Weighed {
  readonly energy: number;
  readonly tail: number;
  /** 2 per corner of its faces, in their order. */
  readonly cornerUv: Float64Array;
}

export interface ShortenOptions {
  /** What shells are held to, where they are not beyond it already. */
  readonly bounds: Bounds;
  /** What a mean stretch of 1 more is worth, in seam length by the root of the area; 0 to take whatever the limit allows. */
  readonly price: number;
  /** Whether the seam along an edge may be taken off or moved. */
  readonly mayMove: (edge: number) => boolean;
  /** Faces laid flat, as they are cut; nothing when they are no disk, flip, overlap themselves or are stretched beyond bounds. */
  readonly weigh: (faces: Uint32Array, cut: Bits, bounds: Bounds) => Promise<Weighed | null>;
  /** How many faces may be laid flat in all before only small shells are tried any more. */
  readonly effort: number;
  /** Kinds of moves that are tried; all where not given. */
  readonly kinds?: ReadonlySet<Move["kind"]>;
  /** Mean stretch of all shells together that no move may lead beyond. */
  readonly mostMean?: number;
  /** Told after every move that was taken; throws to stop, true to end with what was reached. */
  readonly onTaken?: (graph: SeamGraph) => boolean;
}

/** Of the root of the area: what a shell costs. */
const SHELL = 0.02;
/** Of the root of the area: what a move has to gain to be taken. */
const LEAST_GAIN = 1e-4;

/** Moves that are weighed side by side, however many workers there are: so that the same comes of it everywhere. */
const SIDE_BY_SIDE = 2;
/** Of all faces: how many a small shell has at the most. */
const FEW = 0.03;
/** Merges that are tried as one, to begin with and at the most: more where that goes well. */
const FIRST_BUNDLED = 16;
const MOST_BUNDLED = 64;
const BUNDLE_AGAIN = 8;

interface Candidate {
  readonly move: Move;
  readonly key: string;
  /** What it saves, stretch left out. */
  readonly gain: number;
  /** The most that it may be worth. */
  readonly bound: number;
}

interface Taken {
  readonly move: Move;
  readonly outcome: Outcome;
}

/** What came of weighing a move. */
interface Outcome {
  readonly shells: readonly GraphShell[];
  /** By how much the stretch of the touched shells grows, times area. */
  readonly stretched: number;
}

/**
 * Makes seams shorter, one move after another, always the one that is worth most: seams are taken off, whole or in part,
 * slits closed, lines drawn straighter, ends slid along, and, where stretch has a price, cuts laid. Every move is judged by
 * laying flat the shells that it touches, the most promising first, until none that is left could be worth more.
 *
 * Source: Li, Kaufman, Kim, Solomon, Sheffer, OptCuts: joint optimization of surface cuts and parameterization (2018) for
 * the exchange of seam length for stretch; Poranne, Tarini, Huber, Panozzo, Sorkine-Hornung, Autocuts: simultaneous
 * distortion and cut optimization for UV mapping (2017).
 */
export class Shortening {
  private readonly root: number;
  private readonly ways: SeamWays;
  private readonly outcomes = new Map<string, Outcome | null>();
  private readonly failures = new Failures();
  private effort: number;
  /** Faces below which shells are small. */
  private readonly few: number;
  /** How many merges are tried as one, and after how many single ones that is tried again. */
  private bundle: number = FIRST_BUNDLED;
  private bundleAgain = 0;
  private readonly movesByChain = new Map<string, readonly Move[]>();
  private readonly cutsByShell = new Map<number, readonly Move[]>();

  constructor(
    readonly graph: SeamGraph,
    private readonly options: ShortenOptions,
  ) {
    this.root = Math.sqrt(graph.field.area);
    this.effort = options.effort;
    this.few = FEW * graph.field.faceArea.length;
    this.ways = new SeamWays(graph);
  }

  /** Takes moves until none is worth anything, or `onTaken` ends it. */
  async run(): Promise<void> {
    for (;;) {
      const candidates = this.candidates();
      const best = (await this.bundled(candidates)) ?? (await this.bestMove(candidates));
      if (!best) return;
      this.graph.take(best.move, best.move.shells, best.outcome.shells);
      if (this.options.onTaken?.(this.graph)) return;
    }
  }

  /**
   * Several of the most promising merges with one shell as one move, where they lie flat together: a shell that many small
   * ones join is laid out once for many of them. More at once where that went well, fewer where it did not.
   */
  private async bundled(candidates: readonly Candidate[]): Promise<Taken | null> {
    const [first] = candidates;
    if (this.bundle < 2 || !first || this.options.price || first.move.kind !== "merge") return null;
    const size = (id: number) => this.graph.shells.get(id)!.faces.length;
    const hub = first.move.shells.reduce((a, b) => (size(b) > size(a) ? b : a));
    const off: number[] = [];
    const shells = new Set([hub]);
    let count = 0;
    for (const { move } of candidates) {
      if (count === this.bundle) break;
      if (move.kind !== "merge" || !move.shells.includes(hub)) continue;
      const other = move.shells.find((id) => id !== hub)!;
      if (shells.has(other)) continue;
      shells.add(other);
      off.push(...move.off);
      count++;
    }
    if (count < 2) return null;
    const move: Move = { kind: "merge", off, on: [], shells: [...shells] };
    const outcome = await this.outcomeOf(move);
    this.effort -= this.facesOf(move);
    this.bundle = outcome ? Math.min(MOST_BUNDLED, 2 * this.bundle) : this.bundle >> 1;
    if (!outcome && this.bundle < 2) this.bundleAgain = BUNDLE_AGAIN;
    return outcome && outcome.stretched <= this.room() ? { move, outcome } : null;
  }

  /** By how much stretch may grow in all, times area. */
  private room(): number {
    const { mostMean } = this.options;
    if (mostMean === undefined) return Infinity;
    let [area, now] = [0, 0];
    for (const shell of this.graph.shells.values()) {
      area += shell.area;
      now += excess(shell);
    }
    return (mostMean - 1) * area - now;
  }

  /** @param fewer by how many shells there are fewer */
  private worth(gain: number, stretched: number, fewer: number): number {
    const { price } = this.options;
    return gain + SHELL * this.root * fewer - (price ? (price * stretched * this.root) / this.graph.field.area : 0);
  }

  private async bestMove(candidates: readonly Candidate[]): Promise<Taken | null> {
    if (this.bundle < 2 && --this.bundleAgain <= 0) this.bundle = 2;
    let best: Taken | null = null;
    let most = LEAST_GAIN * this.root;
    for (let at = 0; at < candidates.length && candidates[at]!.bound > most; ) {
      const batch: Candidate[] = [];
      let fresh = 0;
      while (at < candidates.length && candidates[at]!.bound > most && fresh < SIDE_BY_SIDE) {
        const candidate = candidates[at++]!;
        if (this.outcomes.has(candidate.key)) batch.push(candidate);
        else if (this.effort > 0 || this.facesOf(candidate.move) < this.few) {
          batch.push(candidate);
          fresh++;
        }
      }
      await Promise.all(batch.map((candidate) => this.weigh(candidate)));
      for (const { move, key, gain } of batch) {
        const outcome = this.outcomes.get(key);
        if (!outcome) continue;
        if (outcome.stretched > this.room()) continue;
        const worth = this.worth(gain, outcome.stretched, move.shells.length - outcome.shells.length);
        if (worth <= most) continue;
        most = worth;
        best = { move, outcome };
      }
    }
    return best;
  }

  /** All moves that may be worth something, the most promising first. */
  private candidates(): Candidate[] {
    const { graph } = this;
    const moves = graph.chains().flatMap((chain) => this.movesOf(chain));
    if (this.options.price && !this.options.kinds) for (const id of graph.shells.keys()) moves.push(...this.cutsOf(id));
    const out: Candidate[] = [];
    const least = LEAST_GAIN * this.root;
    for (const move of moves) {
      const key = keyOf(move);
      const known = this.outcomes.get(key);
      if (known === null || this.failures.foretell(move, this.facesOf(move))) continue;
      const gain = this.ways.saving(move);
      const bound = known
        ? this.worth(gain, known.stretched, move.shells.length - known.shells.length)
        : this.worth(gain, -this.mostRelief(move), move.on.length ? 0 : move.shells.length - 1);
      if (bound > least) out.push({ move, key, gain, bound });
    }
    return out.sort((a, b) => b.bound - a.bound || (a.key < b.key ? -1 : 1));
  }

  private facesOf(move: Move): number {
    return move.shells.reduce((sum, id) => sum + this.graph.shells.get(id)!.faces.length, 0);
  }

  /** The most by which a move may lessen stretch: taking seams off never does. */
  private mostRelief({ on, shells }: Move): number {
    if (!on.length) return 0;
    return shells.reduce((sum, id) => sum + excess(this.graph.shells.get(id)!), 0);
  }

  private movesOf(chain: Chain): readonly Move[] {
    const { edges, a, b } = chain;
    const ends = [edges[0]!, edges.at(-1)!];
    const key = `${a},${b},${edges.length},${Math.min(...ends)},${Math.max(...ends)}`;
    let moves = this.movesByChain.get(key);
    if (!moves) {
      moves = movesOfChain(this.graph, this.ways, chain, this.options.mayMove, this.options.kinds);
      this.movesByChain.set(key, moves);
    }
    return moves;
  }

  private cutsOf(shell: number): readonly Move[] {
    let moves = this.cutsByShell.get(shell);
    if (!moves) {
      const { price } = this.options;
      const worthCutting = (price * excess(this.graph.shells.get(shell)!)) / this.graph.field.area > 0.01;
      moves = worthCutting ? cutsOfShell(this.graph, this.ways, shell) : [];
      this.cutsByShell.set(shell, moves);
    }
    return moves;
  }

  private async weigh({ move, key }: Candidate): Promise<void> {
    if (this.outcomes.has(key)) return;
    const outcome = await this.outcomeOf(move);
    this.outcomes.set(key, outcome);
    this.effort -= this.facesOf(move);
    if (!outcome) this.failures.add(move, this.facesOf(move));
  }

  private async outcomeOf(move: Move): Promise<Outcome | null> {
    const { graph, options } = this;
    const old = move.shells.map((id) => graph.shells.get(id)!);
    const bounds = {
      limit: mostOf(options.bounds.limit, ...old.map(({ energy }) => energy)),
      tail: mostOf(options.bounds.tail, ...old.map(({ tail }) => tail)),
    };
    const { groups, cut } = graph.after(move, move.shells);
    const shells: GraphShell[] = [];
    for (const faces of groups) {
      const weighed = await options.weigh(faces, cut, bounds);
      if (!weighed) return null;
      shells.push({ faces, area: areaOf(graph.field, faces), ...weighed });
    }
    const before = old.reduce((sum, shell) => sum + excess(shell), 0);
    return { shells, stretched: shells.reduce((sum, shell) => sum + excess(shell), 0) - before };
  }
}

/** The most of some numbers, those of shells that could not be laid flat left out. */
const mostOf = (...list: readonly number[]): number => Math.max(...list.filter(Number.isFinite));

/** What a shell counts as stretched that could not be laid flat. */
const UNLAID = 1.5;
/** A shell's stretch, over the area. */
const excess = ({ area, energy }: GraphShell): number => area * ((Number.isFinite(energy) ? energy : UNLAID) - 1);

/** A name for what a move does to which shells: these are never changed, so what it comes to is found once. */
function keyOf({ off, on, shells }: Move): string {
  return `${shells.join()}/${changeKey({ off, on })}`;
}
const changeKey = ({ off, on }: Change): string => `${hashOf(off)}/${hashOf(on)}`;

/**
 * Changes that came to nothing. The same, with more faces about it, comes to nothing again; and where taking some seams off
 * did, taking those and others off does.
 */
class Failures {
  private readonly faces = new Map<string, number>();
  /** Seams that could not be taken off, by their first edge. */
  private readonly sets = new Map<number, Array<{ readonly off: readonly number[]; readonly faces: number }>>();

  add(change: Change, faces: number): void {
    this.faces.set(changeKey(change), faces);
    if (change.on.length) return;
    const first = Math.min(...change.off);
    this.sets.set(first, [...(this.sets.get(first) ?? []), { off: change.off, faces }]);
  }

  foretell(change: Change, faces: number): boolean {
    if (faces >= (this.faces.get(changeKey(change)) ?? Infinity)) return true;
    if (change.on.length) return false;
    const off = new Set(change.off);
    return change.off.some((e) =>
      this.sets.get(e)?.some((failed) => failed.faces <= faces && failed.off.every((x) => off.has(x))),
    );
  }
}

function hashOf(edges: readonly number[]): string {
  let [a, b] = [0x811c9dc5, 5381];
  for (const e of edges) {
    a = Math.imul(a ^ e, 0x01000193);
    b = (Math.imul(b, 33) + e) | 0;
  }
  return `${edges.length}.${a}.${b}`;
}
