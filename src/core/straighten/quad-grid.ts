import { isBarrier, type Layout, type Structure, structureOf } from "../layout/layout";
import type { Corner, Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, mateCorner, type Topology, topologyOf, windsAlike } from "../mesh/topology";
import { length3 } from "../numeric/length";

/** Quads side by side as rows and columns: every point has two whole numbers. */
export interface QuadGrid {
  readonly faces: readonly number[];
  /** Points of the layout by number. */
  readonly wedges: readonly number[];
  /** 2 per point: its column and its row, from 0 on. */
  readonly places: Int32Array;
  readonly columns: number;
  readonly rows: number;
}

/** How points are spaced: as they are in space, or evenly. */
export const SPACINGS = ["as in 3D", "even"] as const;
export type Spacing = (typeof SPACINGS)[number];

/** How many faces that are part of no grid are tried before no more are looked for. */
const TRIES = 16;
/** A point that has no place. */
const NOWHERE = -0x80000000;

/** Finds grids of quads in the shells of a layout, and lays them out as rectangles. Linear in the faces that are looked at. */
export class GridFinder {
  private readonly t: Topology;
  private readonly s: Structure;
  /** 1 for faces that may be part of a grid. */
  private readonly inside: Uint8Array;
  /** 2 per wedge: its column and row in the grid that is being found. */
  private readonly place: Int32Array;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly layout: Layout,
  ) {
    this.t = topologyOf(mesh);
    this.s = structureOf(mesh, layout);
    this.inside = new Uint8Array(mesh.faceStart.length - 1);
    this.place = new Int32Array(2 * this.s.wedgeCount).fill(NOWHERE);
  }

  /** Grids among some faces of a shell: what no grid takes is left out. The largest first. */
  among(faces: Iterable<number>): QuadGrid[] {
    const list = Uint32Array.from(faces);
    for (const f of list) this.inside[f] = 1;
    const out: QuadGrid[] = [];
    let tries = 0;
    for (const f of list) {
      if (!this.isQuad(f)) continue;
      const grid = this.from(f);
      if (!grid && ++tries === TRIES) break;
      for (const g of grid?.faces ?? []) this.inside[g] = 0;
      if (grid) out.push(grid);
    }
    for (const f of list) this.inside[f] = 0;
    return out.sort((a, b) => b.faces.length - a.faces.length);
  }

  private isQuad(f: number): boolean {
    return this.inside[f] === 1 && this.mesh.faceStart[f + 1]! - this.mesh.faceStart[f]! === 4;
  }

  /** Gives a point a place. @returns whether it had none, or that one */
  private put(corner: number, i: number, j: number, wedges: number[]): boolean {
    const w = this.s.cornerWedge[corner]!;
    const { place } = this;
    if (place[2 * w] !== NOWHERE) return place[2 * w] === i && place[2 * w + 1] === j;
    place[2 * w] = i;
    place[2 * w + 1] = j;
    wedges.push(w);
    return true;
  }

  /**
   * Quads that hang together as a grid, from one of them on; they wind counter-clockwise in it. Nothing where rows meet
   * that do not go on from each other, or come back upon themselves.
   */
  private from(seed: number): QuadGrid | null {
    const faces = [seed];
    const done = new Set(faces);
    const wedges: number[] = [];
    const first = this.mesh.faceStart[seed]!;
    for (const [k, [i, j]] of SQUARE.entries()) this.put(first + k, i, j, wedges);
    let fits = true;
    for (let n = 0; n < faces.length && fits; n++)
      for (let k = 0; k < 4 && fits; k++) {
        const g = this.beside(this.mesh.faceStart[faces[n]!]! + k, wedges);
        fits = g !== null;
        if (g === null || g < 0 || done.has(g)) continue;
        done.add(g);
        faces.push(g);
      }
    const grid = fits ? this.asGrid(faces, wedges) : null;
    for (const w of wedges) this.place.fill(NOWHERE, 2 * w, 2 * w + 2);
    return grid;
  }

  /** Places the quad across a corner's edge. @returns it; -1 where there is none, null where it does not fit */
  private beside(c: number, wedges: number[]): number | null {
    const { mesh, t, s, place } = this;
    const e = t.cornerEdge[c]! as Edge;
    if (edgeFaceCount(t, e) !== 2 || isBarrier(t, this.layout, e)) return -1;
    const m = mateCorner(t, c as Corner) as Corner;
    const g = t.cornerFace[m]!;
    if (!this.isQuad(g) || !windsAlike(mesh, t, c as Corner, m)) return -1;
    const [a, b] = [2 * s.cornerWedge[c]!, 2 * s.cornerWedge[t.cornerNext[c]!]!];
    const [ai, aj, bi, bj] = [place[a]!, place[a + 1]!, place[b]!, place[b + 1]!];
    // Across the edge from a to b the next face lies to its right.
    const [di, dj] = [bj - aj, ai - bi];
    const [next, far] = [t.cornerNext[m]!, t.cornerNext[t.cornerNext[m]!]!];
    const fits =
      this.put(m, bi, bj, wedges) &&
      this.put(next, ai, aj, wedges) &&
      this.put(far, ai + di, aj + dj, wedges) &&
      this.put(t.cornerNext[far]!, bi + di, bj + dj, wedges);
    return fits ? g : null;
  }

  private asGrid(faces: readonly number[], wedges: readonly number[]): QuadGrid | null {
    let [i0, j0, i1, j1] = [0, 0, 0, 0];
    for (const w of wedges) {
      const [i, j] = [this.place[2 * w]!, this.place[2 * w + 1]!];
      i0 = Math.min(i0, i);
      i1 = Math.max(i1, i);
      j0 = Math.min(j0, j);
      j1 = Math.max(j1, j);
    }
    const places = new Int32Array(2 * wedges.length);
    const taken = new Set<number>();
    wedges.forEach((w, k) => {
      places[2 * k] = this.place[2 * w]! - i0;
      places[2 * k + 1] = this.place[2 * w + 1]! - j0;
      taken.add(places[2 * k]! * (j1 - j0 + 1) + places[2 * k + 1]!);
    });
    // Two points in one place: it lies over itself.
    return taken.size < wedges.length ? null : { faces, wedges, places, columns: i1 - i0, rows: j1 - j0 };
  }

  /**
   * The points of a grid as a rectangle whose columns and rows are as wide as they are on average in space, so that
   * opposite sides match; or all alike.
   *
   * @param world 3 per vertex @returns 2 per point of the grid, in lengths of space
   */
  rectangle({ faces, wedges, places, columns, rows }: QuadGrid, world: Float64Array, spacing: Spacing): Float64Array {
    const { mesh, s, t, place } = this;
    wedges.forEach((w, k) => {
      place[2 * w] = places[2 * k]!;
      place[2 * w + 1] = places[2 * k + 1]!;
    });
    const sums = [new Float64Array(columns), new Float64Array(rows)] as const;
    const counts = [new Uint32Array(columns), new Uint32Array(rows)] as const;
    for (const f of faces)
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
        const next = t.cornerNext[c]!;
        const a = 2 * s.cornerWedge[c]!;
        const b = 2 * s.cornerWedge[next]!;
        const along = place[a] === place[b] ? 1 : 0;
        const step = Math.min(place[a + along]!, place[b + along]!);
        const p = 3 * mesh.cornerVertex[c]!;
        const q = 3 * mesh.cornerVertex[next]!;
        sums[along][step]! += length3(
          world[q]! - world[p]!,
          world[q + 1]! - world[p + 1]!,
          world[q + 2]! - world[p + 2]!,
        );
        counts[along][step]!++;
      }
    for (const w of wedges) place.fill(NOWHERE, 2 * w, 2 * w + 2);
    const lines = [0, 1].map((d) => linesOf(sums[d]!, counts[d]!, spacing));
    return Float64Array.from(places, (at, i) => lines[i % 2]![at]!);
  }
}

const SQUARE: ReadonlyArray<readonly [number, number]> = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

/** Where the lines between steps lie. */
function linesOf(sums: Float64Array, counts: Uint32Array, spacing: Spacing): Float64Array {
  const sizes = sums.map((sum, k) => sum / (counts[k] || 1));
  const mean = sizes.reduce((a, b) => a + b, 0) / sizes.length;
  const out = new Float64Array(sizes.length + 1);
  for (let k = 0; k < sizes.length; k++) out[k + 1] = out[k]! + (spacing === "even" ? mean : sizes[k]!);
  return out;
}
