import type { Asset, PartId } from "../layout/asset";
import { type Coverage, coverageOf } from "./coverage";
import { type Distortion, distortionOf, type ShellSums, stretchOf, sumShells } from "./distortion";
import { leastGap } from "./gaps";
import { type Gathered, gather, type ShellRef } from "./gather";

/** Figures of one shell. */
export interface ShellFigures extends ShellRef {
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
  readonly perShell: readonly ShellFigures[];
}

/** UV may stick out of its tile by this much without being out of bounds. */
const SLACK = 1e-6;

/**
 * Measures one UV set of an asset.
 *
 * @param resolution texels per tile side
 * @param only parts to measure; all when not given
 */
export function measure(asset: Asset, resolution = 2048, set = 0, only?: ReadonlySet<PartId>): Measures {
  const g = gather(asset, set, only);
  const base = {
    resolution,
    vertices: g.vertices,
    faces: g.faces,
    triangles: g.count,
    cornersWithoutUv: g.cornersWithoutUv,
    shells: g.shells.length,
    allShells: g.allShells,
    cutLength: g.cutLength,
  };
  if (!g.count) return { ...base, perShell: [] };
  const stretch = stretchOf(g);
  const sums = sumShells(g, g.shells.length, stretch);
  const copies = stackedCopies(g, sums);
  const cover = coverageOf(g.q);
  const alone = Array.from(g.outlineShell.keys()).filter((i) => !copies[g.outlineShell[i]!]);
  const outline = Float64Array.from({ length: 4 * alone.length }, (_, i) => g.outline[4 * alone[i >> 2]! + (i & 3)]!);
  const gap = leastGap(
    outline,
    Uint32Array.from(alone, (i) => g.outlineShell[i]!),
    1 / resolution,
  );
  const stacked = copies.reduce((a, b) => a + b, 0);
  const area = sums.area.reduce((a, b) => a + b, 0);
  const root = Math.sqrt(area) || 1;
  return {
    ...base,
    flippedTriangles: sums.flipped.reduce((a, b) => a + b, 0),
    mirroredShells: sums.majority.filter((m) => m < 0).length,
    collapsedTriangles: stretch.solid.reduce((n, solid, t) => n + (solid && stretch.sign[t] === 0 ? 1 : 0), 0),
    degenerateTriangles3d: stretch.solid.reduce((n, solid) => n + (solid ? 0 : 1), 0),
    ...(distortionOf(g, stretch, sums) ?? {}),
    ...densityFigures(sums, resolution),
    ...cover,
    stackedShells: stacked,
    overlapShareUnstacked: stacked ? coverageOf(withoutShells(g, copies)).overlapShare : cover.overlapShare,
    outOfBoundsTriangles: outOfBounds(g.q),
    shellGapPx: gap === null ? null : gap * resolution,
    borderGapPx: borderGap(g.q) * resolution,
    seamLength: g.seamLength / root,
    openBorderLength: g.borderLength / root,
    seamWorldLength: g.seamLength,
    perShell: perShell(g, sums, resolution),
  };
}

function perShell(g: Gathered, sums: ShellSums, resolution: number): ShellFigures[] {
  return g.shells.map((ref, k) => ({
    ...ref,
    area: sums.area[k]!,
    uvArea: sums.uvArea[k]!,
    energy: sums.energy[k]!,
    density: sums.area[k]! > 0 ? Math.sqrt(sums.uvArea[k]! / sums.area[k]!) * resolution : 0,
    flipped: sums.flipped[k]!,
    mirrored: sums.majority[k]! < 0,
  }));
}

function densityFigures(sums: ShellSums, resolution: number) {
  const real = Array.from(sums.area.keys()).filter((k) => sums.area[k]! > 0);
  if (!real.length) return {};
  const density = real.map((k) => Math.sqrt(sums.uvArea[k]! / sums.area[k]!) * resolution);
  const total = real.reduce((sum, k) => sum + sums.area[k]!, 0);
  const weigh = (value: (d: number) => number) =>
    real.reduce((sum, k, i) => sum + (sums.area[k]! / total) * value(density[i]!), 0);
  const mean = weigh((d) => d);
  const [low, high] = density.reduce(([a, b], d) => [Math.min(a, d), Math.max(b, d)], [Infinity, 0] as const as [
    number,
    number,
  ]);
  return {
    texelDensityMean: mean,
    texelDensityVariation: mean ? Math.sqrt(weigh((d) => (d - mean) ** 2)) / mean : 0,
    texelDensityMinToMax: high ? low / high : 0,
  };
}

/** Marks shells that lie right on an earlier one: same box and same area, to 1e-5. */
function stackedCopies(g: Gathered, sums: ShellSums): Uint8Array {
  const n = g.shells.length;
  const box = new Float64Array(4 * n).map((_, i) => ((i & 3) < 2 ? Infinity : -Infinity));
  for (let t = 0; t < g.count; t++) {
    const b = 4 * g.shell[t]!;
    for (let k = 0; k < 6; k += 2) {
      box[b] = Math.min(box[b]!, g.q[6 * t + k]!);
      box[b + 1] = Math.min(box[b + 1]!, g.q[6 * t + k + 1]!);
      box[b + 2] = Math.max(box[b + 2]!, g.q[6 * t + k]!);
      box[b + 3] = Math.max(box[b + 3]!, g.q[6 * t + k + 1]!);
    }
  }
  const seen = new Set<string>();
  const copies = new Uint8Array(n);
  for (let k = 0; k < n; k++) {
    const look = [...box.subarray(4 * k, 4 * k + 4), Math.sqrt(sums.uvArea[k]!)].map((x) => Math.round(x * 1e5)).join();
    if (seen.has(look)) copies[k] = 1;
    seen.add(look);
  }
  return copies;
}

function withoutShells(g: Gathered, left: Uint8Array): Float64Array {
  const out: number[] = [];
  for (let t = 0; t < g.count; t++) if (!left[g.shell[t]!]) for (let k = 0; k < 6; k++) out.push(g.q[6 * t + k]!);
  return Float64Array.from(out);
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
