import { type Asset, placedShape, type ShapeId, shapesOf, type UvSetId } from "../layout/asset";
import type { ShellRef } from "../layout/layout";
import type { Said } from "../layout/shell-mark";
import { saidOf } from "../layout/shell-marks";
import { tileAt } from "../layout/tile-list";
import { resolutionAt, type Tiles, unevenness } from "../layout/tiles";
import { axisOf, type UpWay, upOfPart } from "../layout/up";
import { offUpright, wayUp } from "../place/upright";
import { type Between, measureBetween } from "./between";
import type { Coverage } from "./coverage";
import { type Distortion, distortionOf, type Guess } from "./distortion";
import { FigureCache, type Figures, layoutIn } from "./figures";
import type { OverlapPair } from "./overlap-pairs";
import type { ShapeFigures } from "./shape-figures";
import type { BetweenShape } from "./shells-in-uv";
import { stacksIn } from "./stacks";

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
  /** How dense it is to be, by what is common. */
  readonly ratio: number;
  /** It bears lettering, which has to be read. */
  readonly lettering: boolean;
  /** Degrees, counterclockwise, by which up on the model is turned away from v, or away from who looks on a lid; null where there is no up. */
  readonly turn: number | null;
  /** Which side of the model it is on, by where it faces. */
  readonly side: Side;
  /** Number of the tile that its middle lies in, from 1001; null where there is none. */
  readonly tile: number | null;
}

/** Figures of a layout. Means and percentiles are weighted by world area; gaps are in texels of the tiles they lie in. */
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
  /** Shells that lie right on one another: lists of two or more. */
  readonly stacks?: ReadonlyArray<readonly ShellRef[]>;
  readonly overlapShareUnstacked?: number;
  readonly outOfBoundsTriangles?: number;
  readonly shellGapPx?: number | null;
  /** The same among shells that do not overlap. */
  readonly apartGapPx?: number | null;
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
  /** What all mapped shells lie in; missing where there are none. */
  readonly bounds?: { readonly u0: number; readonly v0: number; readonly u1: number; readonly v1: number };
  /** Shells without coordinates. */
  readonly unmapped: readonly ShellRef[];
  /** Shells that share area, the largest first; missing where there are too many to list. */
  readonly overlapPairs?: readonly ShellPair[];
}

/** Two shells that share area in UV, or one that lies over itself. */
export interface ShellPair {
  readonly a: ShellRef;
  readonly b: ShellRef;
  /** In tiles. */
  readonly area: number;
  /** Whether one is an exact copy lying on the other. */
  readonly stacked: boolean;
}

/**
 * Measures one UV set of an asset.
 *
 * @param resolution texels per tile side; those of the asset's tiles when not given
 * @param set the first when left out
 * @param only shapes to measure; all when not given
 */
export const measure = (
  asset: Asset,
  resolution?: number,
  set: UvSetId = asset.sets[0]!.id,
  only?: ReadonlySet<ShapeId>,
): Measures => {
  const cache = new FigureCache();
  const figures = cache.all(asset, set, only);
  const tiles = resolution === undefined ? asset.tiles : { resolution, own: {} };
  const shapes = betweenShapes(asset, set, cache, figures);
  return mergeFigures(asset, figures, { tiles, set }, measureBetween({ shapes, uneven: unevenness(tiles) }));
};

/** What measuring between shells takes of the figures of shapes. */
export function betweenShapes(asset: Asset, set: UvSetId, cache: FigureCache, figures: Figures): BetweenShape[] {
  return shapesOf(asset).flatMap((shape) => {
    const f = figures.get(shape.id);
    if (!f) return [];
    const { count, mapped, box, uvArea, majority, triangles, border } = f;
    return [
      {
        mesh: shape.mesh,
        layout: layoutIn(shape, set),
        figures: { count, mapped, box, uvArea, majority, triangles, border },
        stamps: cache.stamps(shape, set),
      },
    ];
  });
}

/** Adds up what was measured of each shape and between shells. */
export function mergeFigures(
  asset: Asset,
  figures: Figures,
  { tiles, set }: { readonly tiles: Tiles; readonly set: UvSetId },
  between: Between,
  guess: Guess = {},
): Measures {
  const shapes = shapesOf(asset).filter((s) => figures.has(s.id));
  const total = (of: (f: ShapeFigures) => ArrayLike<number>, mappedOnly = true): number => {
    let sum = 0;
    for (const f of figures.values()) {
      const list = of(f);
      for (let k = 0; k < f.count; k++) if (!mappedOnly || f.mapped[k]) sum += list[k]!;
    }
    return sum;
  };
  const base = {
    resolution: tiles.resolution,
    vertices: shapes.reduce((n, s) => n + s.mesh.positions.length / 3, 0),
    faces: total((f) => f.faces, false),
    triangles: total((f) => f.triangles),
    cornersWithoutUv: total((f) => f.corners.map((c, k) => (f.mapped[k] ? 0 : c)), false),
    shells: total((f) => f.mapped),
    allShells: [...figures.values()].reduce((n, f) => n + f.count, 0),
    cutLength: total((f) => f.cutLength, false),
    unmapped: unmappedShells(figures),
  };
  if (!base.triangles) return { ...base, perShell: [] };
  const rows = shellRows(figures, asset, tiles, (shell) => saidOf(asset, set, shell));
  const { pairs, copies } = between;
  const resolutions = shellResolutions(figures, tiles);
  const root = Math.sqrt(total((f) => f.area)) || 1;
  return {
    ...base,
    flippedTriangles: total((f) => f.flipped),
    mirroredShells: total((f) => f.majority.map((m) => (m < 0 ? 1 : 0))),
    collapsedTriangles: total((f) => f.collapsed),
    degenerateTriangles3d: total((f) => f.flat),
    ...(distortionOf(figures, guess) ?? {}),
    ...densityFigures(rows),
    ...between.cover,
    stackedShells: copies.reduce((a, b) => a + b, 0),
    stacks: stacksIn(figures),
    overlapShareUnstacked: between.overlapUnstacked,
    outOfBoundsTriangles: total((f) => f.outside),
    shellGapPx: leastGapPx(between, resolutions, tiles),
    apartGapPx: leastGapPx(between, resolutions, tiles, true),
    borderGapPx: borderGapPx(figures, tiles),
    seamLength: total((f) => f.seamLength) / root,
    openBorderLength: total((f) => f.borderLength) / root,
    seamWorldLength: total((f) => f.seamLength),
    perShell: rows,
    bounds: boundsOfShells(figures),
    ...(pairs ? { overlapPairs: pairs.map((p) => shellPair(p, rows, copies)) } : {}),
  };
}

const shellPair = ({ a, b, area }: OverlapPair, rows: readonly ShellRow[], copies: Uint8Array): ShellPair => {
  const ref = (n: number): ShellRef => ({ shape: rows[n]!.shape, face: rows[n]!.face });
  // A copy lies over the whole of its twin; over anything else it is as much a fault as another shell.
  const whole = area > 0.999 * Math.min(rows[a]!.uvArea, rows[b]!.uvArea);
  return { a: ref(a), b: ref(b), area, stacked: a !== b && whole && (copies[a] === 1 || copies[b] === 1) };
};

/** Texels per side of the tile that a shell's middle lies in. */
const resolutionOf = (f: ShapeFigures, k: number, tiles: Tiles): number =>
  resolutionAt(tiles, (f.box[4 * k]! + f.box[4 * k + 2]!) / 2, (f.box[4 * k + 1]! + f.box[4 * k + 3]!) / 2);

/** The same for all mapped shells, by number. */
function shellResolutions(figures: Figures, tiles: Tiles): number[] {
  const out: number[] = [];
  for (const f of figures.values())
    for (let k = 0; k < f.count; k++) if (f.mapped[k]) out.push(resolutionOf(f, k, tiles));
  return out;
}

/** Least distance of two shells in texels, of the coarser tile where they lie in two; of such as do not overlap if wanted. */
function leastGapPx(
  { gap, kept, copies }: Between,
  resolutions: readonly number[],
  tiles: Tiles,
  apart = false,
): number | null {
  if (gap === null) return null;
  if (!kept || (!apart && !Object.keys(tiles.own).length)) return gap * tiles.resolution;
  let least = Number.POSITIVE_INFINITY;
  for (const p of kept.near)
    if (p.a !== p.b && !copies[p.a] && !copies[p.b] && !(apart && p.area))
      least = Math.min(least, p.gap * Math.min(resolutions[p.a]!, resolutions[p.b]!));
  return least < Number.POSITIVE_INFINITY ? least : null;
}

/** Least distance of a corner to the border of its tile, in texels. */
function borderGapPx(figures: Figures, tiles: Tiles): number {
  let least = Number.POSITIVE_INFINITY;
  for (const f of figures.values())
    for (let k = 0; k < f.count; k++)
      if (f.mapped[k]) least = Math.min(least, f.borderGap[k]! * resolutionOf(f, k, tiles));
  return least;
}

function boundsOfShells(figures: Figures) {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const f of figures.values())
    for (let k = 0; k < f.count; k++) {
      if (!f.mapped[k]) continue;
      u0 = Math.min(u0, f.box[4 * k]!);
      v0 = Math.min(v0, f.box[4 * k + 1]!);
      u1 = Math.max(u1, f.box[4 * k + 2]!);
      v1 = Math.max(v1, f.box[4 * k + 3]!);
    }
  return { u0, v0, u1, v1 };
}

function unmappedShells(figures: Figures): ShellRef[] {
  const out: ShellRef[] = [];
  for (const [shape, f] of figures)
    for (let k = 0; k < f.count; k++) if (!f.mapped[k]) out.push({ shape, face: f.face[k]! });
  return out;
}

/** How far up on the model is turned away from v; null where a shell has no up. */
function turnOf(f: ShapeFigures, k: number, up: UpWay, of: Asset["up"]): number | null {
  const { axis, sign } = axisOf(up);
  const leads = (a: number, by: number): [number, number] => [
    by * f.rise[6 * k + 2 * a]!,
    by * f.rise[6 * k + 2 * a + 1]!,
  ];
  // Away from who looks is where y leads, or where z comes from.
  const isZ = axis === 2 || (axis === 0 && of === "z");
  const way = wayUp({
    up: leads(axis, sign),
    back: isZ ? leads(1, 1) : leads(2, -1),
    facing: sign * f.facing[3 * k + axis]!,
    most: f.goodArea[k]! * Math.sqrt(f.uvArea[k]! / f.area[k]!),
  });
  return way && (offUpright(way) * 180) / Math.PI;
}

/** Sides of a model as it is looked at from the front. */
export type Side = "front" | "back" | "left" | "right" | "top" | "bottom" | "all round";

/** Of what a shell faces on the whole, this share has to be left for it to face anywhere. */
const FACES = 0.2;

function sideOf(f: ShapeFigures, k: number, up: Asset["up"]): Side {
  const [x, y, z] = [0, 1, 2].map((d) => f.facing[3 * k + d]!) as [number, number, number];
  const [rises, comes] = up === "y" ? [y, z] : [z, -y];
  const most = Math.max(Math.abs(x), Math.abs(rises), Math.abs(comes));
  if (!(most > FACES * f.area[k]!)) return "all round";
  if (most === Math.abs(rises)) return rises > 0 ? "top" : "bottom";
  // Looked at from the front, x leads to the right.
  if (most === Math.abs(x)) return x > 0 ? "right" : "left";
  return comes > 0 ? "front" : "back";
}

function tileOf(f: ShapeFigures, k: number): number | null {
  const middle = (d: number) => (f.box[4 * k + d]! + f.box[4 * k + d + 2]!) / 2;
  return tileAt(middle(0), middle(1));
}

/** A row for every mapped shell. */
export function shellRows(
  figures: Figures,
  asset: Asset,
  tiles: Tiles,
  saidOfShell: (shell: ShellRef) => Said,
): ShellRow[] {
  const out: ShellRow[] = [];
  for (const [shape, f] of figures) {
    const up = upOfPart(asset, placedShape(asset, shape).parts[0]);
    for (let k = 0; k < f.count; k++) {
      if (!f.mapped[k]) continue;
      const [area, uvArea] = [f.area[k]!, f.uvArea[k]!];
      const said = saidOfShell({ shape, face: f.face[k]! });
      out.push({
        shape,
        face: f.face[k]!,
        area,
        uvArea,
        energy: f.energy[k]!,
        density: area > 0 ? Math.sqrt(uvArea / area) * resolutionOf(f, k, tiles) : 0,
        ratio: said.ratio ?? 1,
        lettering: said.lettering === true,
        flipped: f.flipped[k]!,
        mirrored: f.majority[k]! < 0,
        turn: turnOf(f, k, up, asset.up),
        side: sideOf(f, k, asset.up),
        tile: tileOf(f, k),
      });
    }
  }
  return out;
}

/** Mean density, and how far shells differ from it: each as it would be without the ratio that it is to have. */
function densityFigures(rows: readonly ShellRow[]) {
  let [total, sum, low, high] = [0, 0, Infinity, -Infinity];
  for (const { area, density, ratio } of rows) {
    if (!(area > 0)) continue;
    const own = density / ratio;
    total += area;
    sum += area * own;
    low = Math.min(low, own);
    high = Math.max(high, own);
  }
  if (!total) return {};
  const mean = sum / total;
  let spread = 0;
  for (const { area, density, ratio } of rows) if (area > 0) spread += (area / total) * (density / ratio - mean) ** 2;
  return {
    texelDensityMean: mean,
    texelDensityVariation: mean ? Math.sqrt(spread) / mean : 0,
    texelDensityMinToMax: high ? low / high : 0,
  };
}
