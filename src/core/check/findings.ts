import { z } from "zod";
import type { Asset, UvSetId } from "../layout/asset";
import type { ShellRef } from "../layout/layout";
import { type Measures, measure } from "./measure";

export const FINDINGS = [
  "unmapped",
  "flipped",
  "collapsed",
  "overlap",
  "mirrored",
  "out of tile",
  "gap",
  "density",
  "stretch",
] as const;
export type FindingKind = (typeof FINDINGS)[number];

/** What a layout is held against. */
export const Rules = z.strictObject({
  /** Texels per tile side that gaps are reckoned in; those of the asset's tiles when not given. */
  resolution: z.number().int().min(16).max(65_536).optional(),
  /** Least distance between shells, texels. */
  padding: z.number().min(0).max(256).default(2),
  /** Shells alike that lie exactly on one another share their texels on purpose. */
  stacks: z.boolean().default(true),
  /** Most that densities may differ (standard deviation over mean, by world area). */
  spread: z.number().min(0).max(10).default(0.15),
  /** Most that a shell may be stretched on the whole (symmetric Dirichlet energy, 1 = isometric). */
  stretch: z.number().min(1).max(100).default(1.3),
  /** Kinds of finding that are as they should be here. */
  allowed: z.array(z.enum(FINDINGS)).default([]),
});
export type Rules = Readonly<z.infer<typeof Rules>>;
export const RULES: Rules = Rules.parse({});

/** Something a layout falls short in. */
export interface Finding {
  readonly kind: FindingKind;
  readonly words: string;
  /** What was found and the limit it was held against, in the measure of its kind. */
  readonly value: number;
  readonly limit: number;
  /** Shells it is about, the worst first; none where it is about all. */
  readonly shells: readonly ShellRef[];
  /** The operation that helps. */
  readonly repair?: string;
}

const percent = (x: number): string =>
  x > 0 && x < 1e-4 ? "under 0.01 %" : `${(100 * x).toFixed(x < 0.01 ? 2 : 1)} %`;
const number = (n: number): string => n.toLocaleString("en");
const many = (n: number, one: string, more: string): string => `${number(n)} ${n === 1 ? one : more}`;

/** Everything a layout falls short in by the rules, from its figures. */
export function findingsOf(m: Measures, rules: Rules = RULES): Finding[] {
  const refs = (rows: Measures["perShell"]): ShellRef[] => rows.map(({ shape, face }) => ({ shape, face }));
  const out: Finding[] = [];
  const note = (kind: FindingKind, words: string, value: number, limit: number, more: Partial<Finding> = {}) => {
    if (value > limit && !rules.allowed.includes(kind)) out.push({ kind, words, value, limit, shells: [], ...more });
  };
  const unmapped = m.cornersWithoutUv;
  note("unmapped", `${many(unmapped, "corner has", "corners have")} no coordinates`, unmapped, 0, {
    shells: m.unmapped,
    repair: "unfold",
  });
  const flipped = m.flippedTriangles ?? 0;
  const withFlips = refs(m.perShell.filter((s) => s.flipped).sort((a, b) => b.flipped - a.flipped));
  note("flipped", `${many(flipped, "triangle is", "triangles are")} flipped`, flipped, 0, {
    shells: withFlips,
    repair: "unfold",
  });
  const collapsed = m.collapsedTriangles ?? 0;
  note("collapsed", `${many(collapsed, "triangle has", "triangles have")} no area in UV`, collapsed, 0);
  const overlap = overlapOf(m, rules);
  note("overlap", overlap.words, overlap.share, 1e-9, { shells: overlap.shells, repair: "pack" });
  const mirrored = refs(m.perShell.filter((s) => s.mirrored));
  note("mirrored", `${many(mirrored.length, "shell is", "shells are")} mirrored`, mirrored.length, 0, {
    shells: mirrored,
  });
  const outside = m.outOfBoundsTriangles ?? 0;
  note("out of tile", `${many(outside, "triangle lies", "triangles lie")} across a tile's border`, outside, 0, {
    repair: "pack",
  });
  // Kept as what is missing of the padding, so that more is worse as everywhere else.
  const scale = rules.resolution === undefined ? 1 : rules.resolution / m.resolution;
  const gap = typeof m.shellGapPx === "number" ? m.shellGapPx * scale : null;
  if (gap !== null)
    note("gap", `Shells are ${gap.toFixed(2)} px apart, less than ${rules.padding} px`, rules.padding - gap, 1e-6, {
      repair: "pack",
    });
  const spread = m.texelDensityVariation ?? 0;
  note("density", `Densities differ by ${percent(spread)}, over ${percent(rules.spread)}`, spread, rules.spread, {
    repair: "level",
  });
  const stretched = m.perShell.filter((s) => s.energy > rules.stretch).sort((a, b) => b.energy - a.energy);
  const words = `${many(stretched.length, "shell is", "shells are")} stretched over ${rules.stretch}`;
  note("stretch", words, stretched[0]?.energy ?? 1, rules.stretch, { shells: refs(stretched) });
  return out;
}

/** The share of the covered area that overlaps, and the shells that do, from exact pairs where they are known. */
function overlapOf(m: Measures, rules: Rules): { share: number; words: string; shells: ShellRef[] } {
  const share = (rules.stacks ? m.overlapShareUnstacked : m.overlapShare) ?? 0;
  const pairs = m.overlapPairs?.filter((p) => !rules.stacks || !p.stacked);
  if (!pairs) return { share, words: `${percent(share)} of the covered area overlaps`, shells: [] };
  const shells: ShellRef[] = [];
  const seen = new Set<string>();
  for (const { a, b } of pairs)
    for (const s of [a, b]) {
      const key = `${s.shape}/${s.face}`;
      if (!seen.has(key)) shells.push(s);
      seen.add(key);
    }
  const own = pairs.filter((p) => p.a.shape === p.b.shape && p.a.face === p.b.face).length;
  const told = [
    ...(pairs.length > own ? [many(pairs.length - own, "pair of shells", "pairs of shells")] : []),
    ...(own ? [`${many(own, "shell", "shells")} with ${own === 1 ? "itself" : "themselves"}`] : []),
  ];
  // Texels see nothing of what is smaller than they are: then it is the area of the pairs that counts.
  const covered = m.perShell.reduce((sum, s) => sum + s.uvArea, 0) || 1;
  const least = share || pairs.reduce((sum, p) => sum + p.area, 0) / covered;
  return { share: least, words: `${percent(least)} of the covered area overlaps: ${told.join(", ")}`, shells };
}

/** The same for an asset that was not measured yet. */
export const findings = (asset: Asset, set: UvSetId, rules: Rules = RULES): Finding[] =>
  findingsOf(measure(asset, rules.resolution, set), rules);
