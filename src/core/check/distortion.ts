import { weightedPercentile } from "../numeric/percentile";
import type { Figures } from "./figures";
import type { ShapeFigures, TriangleFigures } from "./shape-figures";

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

/** What is known of the percentiles before they are looked for. */
export interface Guess {
  /** Those of a layout that is thought to be much the same. */
  readonly near?: Partial<Distortion> | undefined;
  /** Whether its triangles are the very same: then they are not looked for. */
  readonly same?: boolean;
}

/** Merges the shells and triangles of all shapes; null when none of them has an area in 3D and in UV. */
export function distortionOf(figures: Figures, guess: Guess = {}): Distortion | null {
  let [total, energy, conformal, ratio, stretch2, most] = [0, 0, 0, 0, 0, 0];
  for (const f of figures.values())
    for (let k = 0; k < f.count; k++) {
      if (!f.mapped[k] || !(f.goodArea[k]! > 0)) continue;
      total += f.goodArea[k]!;
      energy += f.energy[k]! * f.goodArea[k]!;
      conformal += f.conformal[k]!;
      ratio += f.areaRatio[k]!;
      stretch2 += f.stretch2[k]!;
      if (f.stretchMost[k]! > most) most = f.stretchMost[k]!;
    }
  if (!total) return null;
  const triangles = [...figures.values()].map((f: ShapeFigures) => f.triangle);
  const p99 = (of: (t: TriangleFigures) => Float32Array, near: number | undefined): number =>
    guess.same && near !== undefined
      ? near
      : weightedPercentile(
          triangles.map((t) => ({ values: of(t), weights: t.area })),
          0.99,
          near,
        );
  return {
    symmetricDirichlet: energy / total,
    symmetricDirichletP99: p99((t) => t.energy, guess.near?.symmetricDirichletP99),
    quasiConformalMean: conformal / total,
    quasiConformalP99: p99((t) => t.conformal, guess.near?.quasiConformalP99),
    areaRatioMean: ratio / total,
    areaRatioP99: p99((t) => t.areaRatio, guess.near?.areaRatioP99),
    stretchL2: Math.sqrt(stretch2 / total),
    stretchLinf: most,
  };
}
