import { type Bits, getBit, setBit } from "../layout/bits";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount } from "../mesh/topology";
import { type CoarseTwin, coarseTwin, ledBack } from "./coarse-twin";
import type { Bounds } from "./draft-piece";
import { joinedFaces } from "./piece";
import { areaOf, type SeamField, seamField } from "./seam-field";
import { type GraphShell, SeamGraph } from "./seam-graph";
import { SeamWays } from "./seam-ways";
import type { Weighed } from "./shorten";
import { bare, straightenSeams } from "./straighten-seams";

/** Triangles from which on seams are found on a coarse twin. */
export const LARGE = 8000;
/**
 * How many points a twin has, which states of the searches on it are tried at full size, those with the least seam first,
 * and what they are held to: of the limit, and the stretch beyond which only a hundredth may be. At full size shells are
 * stretched more, by how much depends on the form; and searches under different bounds end in different places. The
 * coarser twin is quicker and leads to shorter seams; the finer one serves where the form has more detail than it holds.
 */
const TWINS = [
  {
    points: 1000,
    tried: [0, 2, 12, 54],
    bounds: [
      { share: 0.9, tail: 1.35 },
      { share: 0.83, tail: 1.3 },
    ],
  },
  {
    points: 1500,
    tried: [0, 1, 2, 4, 7, 12, 20, 33, 54, 88, Infinity],
    bounds: [
      { share: 0.9, tail: 1.35 },
      { share: 0.75, tail: 1.25 },
    ],
  },
] as const;
/** Of the area: what need not lie flat at once, to be split by itself; and beyond what share a finer twin is tried. */
const ENOUGH = 0.02;
const TOO_MUCH = 0.1;
/** What seams of a twin come to. */
export interface Led {
  readonly cut: Bits;
  /** Those that lie flat, and their area. */
  readonly shells: readonly GraphShell[];
  readonly area: number;
  /** Faces of the others. */
  readonly left: readonly Uint32Array[];
}

/** Some faces of a part, and how their seams are looked for. */
export interface TwinWork {
  readonly field: SeamField;
  /** Ascending. */
  readonly faces: Uint32Array;
  /** Seams that are there, and the shells of other faces. */
  readonly cut: Bits;
  readonly shells: readonly GraphShell[];
  /** 1 for vertices of turned bodies. */
  readonly strict: Uint8Array;
  readonly mayMove: (edge: number) => boolean;
  /** Lays faces flat, as they are cut; null when they cannot be within the bounds. */
  readonly weigh: (faces: Uint32Array, cut: Bits) => Promise<Weighed | null>;
  /** Told the share that is done; throws to stop. */
  readonly tell: (share: number) => void;
  /** Mean stretch that a shell may come to at full size. */
  readonly limit: number;
  /** All states of a search for the seams of a twin, under bounds of its own. */
  readonly search: (field: SeamField, bounds: Bounds, onStep: (share: number) => void) => Promise<Bits[]>;
}

/** The seams of coarse twins at full size: of the states passed that with the least seam whose shells lie flat. */
export async function seamsByTwin(work: TwinWork): Promise<Led> {
  const all = areaOf(work.field, work.faces);
  let best: Led | null = null;
  for (const turn of TWINS.keys()) {
    best = await bestLed(work, turn, best, all);
    if (best.area >= (1 - TOO_MUCH) * all) break;
  }
  return best!;
}

/** What the seams of a twin come to at full size, or what another one's came to where that is better. */
async function bestLed(work: TwinWork, turn: number, before: Led | null, all: number): Promise<Led> {
  const { points, tried } = TWINS[turn]!;
  const twin = coarseTwin(work.field, work.faces, work.cut, points, () => work.tell(turn / TWINS.length));
  const tries = await searchedTwin(work, twin, turn);
  let best = before;
  for (const at of tried) {
    const led = await ledOf(work, twin, tries[Math.min(at, tries.length - 1)]!);
    if (!best || led.area > best.area) best = led;
    if (led.area >= (1 - ENOUGH) * all || at >= tries.length - 1) break;
  }
  return best!;
}

/** Seams of a twin at all states of the searches on it, those with the least first. */
async function searchedTwin(work: TwinWork, twin: CoarseTwin, turn: number): Promise<Bits[]> {
  const { bounds } = TWINS[turn]!;
  const field = seamField(twin.source);
  const done = bounds.map(() => 0);
  const search = ({ share, tail }: (typeof bounds)[number], at: number) =>
    work.search(field, { limit: 1 + share * (work.limit - 1), tail }, (of) => {
      done[at] = of / bounds.length;
      work.tell((turn + done.reduce((a, b) => a + b, 0)) / TWINS.length);
    });
  // Side by side: what each waits for is laid flat by the same workers. In an order of their own all the same.
  const found = (await Promise.all(bounds.map(search))).flat();
  const weights = new Map(found.map((cut) => [cut, seamWeight(field, cut)]));
  return found.sort((a, b) => weights.get(a)! - weights.get(b)!);
}

/** Seams of a twin led back to the whole, with those shells that lie flat by them. */
async function ledOf(work: TwinWork, twin: CoarseTwin, seams: Bits): Promise<Led> {
  const { field, faces } = work;
  const cut = work.cut.slice();
  for (const e of ledBack(field, twin, seams)) setBit(cut, e);
  const graph = new SeamGraph(field, cut, [...joinedFaces(field, faces, cut).map(bare), ...work.shells], work.strict);
  straightenSeams(graph, new SeamWays(graph), work.mayMove, () => work.tell(0));
  const shells: GraphShell[] = [];
  const left: Uint32Array[] = [];
  for (const group of joinedFaces(field, faces, cut)) {
    const weighed = await work.weigh(group, cut);
    if (weighed) shells.push({ faces: group, area: areaOf(field, group), ...weighed });
    else left.push(group);
  }
  return { cut, shells, left, area: shells.reduce((sum, shell) => sum + shell.area, 0) };
}

function seamWeight({ topology: t, weight }: SeamField, cut: Bits): number {
  let sum = 0;
  for (let e = 0 as Edge; e < t.edgeCount; e++) if (getBit(cut, e) && edgeFaceCount(t, e) === 2) sum += weight[e]!;
  return sum;
}
