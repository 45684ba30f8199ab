import { isBarrier, type Layout, structureOf } from "../layout/layout";
import type { Corner, Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, mateCorner, topologyOf, windsAlike } from "../mesh/topology";

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

/**
 * Quads that hang together within a shell as a grid, from one of them on; they wind counter-clockwise in it.
 *
 * @param inside 1 for faces that may be part of it
 * @returns null where they are no grid: where rows meet that do not go on from each other, or come back upon themselves
 */
export function quadGrid(mesh: PolyMesh, layout: Layout, seed: number, inside: Uint8Array): QuadGrid | null {
  const t = topologyOf(mesh);
  const { cornerWedge } = structureOf(mesh, layout);
  const isQuad = (f: number) => inside[f] === 1 && mesh.faceStart[f + 1]! - mesh.faceStart[f]! === 4;
  if (!isQuad(seed)) return null;
  const at = new Map<number, readonly [number, number]>();
  const faces = [seed];
  const done = new Set(faces);
  const put = (corner: number, i: number, j: number): boolean => {
    const w = cornerWedge[corner]!;
    const known = at.get(w);
    if (known) return known[0] === i && known[1] === j;
    at.set(w, [i, j]);
    return true;
  };
  const first = mesh.faceStart[seed]!;
  for (const [k, [i, j]] of SQUARE.entries()) put(first + k, i, j);
  for (let n = 0; n < faces.length; n++)
    for (let c = mesh.faceStart[faces[n]!]!; c < mesh.faceStart[faces[n]! + 1]!; c++) {
      const e = t.cornerEdge[c]! as Edge;
      if (edgeFaceCount(t, e) !== 2 || isBarrier(t, layout, e)) continue;
      const m = mateCorner(t, c as Corner);
      if (m < 0) continue;
      const g = t.cornerFace[m]!;
      if (!isQuad(g) || !windsAlike(mesh, t, c as Corner, m as Corner)) continue;
      const [a, b] = [at.get(cornerWedge[c]!)!, at.get(cornerWedge[t.cornerNext[c]!]!)!];
      // Across the edge from a to b the next face lies to its right.
      const [di, dj] = [b[1] - a[1], a[0] - b[0]];
      const [far, back] = [t.cornerNext[t.cornerNext[m]!]!, t.cornerNext[t.cornerNext[t.cornerNext[m]!]!]!];
      const fits =
        put(m, b[0], b[1]) &&
        put(t.cornerNext[m]!, a[0], a[1]) &&
        put(far, a[0] + di, a[1] + dj) &&
        put(back, b[0] + di, b[1] + dj);
      if (!fits) return null;
      if (done.has(g)) continue;
      done.add(g);
      faces.push(g);
    }
  return asGrid(faces, at);
}

const SQUARE: ReadonlyArray<readonly [number, number]> = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

function asGrid(faces: readonly number[], at: ReadonlyMap<number, readonly [number, number]>): QuadGrid | null {
  let [i0, j0, i1, j1] = [0, 0, 0, 0];
  const taken = new Set<string>();
  for (const [i, j] of at.values()) {
    [i0, j0, i1, j1] = [Math.min(i0, i), Math.min(j0, j), Math.max(i1, i), Math.max(j1, j)];
    taken.add(`${i},${j}`);
  }
  // Two points in one place: it lies over itself.
  if (taken.size < at.size) return null;
  return {
    faces,
    wedges: [...at.keys()],
    places: Int32Array.from([...at.values()].flatMap(([i, j]) => [i - i0, j - j0])),
    columns: i1 - i0,
    rows: j1 - j0,
  };
}

/**
 * The points of a grid as a rectangle whose columns and rows are as wide as they are on average in space, so that opposite
 * sides match; or all alike.
 *
 * @param world 3 per vertex @returns 2 per point of the grid, in lengths of space
 */
export function rectangleOf(
  mesh: PolyMesh,
  layout: Layout,
  world: Float64Array,
  { faces, wedges, places, columns, rows }: QuadGrid,
  spacing: "as in 3D" | "even",
): Float64Array {
  const s = structureOf(mesh, layout);
  const t = topologyOf(mesh);
  const placeOf = new Map(wedges.map((w, i) => [w, [places[2 * i]!, places[2 * i + 1]!] as const]));
  const sums = [new Float64Array(columns), new Float64Array(rows)] as const;
  const counts = [new Uint32Array(columns), new Uint32Array(rows)] as const;
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const next = t.cornerNext[c]!;
      const [a, b] = [placeOf.get(s.cornerWedge[c]!)!, placeOf.get(s.cornerWedge[next]!)!];
      const along = a[0] === b[0] ? 1 : 0;
      const step = Math.min(a[along], b[along]);
      const [p, q] = [3 * mesh.cornerVertex[c]!, 3 * mesh.cornerVertex[next]!];
      const [x, y, z] = [world[q]! - world[p]!, world[q + 1]! - world[p + 1]!, world[q + 2]! - world[p + 2]!];
      sums[along][step]! += Math.sqrt(x * x + y * y + z * z);
      counts[along][step]!++;
    }
  const lines = [0, 1].map((d) => linesOf(sums[d]!, counts[d]!, spacing === "even"));
  return Float64Array.from(places, (place, i) => lines[i % 2]![place]!);
}

/** Where the lines between steps lie. */
function linesOf(sums: Float64Array, counts: Uint32Array, even: boolean): Float64Array {
  const sizes = sums.map((sum, k) => sum / (counts[k] || 1));
  const mean = sizes.reduce((a, b) => a + b, 0) / sizes.length;
  const out = new Float64Array(sizes.length + 1);
  for (let k = 0; k < sizes.length; k++) out[k + 1] = out[k]! + (even ? mean : sizes[k]!);
  return out;
}

/** How many faces that are part of no grid are tried before no more are looked for. */
const TRIES = 16;

/** Grids among some faces of a shell: what no grid takes is left out. The largest first. */
export function gridsAmong(mesh: PolyMesh, layout: Layout, faces: Iterable<number>): QuadGrid[] {
  const inside = new Uint8Array(mesh.faceStart.length - 1);
  const list = Uint32Array.from(faces);
  for (const f of list) inside[f] = 1;
  const out: QuadGrid[] = [];
  let tries = 0;
  for (const f of list) {
    if (!inside[f] || mesh.faceStart[f + 1]! - mesh.faceStart[f]! !== 4) continue;
    const grid = quadGrid(mesh, layout, f, inside);
    if (!grid && ++tries === TRIES) break;
    for (const g of grid?.faces ?? []) inside[g] = 0;
    if (grid) out.push(grid);
  }
  return out.sort((a, b) => b.faces.length - a.faces.length);
}
