import { type Bits, setBit } from "../layout/bits";
import type { ShellMesh } from "../unfold/shell-mesh";
import { CREASE } from "./flow";
import type { SeamField } from "./seam-field";
import type { Turned } from "./turned";

// Where a turned body is cut: along rings into sections, and every section along some meridians.

/** In how many pieces a section may be cut about the axis; none only where just one end is closed, as of a dome. */
const PIECES = [0, 1, 2, 3, 4, 6, 8, 12] as const;
/** Of the root of the area: what every shell costs besides its seams, so that no rings are cut for next to nothing. */
const SHELL_COST = 0.1;
/** Of the cheapest meridian's cost: which others are as good, so that the one farthest back may be taken. */
const AS_GOOD = 1.05;
/** Columns and rings of the grid that sections of large bodies are judged on. */
const FINE = { columns: 48, rings: 64 } as const;
/** Rings up to which every one may be cut. */
const ALL_RINGS = 96;
const MOST_JUDGED = 600;

/** Away from who looks, and a little to the right, by the axis that points up. */
export const BACK = { 1: [0.1, 0, -1], 2: [0.1, 1, 0] } as const;

export interface SectionJudge {
  /** Whether faces, cut out along edges, come to shells that lie flat within the limit. */
  faces(faces: Uint32Array, cut: Bits): Promise<boolean>;
  /** The same of a shell made for it. */
  shell(shell: ShellMesh): Promise<boolean>;
}

export interface SectionOptions {
  /** The way that points away from who looks, world space: of equal meridians the one farthest that way is cut. */
  readonly back: readonly [number, number, number];
  /** World area of the body. */
  readonly area: number;
  /** Cuts of the body so far: its borders. */
  readonly cut: Bits;
}

/** A section: layers from one ring to another, in so many pieces about the axis. */
interface Section {
  readonly from: number;
  readonly to: number;
  /** Index in PIECES. */
  readonly way: number;
}

/**
 * Edges to cut so that a turned body falls into sections that lie flat, at the least cost: the shortest path over rings,
 * with every section believed to lie flat until the path takes it and it is unfolded. All meridians start from one column,
 * the cheapest, and of those as cheap the one farthest back. Nothing where no way is found.
 *
 * Source: Dellin, Srinivasa, A unifying formalism for shortest path problems with expensive edge evaluations via lazy
 * best-first search (2016).
 */
export async function sectionsOf(
  source: SeamField,
  turned: Turned,
  options: SectionOptions,
  judge: SectionJudge,
): Promise<Uint32Array | null> {
  const cutting = new Sections(source, turned, options);
  for (let judged = 0; judged < MOST_JUDGED; ) {
    const path = cutting.cheapestPath();
    if (!path) return null;
    let fails: Section | undefined;
    for (const section of path) {
      if (cutting.isKnown(section)) continue;
      judged++;
      const lies = await cutting.judged(section, judge);
      cutting.note(section, lies);
      if (!lies) {
        fails = section;
        break;
      }
    }
    if (!fails) return Uint32Array.from(cutting.edgesOfPath(path));
  }
  return null;
}

class Sections {
  private readonly layers: number;
  /** Of the columns: where all meridians start. */
  private readonly column: number;
  private readonly ringCost: Float64Array;
  /** By way: what meridians cost up to every layer. */
  private readonly costUpTo: Float64Array[];
  /** Rings that sections may end at. */
  private readonly ends: readonly number[];
  private readonly ways: readonly number[];
  private readonly lies = new Map<number, boolean>();
  private readonly shellCost: number;
  private readonly isLarge: boolean;

  constructor(
    private readonly source: SeamField,
    private readonly turned: Turned,
    private readonly options: SectionOptions,
  ) {
    const { weight } = source;
    const { layers, rings, columns } = turned;
    this.layers = layers.length;
    this.column = this.cheapestColumn();
    this.ringCost = Float64Array.from(rings, (ring) => ring.reduce((sum, e) => sum + weight[e]!, 0));
    this.ways = PIECES.filter((q) => q === 0 || (columns % q === 0 && columns / q >= 2));
    this.costUpTo = this.ways.map((pieces) => {
      const sums = new Float64Array(this.layers + 1);
      for (let i = 0; i < this.layers; i++)
        sums[i + 1] = sums[i]! + this.meridians(i, pieces).reduce((sum, e) => sum + weight[e]!, 0);
      return sums;
    });
    this.ends = this.ringsToEndAt();
    this.shellCost = SHELL_COST * Math.sqrt(options.area);
    this.isLarge = !turned.isTorus && (columns > 1.5 * FINE.columns || this.layers > 1.5 * FINE.rings);
  }

  private cheapestColumn(): number {
    const { cost, world, topology: t } = this.source;
    const { layers, columns } = this.turned;
    const sums = new Float64Array(columns);
    const behind = new Float64Array(columns);
    for (const { meridians } of layers)
      meridians.forEach((e, k) => {
        sums[k]! += cost[e]!;
        for (const v of [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!])
          for (let d = 0; d < 3; d++) behind[k]! += this.options.back[d]! * world[3 * v + d]!;
      });
    const least = Math.min(...sums);
    let best = -1;
    for (let k = 0; k < columns; k++)
      if (sums[k]! <= AS_GOOD * least + 1e-12 && (best < 0 || behind[k]! > behind[best]! + 1e-9)) best = k;
    return Math.max(0, best);
  }

  /** Edges of a layer that are cut to part it into so many pieces. */
  private meridians(layer: number, pieces: number): number[] {
    const { meridians } = this.turned.layers[layer]!;
    const { columns } = this.turned;
    if (!meridians.length) return [];
    return Array.from({ length: pieces }, (_, p) => meridians[(this.column + (p * columns) / pieces) % columns]!);
  }

  /** All rings; of very many those on creases, and some between. */
  private ringsToEndAt(): number[] {
    const { rings } = this.turned;
    const { angle } = this.source;
    const every = Math.ceil(this.layers / ALL_RINGS);
    const out: number[] = [];
    for (let r = 0; r <= this.layers; r++) {
      const ring = rings[r]!;
      const isCrease = ring.reduce((sum, e) => sum + angle[e]!, 0) >= CREASE * ring.length;
      if (r === 0 || r === this.layers || r % every === 0 || (ring.length && isCrease)) out.push(r);
    }
    return out;
  }

  private key({ from, to, way }: Section): number {
    return (from * (this.layers + 1) + to) * PIECES.length + way;
  }
  isKnown(section: Section): boolean {
    return this.lies.has(this.key(section));
  }

  /** Whether a section closes at its start or end, as domes do. */
  private closes(from: number, to: number): readonly [boolean, boolean] {
    const { startClosed, endClosed } = this.turned;
    return [from === 0 && startClosed, to === this.layers && endClosed];
  }

  private isPossible({ from, to, way }: Section): boolean {
    const [start, end] = this.closes(from, to);
    if (this.ways[way] === 0) return start !== end;
    return to - from > 1 || this.turned.layers[from]!.meridians.length > 0;
  }

  cheapestPath(): Section[] | null {
    const { ends, ringCost, costUpTo, ways } = this;
    const cost = new Float64Array(ends.length).fill(Infinity);
    const last: Array<Section | null> = ends.map(() => null);
    cost[0] = this.turned.isTorus ? ringCost[0]! : 0;
    for (let b = 1; b < ends.length; b++)
      for (let a = 0; a < b; a++) {
        const begun = cost[a]! + (a > 0 ? ringCost[ends[a]!]! : 0);
        if (begun >= cost[b]!) continue;
        for (let way = 0; way < ways.length; way++) {
          const section = { from: ends[a]!, to: ends[b]!, way };
          if (!this.isPossible(section) || this.lies.get(this.key(section)) === false) continue;
          const along = costUpTo[way]![section.to]! - costUpTo[way]![section.from]!;
          const total = begun + along + this.shellCost * Math.max(1, ways[way]!);
          if (total >= cost[b]! - 1e-12) continue;
          cost[b] = total;
          last[b] = section;
        }
      }
    const out: Section[] = [];
    for (let b = ends.length - 1; b > 0; b = ends.indexOf(out.at(-1)!.from)) {
      const section = last[b];
      if (!section) return null;
      out.push(section);
    }
    return out.reverse();
  }

  /** Keeps what was found; where one does not lie flat, longer ones in as many or fewer pieces do not either. */
  note(section: Section, lies: boolean): void {
    this.lies.set(this.key(section), lies);
    if (lies) return;
    const { from, to, way } = section;
    const [start, end] = this.closes(from, to);
    for (const a of this.ends)
      for (const b of this.ends) {
        if (a > from || b < to) continue;
        const [opensAlike, endsAlike] = this.closes(a, b);
        if (opensAlike !== start || endsAlike !== end) continue;
        for (let fewer = 0; fewer <= way; fewer++)
          if (this.ways[fewer]! > 0 === this.ways[way]! > 0)
            this.lies.set(this.key({ from: a, to: b, way: fewer }), false);
      }
  }

  private meridiansOf({ from, to, way }: Section): number[] {
    const out: number[] = [];
    for (let layer = from; layer < to; layer++) out.push(...this.meridians(layer, this.ways[way]!));
    return out;
  }

  edgesOfPath(path: readonly Section[]): number[] {
    const { rings, isTorus } = this.turned;
    const out = isTorus ? [...rings[0]!] : [];
    for (const section of path) {
      if (section.from > 0) out.push(...rings[section.from]!);
      out.push(...this.meridiansOf(section));
    }
    return out;
  }

  async judged(section: Section, judge: SectionJudge): Promise<boolean> {
    const thin = this.isLarge ? this.thinShell(section) : null;
    if (thin) return judge.shell(thin);
    const cut = this.options.cut.slice();
    const { rings, layers } = this.turned;
    for (const e of [...rings[section.from]!, ...rings[section.to]!, ...this.meridiansOf(section)]) setBit(cut, e);
    const faces = layers.slice(section.from, section.to).flatMap((layer) => layer.faces);
    return judge.faces(Uint32Array.from(faces).sort(), cut);
  }

  /** Vertices of a ring by column; none where the body is closed. */
  private ringVertices(ring: number): number[] {
    const { topology: t } = this.source;
    const edges = this.turned.rings[ring]!;
    return edges.map((e, k) => {
      const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
      const before = edges[(k + edges.length - 1) % edges.length]!;
      return a === t.edgeVertices[2 * before]! || a === t.edgeVertices[2 * before + 1]! ? a : b;
    });
  }

  /** One piece of a section on a grid of fewer columns and rings; nothing where there is too little of it. */
  private thinShell({ from, to, way }: Section): ShellMesh | null {
    const { columns, rings } = this.turned;
    const { world } = this.source;
    const pieces = this.ways[way]!;
    const [low, high] = [rings[from]!.length ? from : from + 1, rings[to]!.length ? to : to - 1];
    const rowStep = Math.max(1, Math.round(this.layers / FINE.rings));
    const columnStep = Math.max(1, Math.round(columns / FINE.columns));
    const rows: number[] = [];
    for (let r = low; r < high; r += rowStep) rows.push(r);
    rows.push(high);
    if (rows.length < 2) return null;
    const width = pieces ? columns / pieces : columns;
    const across: number[] = [];
    for (let k = 0; k < width; k += columnStep) across.push(k);
    if (pieces) across.push(width);
    const places: number[] = [];
    for (const r of rows) {
      const vertices = this.ringVertices(r);
      for (const k of across) {
        const v = 3 * vertices[(this.column + k) % columns]!;
        places.push(world[v]!, world[v + 1]!, world[v + 2]!);
      }
    }
    const poles = [low > from ? low : -1, high < to ? high : -1] as const;
    return gridShell(
      places,
      rows.length,
      across.length,
      !pieces,
      poles.map((r) => r >= 0 && this.middle(r)),
    );
  }

  private middle(ring: number): number[] {
    const vertices = this.ringVertices(ring);
    return [0, 1, 2].map((d) => vertices.reduce((sum, v) => sum + this.source.world[3 * v + d]!, 0) / vertices.length);
  }
}

/** A grid of points as triangles, closed about or not, with a point before its first row and behind its last. */
function gridShell(
  places: number[],
  rows: number,
  across: number,
  isClosed: boolean,
  [before, behind]: ReadonlyArray<readonly number[] | false>,
): ShellMesh {
  const triangles: number[] = [];
  const cells = isClosed ? across : across - 1;
  for (let r = 0; r + 1 < rows; r++)
    for (let k = 0; k < cells; k++) {
      const [a, b] = [r * across + k, r * across + ((k + 1) % across)];
      triangles.push(a, b, b + across, a, b + across, a + across);
    }
  const apex = (place: readonly number[]) => places.push(...place) / 3 - 1;
  if (before) {
    const p = apex(before);
    for (let k = 0; k < cells; k++) triangles.push(p, (k + 1) % across, k);
  }
  if (behind) {
    const p = apex(behind);
    const last = (rows - 1) * across;
    for (let k = 0; k < cells; k++) triangles.push(p, last + k, last + ((k + 1) % across));
  }
  const points = places.length / 3;
  return {
    positions: Float64Array.from(places),
    triangles: Uint32Array.from(triangles),
    wedges: Uint32Array.from({ length: points }, (_, i) => i),
  };
}
