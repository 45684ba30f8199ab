import { weightedPercentile } from "../numeric/percentile";
import type { Figures } from "./figures";
import { isGood } from "./shape-figures";

/** Means and percentiles over an asset, weighted by world area. */
export interface Distortion {
  readonly symmetricDirichlet: number;
  readonly symmetricDirichletP99: number;
  readonly quasiConformalMean: number;
  readonly quasiConformalP99: number;
  readonly areaRatioMean: number;
  readonly areaRatioP99: number;
  readonly stretchL2: number;
  readonly stretchLinf: number;
}

/** Merges the triangles of all shapes; null when none of them has an area in 3D and in UV. */
export function distortionOf(figures: Figures, faceShells: (shape: string) => ArrayLike<number>): Distortion | null {
  let count = 0;
  for (const f of figures.values()) for (let k = 0; k < f.triangle.s1.length; k++) if (isGood(f.triangle, k)) count++;
  if (!count) return null;
  const make = () => new Float64Array(count);
  const [weight, energy, conformal, ratio] = [make(), make(), make(), make()];
  let [total, sumEnergy, sumConformal, sumRatio, sumL2, linf, at] = [0, 0, 0, 0, 0, 0, 0];
  for (const [shape, f] of figures) {
    const { s1, s2, area } = f.triangle;
    const shellOf = faceShells(shape);
    for (let k = 0; k < s1.length; k++) {
      if (!isGood(f.triangle, k)) continue;
      const shell = shellOf[k]!;
      const [a2, b2] = [s1[k]! * s1[k]!, s2[k]! * s2[k]!];
      const c2 = f.bestScale2[shell]!;
      const equal = f.equalArea2[shell]!;
      const w = area[k]!;
      const turned = 1 / a2 + 1 / b2;
      energy[at] = ((a2 + b2) * c2 + turned / c2) / 4;
      conformal[at] = s1[k]! / s2[k]!;
      const part = s1[k]! * s2[k]! * equal;
      ratio[at] = part > 1 ? part : 1 / part;
      weight[at] = w;
      total += w;
      sumEnergy += w * energy[at]!;
      sumConformal += w * conformal[at]!;
      sumRatio += w * ratio[at]!;
      sumL2 += (w * turned) / equal / 2;
      const worst = 1 / (s2[k]! * Math.sqrt(equal));
      if (worst > linf) linf = worst;
      at++;
    }
  }
  return {
    symmetricDirichlet: sumEnergy / total,
    symmetricDirichletP99: weightedPercentile(energy, weight, 0.99),
    quasiConformalMean: sumConformal / total,
    quasiConformalP99: weightedPercentile(conformal, weight, 0.99),
    areaRatioMean: sumRatio / total,
    areaRatioP99: weightedPercentile(ratio, weight, 0.99),
    stretchL2: Math.sqrt(sumL2 / total),
    stretchLinf: linf,
  };
}
