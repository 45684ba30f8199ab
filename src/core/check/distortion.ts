import type { Gathered } from "./gather";

/** Per triangle: what the map from 3D to UV does. */
export interface Stretch {
  /** Singular values, s1 >= s2 >= 0, UV per world length. */
  readonly s1: Float64Array;
  readonly s2: Float64Array;
  /** World area. */
  readonly area: Float64Array;
  /** Signed UV area. */
  readonly uvArea: Float64Array;
  /** 1, -1, or 0 where the UV area is within rounding of zero. */
  readonly sign: Int8Array;
  /** 0 where the triangle has no area in 3D. */
  readonly solid: Uint8Array;
}

/**
 * Singular values of the linear maps taking the 3D triangles to their UV triangles.
 * Source: Sander, Snyder, Gortler, Hoppe, Texture mapping progressive meshes (2001).
 */
export function stretchOf(g: Pick<Gathered, "count" | "p" | "q">): Stretch {
  const { count, p, q } = g;
  const s1 = new Float64Array(count);
  const s2 = new Float64Array(count);
  const area = new Float64Array(count);
  const uvArea = new Float64Array(count);
  const sign = new Int8Array(count);
  const solid = new Uint8Array(count);
  for (let t = 0; t < count; t++) {
    const i = 9 * t;
    const j = 6 * t;
    const ex = p[i + 3]! - p[i]!;
    const ey = p[i + 4]! - p[i + 1]!;
    const ez = p[i + 5]! - p[i + 2]!;
    const fx = p[i + 6]! - p[i]!;
    const fy = p[i + 7]! - p[i + 1]!;
    const fz = p[i + 8]! - p[i + 2]!;
    const twice = Math.hypot(ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx);
    area[t] = twice / 2;
    const gx = fx - ex;
    const gy = fy - ey;
    const gz = fz - ez;
    const x1 = Math.sqrt(ex * ex + ey * ey + ez * ez);
    const longest = Math.max(x1 * x1, fx * fx + fy * fy + fz * fz, gx * gx + gy * gy + gz * gz);
    solid[t] = area[t]! > 1e-10 * longest ? 1 : 0;

    const au = q[j + 2]! - q[j]!;
    const av = q[j + 3]! - q[j + 1]!;
    const bu = q[j + 4]! - q[j]!;
    const bv = q[j + 5]! - q[j + 1]!;
    uvArea[t] = (au * bv - av * bu) / 2;
    let extent = 0;
    for (let k = 0; k < 6; k++) extent = Math.max(extent, Math.abs(q[j + k]!));
    const side = Math.sqrt(Math.max(au * au + av * av, bu * bu + bv * bv, (bu - au) ** 2 + (bv - av) ** 2));
    const rounding = 4 * 2.220446049250313e-16 * extent * side;
    sign[t] = Math.abs(uvArea[t]!) <= rounding ? 0 : Math.sign(uvArea[t]!);
    if (!solid[t]) continue;
    const x2 = (ex * fx + ey * fy + ez * fz) / x1;
    const y2 = twice / x1;
    const a0 = au / x1;
    const a1 = av / x1;
    const b0 = (bu - a0 * x2) / y2;
    const b1 = (bv - a1 * x2) / y2;
    s1[t] = (Math.hypot(a0 + b1, a1 - b0) + Math.hypot(a0 - b1, a1 + b0)) / 2;
    s2[t] = s1[t]! > 0 ? Math.abs(a0 * b1 - a1 * b0) / s1[t]! : 0;
  }
  return { s1, s2, area, uvArea, sign, solid };
}

/** Sums per shell, from which the means and the best scales follow. */
export interface ShellSums {
  readonly area: Float64Array;
  /** Unsigned UV area. */
  readonly uvArea: Float64Array;
  /** 1 or -1: which way most of its triangles lie. */
  readonly majority: Int8Array;
  /** Square of the scale of least energy, and of the scale that makes UV area equal to world area; over good triangles. */
  readonly bestScale2: Float64Array;
  readonly equalArea2: Float64Array;
  /** Mean symmetric Dirichlet energy at the best scale. */
  readonly energy: Float64Array;
  readonly flipped: Uint32Array;
}

export const isGood = (s: Stretch, t: number): boolean => s.solid[t] === 1 && s.sign[t] !== 0;

export function sumShells(g: Pick<Gathered, "count" | "shell">, shells: number, s: Stretch): ShellSums {
  const make = () => new Float64Array(shells);
  const [area, uvArea, votes, lean, goodArea, grow, shrink, product] = [
    make(),
    make(),
    make(),
    make(),
    make(),
    make(),
    make(),
    make(),
  ] as const;
  for (let t = 0; t < g.count; t++) {
    const k = g.shell[t]!;
    area[k]! += s.area[t]!;
    uvArea[k]! += Math.abs(s.uvArea[t]!);
    votes[k]! += s.sign[t]!;
    lean[k]! += s.uvArea[t]!;
    if (!isGood(s, t)) continue;
    goodArea[k]! += s.area[t]!;
    grow[k]! += s.area[t]! * (s.s1[t]! ** 2 + s.s2[t]! ** 2);
    shrink[k]! += s.area[t]! * (s.s1[t]! ** -2 + s.s2[t]! ** -2);
    product[k]! += s.area[t]! * s.s1[t]! * s.s2[t]!;
  }
  const majority = new Int8Array(shells);
  const flipped = new Uint32Array(shells);
  for (let k = 0; k < shells; k++) majority[k] = (votes[k] || lean[k]!) < 0 ? -1 : 1;
  for (let t = 0; t < g.count; t++) if (s.sign[t]! * majority[g.shell[t]!]! < 0) flipped[g.shell[t]!]!++;
  return {
    area,
    uvArea,
    majority,
    flipped,
    bestScale2: area.map((_, k) => Math.sqrt(shrink[k]! / grow[k]!)), // c^4 = sum(s^-2) / sum(s^2)
    equalArea2: area.map((_, k) => goodArea[k]! / product[k]!),
    energy: area.map((_, k) => Math.sqrt(grow[k]! * shrink[k]!) / (2 * goodArea[k]!)),
  };
}

/** Means and percentiles weighted by world area. */
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

export function distortionOf(g: Gathered, s: Stretch, sums: ShellSums): Distortion | null {
  const good = Uint32Array.from({ length: g.count }, (_, t) => t).filter((t) => isGood(s, t));
  if (!good.length) return null;
  const weight = Float64Array.from(good, (t) => s.area[t]!);
  const total = weight.reduce((a, b) => a + b, 0);
  const mean = (values: Float64Array) => values.reduce((sum, x, i) => sum + x * weight[i]!, 0) / total;
  const per = (value: (t: number, k: number) => number) => Float64Array.from(good, (t) => value(t, g.shell[t]!));
  const energy = per((t, k) => {
    const c2 = sums.bestScale2[k]!;
    return ((s.s1[t]! ** 2 + s.s2[t]! ** 2) * c2 + (s.s1[t]! ** -2 + s.s2[t]! ** -2) / c2) / 4;
  });
  const conformal = per((t) => s.s1[t]! / s.s2[t]!);
  const ratio = per((t, k) => {
    const a = s.s1[t]! * s.s2[t]! * sums.equalArea2[k]!;
    return Math.max(a, 1 / a);
  });
  const l2 = per((t, k) => (s.s1[t]! ** -2 + s.s2[t]! ** -2) / sums.equalArea2[k]! / 2);
  const linf = per((t, k) => 1 / (s.s2[t]! * Math.sqrt(sums.equalArea2[k]!)));
  return {
    symmetricDirichlet: mean(energy),
    symmetricDirichletP99: percentile(energy, weight, 0.99),
    quasiConformalMean: mean(conformal),
    quasiConformalP99: percentile(conformal, weight, 0.99),
    areaRatioMean: mean(ratio),
    areaRatioP99: percentile(ratio, weight, 0.99),
    stretchL2: Math.sqrt(mean(l2)),
    stretchLinf: linf.reduce((a, b) => Math.max(a, b), 0),
  };
}

function percentile(values: Float64Array, weights: Float64Array, share: number): number {
  const order = Uint32Array.from(values, (_, i) => i).sort((a, b) => values[a]! - values[b]!);
  const total = weights.reduce((a, b) => a + b, 0);
  let sum = 0;
  for (const i of order) {
    sum += weights[i]!;
    if (sum >= share * total) return values[i]!;
  }
  return values[order[order.length - 1]!]!;
}
