import type { ShellRow } from "../check/measure";

/** Shells between two densities. */
export interface DensityBin {
  /** Texels per unit of length, as they are without the ratios that shells are to have. */
  readonly low: number;
  readonly high: number;
  readonly shells: readonly ShellRow[];
}

/** Densities that differ by less are one, by their size. */
const ALIKE = 1e-3;

/**
 * Shells by their densities, in bins of the same width from the least to the greatest: all are in one where they hardly differ.
 * Shells without area are left out.
 */
export function densityBins(rows: readonly ShellRow[], most: number): DensityBin[] {
  const own = rows.filter((r) => r.density > 0).map((row) => ({ row, density: row.density / row.ratio }));
  if (!own.length) return [];
  let [low, high] = [Infinity, -Infinity];
  for (const { density } of own) {
    low = Math.min(low, density);
    high = Math.max(high, density);
  }
  const count = high - low <= ALIKE * high ? 1 : most;
  const width = (high - low) / count;
  const bins = Array.from({ length: count }, (_, k) => ({
    low: low + k * width,
    high: k + 1 === count ? high : low + (k + 1) * width,
    shells: [] as ShellRow[],
  }));
  for (const { row, density } of own)
    bins[width > 0 ? Math.min(count - 1, Math.floor((density - low) / width)) : 0]!.shells.push(row);
  return bins;
}

/** Shells whose density, without the ratio that they are to have, is off the mean by more than a share of it. */
export const densityOutliers = (rows: readonly ShellRow[], mean: number, share: number): ShellRow[] =>
  rows.filter(({ density, ratio }) => density > 0 && Math.abs(density / ratio - mean) > share * mean);
