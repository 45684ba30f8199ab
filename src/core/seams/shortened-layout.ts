import type { Bits } from "../layout/bits";
import { facesOfShell, type Layout, structureOf, withBits, withPoints } from "../layout/layout";
import { bestFit } from "../layout/orient";
import type { Shell } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { type Bounds, draftPiece, LOOSE_TAIL, type PieceAnswer, type PieceAsk, weighedBy } from "./draft-piece";
import type { Source } from "./piece";
import { areaOf, type SeamField, seamField } from "./seam-field";
import { type GraphShell, SeamGraph } from "./seam-graph";
import type { Move } from "./seam-moves";
import { Shortening, type Weighed } from "./shorten";

export interface ShortenLayoutOptions {
  /** Mean stretch that a shell may come to. */
  readonly limit: number;
  /** Keeps the mean stretch of all shells as low as it is: seams may be cut that buy what others cost. */
  readonly sameStretch?: boolean;
  /** Whether the seam along an edge may be taken off or moved. */
  readonly mayMove: (edge: number) => boolean;
  readonly kinds?: ReadonlySet<Move["kind"]>;
  /** Ends when no more shells than so many are left. */
  readonly wish?: number;
  /** Counts lengths of seams alone, and not where they lie. */
  readonly byLength?: boolean;
  /** Told the share that is done, about; throws to stop. */
  readonly onStep?: (share: number) => void;
  /** Asked after every move: true to end with what was reached. */
  readonly isOver?: () => boolean;
  /** Works on a piece, somewhere else where there is room; here when not given. */
  readonly piece?: (ask: PieceAsk) => Promise<PieceAnswer>;
}

export interface ShortenedLayout {
  readonly layout: Layout;
  /** World lengths of the seams of these shells, before and after. */
  readonly before: number;
  readonly after: number;
  /** Shells that were worked on, and what is left of them. */
  readonly shells: readonly [number, number];
  /** Shells that are no disks, or do not lie flat, and were left alone. */
  readonly left: readonly Shell[];
}

/** What stretch costs where it is to stay as low as it is. */
const PRICE = 8;
const EFFORT = 100;
/** However stretched. */
const ANY: Bounds = { limit: Infinity, tail: Infinity };

/** Makes the seams of some shells of a layout shorter; what changes lies where most of it lay, at its size. */
export async function shortenedLayout(
  source: Source,
  layout: Layout,
  shells: readonly Shell[],
  options: ShortenLayoutOptions,
): Promise<ShortenedLayout> {
  const plain = seamField(source);
  const field = options.byLength ? { ...plain, weight: plain.length } : plain;
  const s = structureOf(source.mesh, layout);
  let done = 0;
  const ask = async (faces: Uint32Array, cut: Bits, bounds: Bounds): Promise<Weighed | null> => {
    options.onStep?.(1 - 1 / (1 + done++ / 60));
    if (options.isOver?.()) return null;
    const { piece } = options;
    const wanted: PieceAsk = { what: "weigh", faces, cut, ...bounds };
    const answer = piece
      ? await piece(wanted)
      : draftPiece(source, wanted, () => options.onStep?.(1 - 1 / (1 + done / 60)));
    return weighedBy(answer);
  };
  const begun: GraphShell[] = [];
  const left: Shell[] = [];
  const flat = await Promise.all(shells.map((shell) => ask(Uint32Array.from(facesOfShell(s, shell)), layout.cut, ANY)));
  shells.forEach((shell, i) => {
    const faces = Uint32Array.from(facesOfShell(s, shell));
    const weighed = flat[i];
    if (!weighed) left.push(shell);
    else begun.push({ faces, area: areaOf(field, faces), ...weighed });
  });
  const graph = new SeamGraph(field, layout.cut.slice(), begun, new Uint8Array(source.mesh.positions.length / 3));
  const before = seamLength(field, graph);
  const area = begun.reduce((sum, shell) => sum + shell.area, 0);
  const mean = begun.reduce((sum, shell) => sum + shell.area * shell.energy, 0) / (area || 1);
  const shortening = new Shortening(graph, {
    bounds: { limit: options.limit, tail: LOOSE_TAIL },
    price: options.sameStretch ? PRICE : 0,
    ...(options.sameStretch ? { mostMean: mean } : {}),
    ...(options.kinds ? { kinds: options.kinds } : {}),
    mayMove: (e) => graph.sides(e).every((shell) => graph.shells.has(shell)) && options.mayMove(e),
    weigh: ask,
    effort: EFFORT * begun.reduce((sum, shell) => sum + shell.faces.length, 0),
    onTaken: () => graph.shells.size <= (options.wish ?? 0) || (options.isOver?.() ?? false),
  });
  if (begun.length > (options.wish ?? 0)) await shortening.run();
  return {
    layout: withShells(source.mesh, layout, graph, new Set(begun)),
    before,
    after: seamLength(field, graph),
    shells: [begun.length, graph.shells.size],
    left,
  };
}

/** World length of the seams beside the graph's shells. */
function seamLength(field: SeamField, graph: SeamGraph): number {
  let sum = 0;
  for (let e = 0; e < field.topology.edgeCount; e++)
    if (graph.isSeam(e) && graph.sides(e).some((shell) => graph.shells.has(shell))) sum += field.length[e]!;
  return sum;
}

/** A layout with the seams of a graph, and its new shells where most of each lay. */
function withShells(mesh: PolyMesh, layout: Layout, graph: SeamGraph, old: ReadonlySet<GraphShell>): Layout {
  const fresh = [...graph.shells.values()].filter((shell) => !old.has(shell));
  if (!fresh.length) return layout;
  const before = structureOf(mesh, layout);
  const now = withBits(mesh, layout, graph.cut);
  const after = structureOf(mesh, now);
  const uv = now.uv.slice();
  for (const { faces, cornerUv } of fresh) {
    const corners = faces.reduce((list, f) => {
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) list.push(c);
      return list;
    }, [] as number[]);
    const main = largestOf(Array.from(faces, (f) => before.faceShell[f]!));
    const [from, to]: [number[], number[]] = [[], []];
    corners.forEach((c, i) => {
      if (before.faceShell[graph.field.topology.cornerFace[c]!] !== main) return;
      const w = 2 * before.cornerWedge[c]!;
      from.push(cornerUv[2 * i]!, cornerUv[2 * i + 1]!);
      to.push(layout.uv[w]!, layout.uv[w + 1]!);
    });
    const fit = bestFit(Float64Array.from(from), Float64Array.from(to));
    const [cos, sin] = [fit.scale * Math.cos(fit.angle), fit.scale * Math.sin(fit.angle)];
    corners.forEach((c, i) => {
      const w = 2 * after.cornerWedge[c]!;
      const [u, v] = [cornerUv[2 * i]!, cornerUv[2 * i + 1]!];
      uv[w] = cos * u - sin * v + fit.du;
      uv[w + 1] = sin * u + cos * v + fit.dv;
    });
  }
  return withPoints(now, uv);
}

/** The entry that comes most often. */
function largestOf(list: readonly number[]): number {
  const count = new Map<number, number>();
  for (const x of list) count.set(x, (count.get(x) ?? 0) + 1);
  return [...count].reduce((best, entry) => (entry[1] > best[1] ? entry : best))[0];
}
