import { type Bits, clearBit, getBit, makeBits, setBit } from "../layout/bits";
import type { Layout } from "../layout/layout";
import type { DraftedAs, DraftStyle } from "../layout/seam-wishes";
import { faceCount, vertexCount } from "../mesh/poly-mesh";
import { iota } from "../numeric/iota";
import { creasedEdges, unwoundEdges, withoutLooseEnds } from "./creased";
import { LARGE, seamsByTwin } from "./draft-by-twin";
import {
  type Bounds,
  draftPiece,
  LOOSE_TAIL,
  type PieceAnswer,
  type PieceAsk,
  sectionJudge,
  TAIL,
  weighedBy,
} from "./draft-piece";
import { joined, layoutOf, type State, stateOf, stretchOf } from "./draft-state";
import { type Halving, halvedState } from "./halved";
import { type Halves, HalvesFinder, mirroredCut, mirroredShell } from "./mirrored-halves";
import { joinedFaces, type Source } from "./piece";
import { areaOf, type SeamField, seamField } from "./seam-field";
import { type GraphShell, SeamGraph } from "./seam-graph";
import { JOINS } from "./seam-moves";
import { Shortening, type Weighed } from "./shorten";
import { turnedBody } from "./turned";
import { sectionsOf } from "./turned-sections";

export interface DraftOptions {
  /** Faces meeting at this angle or more are parted first, radians. */
  readonly angle: number;
  /** By its form when not given: turned bodies into sections, creases and tips elsewhere. */
  readonly style?: DraftStyle;
  /** Mean stretch (symmetric Dirichlet energy, 1 = isometric) beyond which a shell is split. */
  readonly limit: number;
  /** Seams to begin with besides creases; they stay. */
  readonly seams?: Bits;
  /** The way that points away from who looks, world space: seams that could lie anywhere lie there. */
  readonly back?: readonly [number, number, number];
  /** The axis that points up: forms whose halves mirror each other get seams that do; they may get others when not given. */
  readonly up?: 1 | 2;
  /** Halves long shells in a layout beside the others, which may fill a tile better. */
  readonly halving?: Halving;
  /** Told the share that is done; throws to stop. */
  readonly onStep?: (share: number) => void;
  /** Makes what works on pieces of a source, somewhere else where there is room; here when not given. */
  readonly pieces?: (source: Source) => (ask: PieceAsk) => Promise<PieceAnswer>;
  /** Stretch beyond which only a hundredth of a shell may be. */
  readonly tail?: number;
}

/** Where what is done is told, by step. */
const SHARES = { twin: 0.3, split: 0.4, shorten: 0.95 } as const;

/** How often as many faces as there are may be laid flat; less often where seams were found on a twin. */
const EFFORT = 80;
const LED_EFFORT = 2;

/**
 * Makes a layout from nothing. Turned bodies are cut into sections; elsewhere creases are cut first, then every shell is
 * opened, unfolded and checked, and split until it neither flips nor overlaps itself nor stretches beyond the limit. Then
 * seams are shortened as far as the limit allows. Shells lie each in its own place, at world size. The same comes out
 * on however many threads; engines whose sines differ in their last bits may find other seams on large meshes.
 */
export async function draftLayout(source: Source, options: DraftOptions): Promise<Layout> {
  return (await draftStages(source, options)).layouts.at(-1)!;
}

/** How many layouts on the way to the last one are kept, from that with the most seams on. */
const STAGES = 6;

export interface Drafted {
  /** Layouts on the way: seams get fewer, and shells larger, from one to the next. */
  readonly layouts: readonly Layout[];
  /** The last of them with shells halved that are longer than was asked for; nothing where none is. */
  readonly halved?: Layout;
  /** How the part was cut, by its form or as was asked for. */
  readonly as: DraftedAs;
  /** Mean stretch, by area, of that of them which is stretched most. */
  readonly stretch: number;
}

/** The same, with some layouts on the way, and how it was cut. */
export async function draftStages(source: Source, options: DraftOptions): Promise<Drafted> {
  const drafting = new Drafting(seamField(source), options);
  options.onStep?.(0);
  if ((options.style ?? "by its form") === "by its form") await drafting.cutTurned();
  const halves = options.up === undefined ? [] : drafting.setAsideMirrored(options.up);
  await drafting.cutByTwin();
  await drafting.splitOthers();
  const states: Array<() => State> = [];
  // While others are to come a state is not whole.
  for (const own of halves.slice(0, -1)) await drafting.draftHalf(own);
  const [last] = halves.slice(-1);
  if (last) await drafting.draftHalf(last, (state) => void states.push(state));
  const begun = drafting.state();
  states.push(() => begun);
  await drafting.shorten((graph) => {
    const state = stateOf(graph);
    states.push(() => state);
  });
  options.onStep?.(1);
  const end = states.length - 1;
  const kept = new Set(Array.from({ length: STAGES }, (_, i) => Math.round((i * end) / (STAGES - 1))));
  const passed = [...kept].map((i) => states[i]!());
  const halved = options.halving ? await drafting.halved(options.halving) : null;
  return {
    layouts: passed.map((state) => layoutOf(source, state, options.onStep)),
    ...(halved ? { halved: layoutOf(source, halved) } : {}),
    as: drafting.as(),
    stretch: Math.max(...passed.map(stretchOf)),
  };
}

class Drafting {
  private readonly cut: Bits;
  /** Edges whose seams stay: between faces wound against each other, and those that are to be kept. */
  private readonly lasting: Bits;
  /** Edges of forms whose halves mirror each other: a move of one alone would end that. */
  private readonly mirrored: Bits;
  private shells: GraphShell[] = [];
  /** Faces that are not part of a turned body. */
  private others: Uint32Array;
  /** 1 for vertices of turned bodies. */
  private readonly strict: Uint8Array;
  private readonly piece: ((ask: PieceAsk) => Promise<PieceAnswer>) | undefined;
  private readonly bounds: Bounds;
  /** Seams were found on a coarse twin. */
  private isLed = false;
  private readonly ways = new Set<Exclude<DraftedAs, "in several ways">>();
  private done = 0;
  private told = 0;

  constructor(
    private readonly field: SeamField,
    private readonly options: DraftOptions,
    faces?: Uint32Array,
  ) {
    const { mesh, topology } = field;
    this.lasting = options.seams?.slice() ?? makeBits(topology.edgeCount);
    for (const e of unwoundEdges(mesh)) setBit(this.lasting, e);
    this.cut = this.lasting.slice();
    this.mirrored = makeBits(topology.edgeCount);
    this.others = faces ?? iota(faceCount(mesh));
    this.strict = new Uint8Array(vertexCount(mesh));
    this.piece = options.pieces?.(field);
    this.bounds = { limit: options.limit, tail: options.tail ?? TAIL };
  }

  /** Tells the share that is done, which never shrinks. */
  private tell(share: number): void {
    this.told = Math.max(this.told, share);
    this.options.onStep?.(this.told);
  }

  private ask(ask: PieceAsk, share: () => number): Promise<PieceAnswer> {
    this.tell(share());
    return this.piece ? this.piece(ask) : Promise.resolve(draftPiece(this.field, ask, () => this.tell(share())));
  }

  private keep(faces: Uint32Array, { energy = Infinity, tail = Infinity, cornerUv }: PieceAnswer): void {
    this.shells.push({ faces, area: areaOf(this.field, faces), energy, tail, cornerUv: cornerUv! });
  }

  private trianglesOf(faces: Uint32Array): number {
    const { faceStart } = this.field.mesh;
    return faces.reduce((sum, f) => sum + faceStart[f + 1]! - faceStart[f]! - 2, 0);
  }

  private share(): number {
    return (SHARES.split * this.done) / faceCount(this.field.mesh);
  }

  /** Finds turned bodies among what hangs together and cuts them into sections. */
  async cutTurned(): Promise<void> {
    const { field, cut, options } = this;
    const others: Uint32Array[] = [];
    const { back = [0, 0, -1] } = options;
    const lies = async (faces: Uint32Array, alike: Bits) => (await this.weigh(faces, alike)) !== null;
    const judge = sectionJudge(field, lies, this.bounds, () => this.tell(this.share()));
    for (const faces of joinedFaces(field, this.others, cut)) {
      const turned = turnedBody(field, faces, cut);
      this.tell(this.share());
      const edges = turned && (await sectionsOf(field, turned, { back, area: areaOf(field, faces), cut }, judge));
      for (const e of edges ?? []) setBit(cut, e);
      if (edges && (await this.keepSections(faces))) continue;
      for (const e of edges ?? []) if (!getBit(this.lasting, e)) clearBit(cut, e);
      others.push(faces);
    }
    this.others = joined(others);
  }

  /** Keeps the sections of a body that is cut, where every one lies flat at its full size too. */
  private async keepSections(faces: Uint32Array): Promise<boolean> {
    const groups = joinedFaces(this.field, faces, this.cut);
    const flat: PieceAnswer[] = [];
    for (const group of groups) {
      const weighed = await this.weigh(group, this.cut);
      if (!weighed) return false;
      flat.push(weighed);
    }
    groups.forEach((group, i) => {
      this.keep(group, flat[i]!);
    });
    this.done += faces.length;
    this.ways.add("turned");
    const { faceStart, cornerVertex } = this.field.mesh;
    for (const f of faces) for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) this.strict[cornerVertex[c]!] = 1;
    return true;
  }

  private async weigh(
    faces: Uint32Array,
    cut: Bits,
    bounds = this.bounds,
    share = () => this.share(),
  ): Promise<Weighed | null> {
    return weighedBy(await this.ask({ what: "weigh", faces, cut, ...bounds }, share));
  }

  /** Takes forms whose halves mirror each other out of what is to be cut. */
  setAsideMirrored(up: 1 | 2): Halves[] {
    const finder = new HalvesFinder(this.field.mesh, up);
    const [halves, others]: [Halves[], Uint32Array[]] = [[], []];
    for (const faces of joinedFaces(this.field, this.others, this.cut)) {
      const own = finder.of(faces, this.lasting);
      if (own) halves.push(own);
      else others.push(faces);
    }
    this.others = joined(others);
    return halves;
  }

  /**
   * Finds the seams of one half and repeats them on the other; then takes seams off between them, as far as the limit
   * allows: that leaves both alike.
   *
   * @param onState told every state passed, which is worked out when it is asked for
   */
  async draftHalf(halves: Halves, onState: (state: () => State) => void = () => {}): Promise<void> {
    const { field, lasting } = this;
    const [base, laid] = [this.cut.slice(), [...this.shells]];
    const both = ({ cut, shells }: State): State => ({
      cut: mirroredCut(field, base, cut, halves),
      shells: shells.flatMap((shell) => [shell, mirroredShell(field.mesh, halves, shell)]),
    });
    const tellState = (one: State) => onState(() => ({ ...both(one), shells: [...laid, ...both(one).shells] }));
    const seams = lasting.slice();
    for (const e of halves.middle) setBit(seams, e);
    const share = (2 * halves.half.length) / faceCount(field.mesh);
    const onStep = (of: number) => this.tell(this.share() + SHARES.twin * of * share);
    const one = new Drafting(field, { ...this.options, seams, onStep }, halves.half);
    await one.cutByTwin();
    await one.splitOthers();
    tellState(one.state());
    await one.shorten((graph) => tellState(stateOf(graph)));
    const found = both(one.state());
    this.cut.set(found.cut);
    const graph = new SeamGraph(field, this.cut, found.shells, this.strict);
    const free = new Set<number>(halves.middle);
    const shortening = new Shortening(graph, {
      bounds: this.bounds,
      price: 0,
      kinds: JOINS,
      mayMove: (e) => free.has(e),
      weigh: (faces, cut, bounds) => this.weigh(faces, cut, bounds),
      effort: (one.isLed ? LED_EFFORT : EFFORT) * 2 * halves.half.length,
      onTaken: (now) => {
        const { cut, shells } = stateOf(now);
        onState(() => ({ cut, shells: [...laid, ...shells] }));
        return false;
      },
    });
    await shortening.run();
    this.shells.push(...graph.shells.values());
    this.done += 2 * halves.half.length;
    for (const way of one.ways) this.ways.add(way);
    const { faceStart } = field.mesh;
    for (const f of halves.half)
      for (const g of [f, halves.face[f]!])
        for (let c = faceStart[g]!; c < faceStart[g + 1]!; c++) setBit(this.mirrored, field.topology.cornerEdge[c]!);
  }

  /** Finds the seams of what is large on coarse twins of it, and keeps those shells that lie flat at full size. */
  async cutByTwin(): Promise<void> {
    if (this.trianglesOf(this.others) < LARGE) return;
    this.isLed = true;
    const { seams: _, onStep: __, halving: ___, ...rest } = this.options;
    const { cut, shells, left } = await seamsByTwin({
      field: this.field,
      faces: this.others,
      cut: this.cut,
      shells: this.shells,
      strict: this.strict,
      mayMove: (e) => !getBit(this.lasting, e),
      weigh: (faces, seams) => this.weigh(faces, seams, { ...this.bounds, tail: LOOSE_TAIL }),
      tell: (share) => this.tell(this.share() + SHARES.twin * share),
      limit: this.options.limit,
      async search(field, bounds, onStep) {
        const coarse = new Drafting(field, { ...rest, onStep, ...bounds });
        await coarse.splitOthers();
        const states = [coarse.cut.slice()];
        await coarse.shorten((graph) => states.push(graph.cut.slice()));
        return states;
      },
    });
    this.cut.set(cut);
    this.ways.add("rounded");
    this.shells.push(...shells);
    this.others = joined(left);
    this.done += shells.reduce((sum, shell) => sum + shell.faces.length, 0);
  }

  /** Cuts creases in what is no turned body, then opens and splits shells until every one lies flat. */
  async splitOthers(): Promise<void> {
    const { cut, options } = this;
    const { mesh, world, topology: t } = this.field;
    const isRounded = options.style === "rounded";
    const creases = isRounded
      ? makeBits(t.edgeCount)
      : withoutLooseEnds(mesh, creasedEdges(mesh, world, options.angle));
    let count = 0;
    for (const f of this.others)
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
        if (!getBit(creases, t.cornerEdge[c]!)) continue;
        setBit(cut, t.cornerEdge[c]!);
        count++;
      }
    if (this.others.length) this.ways.add(count ? "creased" : "rounded");
    await this.splitEach(joinedFaces(this.field, this.others, cut));
    // In an order of their own, whichever was done first.
    this.shells.sort((a, b) => a.faces[0]! - b.faces[0]!);
  }

  private async splitEach(groups: readonly Uint32Array[]): Promise<void> {
    await Promise.all(groups.map((faces) => this.split(faces)));
  }

  /** Lays faces flat, in as many shells as it takes. */
  private async split(faces: Uint32Array): Promise<void> {
    const { cut } = this;
    const answer = await this.ask({ what: "judge", faces, cut, ...this.bounds }, () => this.share());
    if (!answer.cuts) {
      this.done += faces.length;
      this.keep(faces, answer);
      return;
    }
    for (const e of answer.cuts) setBit(cut, e);
    await this.splitEach(joinedFaces(this.field, faces, cut));
  }

  /** How the part was cut. */
  as(): DraftedAs {
    const [first, ...more] = this.ways;
    return more.length ? "in several ways" : (first ?? "rounded");
  }

  /** Takes seams off and moves them as far as the limit allows. */
  async shorten(onTaken: (graph: SeamGraph) => void = () => {}): Promise<void> {
    const graph = new SeamGraph(this.field, this.cut, this.shells, this.strict);
    const between = SHARES.shorten - SHARES.split;
    let taken = 0;
    const share = () => SHARES.split + between * (1 - 1 / (1 + taken / 8));
    const shortening = new Shortening(graph, {
      bounds: this.bounds,
      price: 0,
      // Seams that were found on a twin are straight already, and were slid there.
      ...(this.isLed ? { kinds: JOINS } : {}),
      mayMove: (e) =>
        !getBit(this.lasting, e) &&
        !getBit(this.mirrored, e) &&
        graph.sides(e).every((shell) => graph.shells.has(shell)),
      weigh: (faces, cut, bounds) => this.weigh(faces, cut, bounds, share),
      effort: (this.isLed ? LED_EFFORT : EFFORT) * faceCount(this.field.mesh),
      onTaken: (now) => {
        taken++;
        onTaken(now);
        return false;
      },
    });
    await shortening.run();
    this.shells = [...graph.shells.values()].sort((a, b) => a.faces[0]! - b.faces[0]!);
  }

  halved(halving: Halving): Promise<State | null> {
    return halvedState(this.field, this.state(), halving, (faces, cut) => this.weigh(faces, cut));
  }

  state(): State {
    return { cut: this.cut.slice(), shells: this.shells };
  }
}
