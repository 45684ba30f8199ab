import type { BenchState } from "./store";

/** The mean density of the picked shells by area, without the ratios that they are to have; null where none is picked. */
export function pickedDensity({
  kind,
  picked,
  measures,
}: Pick<BenchState, "kind" | "picked" | "measures">): number | null {
  if (kind !== "shells" || !measures) return null;
  let [sum, area] = [0, 0];
  for (const row of measures.perShell) {
    if (!picked.get(row.shape)?.has(row.face)) continue;
    sum += (row.area * row.density) / row.ratio;
    area += row.area;
  }
  return area > 0 ? sum / area : null;
}
