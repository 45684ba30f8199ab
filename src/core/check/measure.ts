import { type Asset, type PlacedShape, type ShapeId, shapesOf, type UvSetId } from "../layout/asset";
import { type ShellRef, structureOf } from "../layout/layout";
import { trianglesOf } from "../mesh/triangulate";
import { type Coverage, coverageOf } from "./coverage";
import { type Distortion, distortionOf } from "./distortion";
import { type Figures, figuresOfAsset, layoutIn } from "./figures";
import { leastGap } from "./gaps";
import { type Outlines, outlinesOf, trianglesInUv, type UvTriangles } from "./outlines";
import { type OverlapPair, overlapPairs } from "./overlap-pairs";
import { stackedCopies } from "./stacks";

/** Figures of one shell. */
export interface ShellRow extends ShellRef {
  /** World area. */
  readonly area: number;
  readonly uvArea: number;
  /** Mean symmetric Dirichlet energy at the shell's best scale; 1 = isometric. */
  readonly energy: number;
  /** Texels per world unit. */
  readonly density: number;
  readonly flipped: number;
  readonly mirrored: boolean;
}

/** Figures of a layout. Means and percentiles are weighted by world area; gaps are in pixels of the resolution. */
export interface Measures extends Partial<Distortion>, Partial<Coverage> {
  readonly resolution: number;
  readonly vertices: number;
  readonly faces: number;
  readonly triangles: number;
  readonly cornersWithoutUv: number;
  readonly shells: number;
  readonly flippedTriangles?: number;
  readonly mirroredShells?: number;
  readonly collapsedTriangles?: number;
  readonly degenerateTriangles3d?: number;
  readonly texelDensityMean?: number;
  readonly texelDensityVariation?: number;
  readonly texelDensityMinToMax?: number;
  readonly stackedShells?: number;
  readonly overlapShareUnstacked?: number;
  readonly outOfBoundsTriangles?: number;
  readonly shellGapPx?: number | null;
  readonly borderGapPx?: number;
  /** By the square root of the world area, as is openBorderLength. */
  readonly seamLength?: number;
  readonly openBorderLength?: number;
  /** In the asset's unit. */
  readonly seamWorldLength?: number;
  /** Shells with and without coordinates. */
  readonly allShells: number;
  /** World length of all edges that are cut, whether mapped or not. */
  readonly cutLength: number;
  readonly perShell: readonly ShellRow[];
  /** Shells that share area, the largest first; missing where there are too many to be told apart. */
  readonly overlapPairs?: readonly ShellPair[];
}

/** Two shells that share area in UV, or one that lies over itself. */
export interface ShellPair {
  readonly a: ShellRef;
  readonly b: ShellRef;
  /** In tiles. */
  readonly area: number;
  /** Whether one is an exact copy laid on the other. */
  readonly stacked: boolean;
}

/** Triangles up to which overlaps are looked for that are too small for the grid of texels. */
const MOST_TRIANGLES = 300_000;

/** UV may stick out of its tile by this much without being out of bounds. */
const SLACK = 1e-6;

/**
 * Measures one UV set of an asset.
 *
 * @param resolution texels per tile side
 * @param set the first when left out
 * @param only shapes to measure; all when not given
 */
export const measure = (
  asset: Asset,
  resolution = 2048,
  set: UvSetId = asset.sets[0]!.id,
  only?: ReadonlySet<ShapeId>,
): Measures => {
  const figures = figuresOfAsset(asset, set, only);
  return mergeFigures(asset, set, figures, resolution, measureBetween(betweenInput(asset, set, figures)));
};

/** What lies between shells: coverage, overlap, gaps, borders of tiles. */
export interface Between {
  readonly cover: Coverage;
  /** Marks shells that lie right on an earlier one, by number among the mapped ones. */
  readonly copies: Uint8Array;
  readonly stacked: number;
  /** Overlap when exact copies lying on one another count once. */
  readonly overlapUnstacked: number;
  /** Least distance of two shells, in tiles; null with fewer than two. */
  readonly gap: number | null;
  /** Least distance of a corner to the border of its tile; negative where it sticks out. */
  readonly borderGap: number;
  readonly outOfBounds: number;
  readonly pairs: readonly OverlapPair[] | null;
}

/** Plain arrays that measuring between shells works on. */
export interface BetweenInput {
  readonly triangles: UvTriangles;
  readonly outlines: Outlines;
  readonly copies: Uint8Array;
}

export function betweenInput(asset: Asset, set: UvSetId, figures: Figures): BetweenInput {
  const shapes = shapesOf(asset).filter((s) => figures.has(s.id));
  const copies = stackedCopies(figures);
  return {
    triangles: trianglesInUv(shapes, set, figures),
    outlines: outlinesOf(shapes, set, figures, copies),
    copies,
  };
}

export function measureBetween({ triangles, outlines, copies }: BetweenInput): Between {
  const { points, shell } = triangles;
  const stacked = copies.reduce((a, b) => a + b, 0);
  const cover = coverageOf(points);
  return {
    cover,
    copies,
    stacked,
    overlapUnstacked: stacked
      ? coverageOf(points.filter((_, i) => !copies[shell[Math.floor(i / 6)]!])).overlapShare
      : cover.overlapShare,
    gap: leastGap(outlines.segments, outlines.shell, 1 / 2048),
    borderGap: borderGap(points),
    outOfBounds: outOfBounds(points),
    // Beyond this many triangles the search costs more than it tells, unless something overlaps.
    pairs: shell.length <= MOST_TRIANGLES || cover.overlapShare > 0 ? overlapPairs(triangles) : [],
  };
}

/** Adds up what was measured of each shape, and measures what lies between shells: coverage, overlap, gaps. */
export function mergeFigures(
  asset: Asset,
  set: UvSetId,
  figures: Figures,
  resolution: number,
  between: Between,
): Measures {
  const shapes = shapesOf(asset).filter((s) => figures.has(s.id));
  const total = (of: (f: ShapeFiguresOf) => ArrayLike<number>, mappedOnly = true): number => {
    let sum = 0;
    for (const f of figures.values()) {
      const list = of(f);
      for (let k = 0; k < f.count; k++) if (!mappedOnly || f.mapped[k]) sum += list[k]!;
    }
    return sum;
  };
  const base = {
    resolution,
    vertices: shapes.reduce((n, s) => n + s.mesh.positions.length / 3, 0),
    faces: total((f) => f.faces, false),
    triangles: total((f) => f.triangles),
    cornersWithoutUv: total((f) => f.corners.map((c, k) => (f.mapped[k] ? 0 : c)), false),
    shells: total((f) => f.mapped),
    allShells: [...figures.values()].reduce((n, f) => n + f.count, 0),
    cutLength: total((f) => f.cutLength, false),
  };
  if (!base.triangles) return { ...base, perShell: [] };
  const rows = shellRows(figures, resolution);
  const { gap } = between;
  const root = Math.sqrt(total((f) => f.area)) || 1;
  return {
    ...base,
    flippedTriangles: total((f) => f.flipped),
    mirroredShells: total((f) => f.majority.map((m) => (m < 0 ? 1 : 0))),
    collapsedTriangles: total((f) => f.collapsed),
    degenerateTriangles3d: total((f) => f.flat),
    ...(distortionOf(figures, (id) => shellOfTriangle(shapes.find((s) => s.id === id)!, set)) ?? {}),
    ...densityFigures(rows),
    ...between.cover,
    stackedShells: between.stacked,
    overlapShareUnstacked: between.overlapUnstacked,
    outOfBoundsTriangles: between.outOfBounds,
    shellGapPx: gap === null ? null : gap * resolution,
    borderGapPx: between.borderGap * resolution,
    seamLength: total((f) => f.seamLength) / root,
    openBorderLength: total((f) => f.borderLength) / root,
    seamWorldLength: total((f) => f.seamLength),
    perShell: rows,
    ...(between.pairs ? { overlapPairs: between.pairs.map((p) => shellPair(p, rows, between.copies)) } : {}),
  };
}

const shellPair = ({ a, b, area }: OverlapPair, rows: readonly ShellRow[], copies: Uint8Array): ShellPair => {
  const ref = (n: number): ShellRef => ({ shape: rows[n]!.shape, face: rows[n]!.face });
  // A copy lies over the whole of its twin; over anything else it is as much a fault as another shell.
  const whole = area > 0.999 * Math.min(rows[a]!.uvArea, rows[b]!.uvArea);
  return { a: ref(a), b: ref(b), area, stacked: a !== b && whole && (copies[a] === 1 || copies[b] === 1) };
};

type ShapeFiguresOf = Figures extends ReadonlyMap<string, infer F> ? F : never;

/** Shell of every triangle of a shape. */
function shellOfTriangle(shape: PlacedShape, set: UvSetId): Uint32Array {
  const { faceShell } = structureOf(shape.mesh, layoutIn(shape, set));
  return trianglesOf(shape.mesh).face.map((f) => faceShell[f]!);
}

/** A row for every mapped shell. */
export function shellRows(figures: Figures, resolution: number): ShellRow[] {
  const out: ShellRow[] = [];
  for (const [shape, f] of figures)
    for (let k = 0; k < f.count; k++) {
      if (!f.mapped[k]) continue;
      const [area, uvArea] = [f.area[k]!, f.uvArea[k]!];
      out.push({
        shape,
        face: f.face[k]!,
        area,
        uvArea,
        energy: f.energy[k]!,
        density: area > 0 ? Math.sqrt(uvArea / area) * resolution : 0,
        flipped: f.flipped[k]!,
        mirrored: f.majority[k]! < 0,
      });
    }
  return out;
}

function densityFigures(rows: readonly ShellRow[]) {
  let [total, sum, low, high] = [0, 0, Infinity, -Infinity];
  for (const { area, density } of rows) {
    if (!(area > 0)) continue;
    total += area;
    sum += area * density;
    low = Math.min(low, density);
    high = Math.max(high, density);
  }
  if (!total) return {};
  const mean = sum / total;
  let spread = 0;
  for (const { area, density } of rows) if (area > 0) spread += (area / total) * (density - mean) ** 2;
  return {
    texelDensityMean: mean,
    texelDensityVariation: mean ? Math.sqrt(spread) / mean : 0,
    texelDensityMinToMax: high ? low / high : 0,
  };
}

function outOfBounds(q: Float64Array): number {
  let count = 0;
  for (let i = 0; i < q.length; i += 6) {
    let out = false;
    for (let d = 0; d < 2; d++) {
      const low = Math.min(q[i + d]!, q[i + 2 + d]!, q[i + 4 + d]!);
      const high = Math.max(q[i + d]!, q[i + 2 + d]!, q[i + 4 + d]!);
      out ||= low < -SLACK || Math.floor(low + SLACK) < Math.ceil(high - SLACK) - 1;
    }
    if (out) count++;
  }
  return count;
}

/** Least distance of a corner to the border of the tile its triangle's middle is in; negative: sticks out. */
function borderGap(q: Float64Array): number {
  let least = Infinity;
  for (let i = 0; i < q.length; i += 6) {
    for (let d = 0; d < 2; d++) {
      const tile = Math.floor((q[i + d]! + q[i + 2 + d]! + q[i + 4 + d]!) / 3);
      for (let k = d; k < 6; k += 2) least = Math.min(least, q[i + k]! - tile, tile + 1 - q[i + k]!);
    }
  }
  return least;
}
