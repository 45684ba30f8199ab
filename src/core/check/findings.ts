import type { Asset, UvSetId } from "../layout/asset";
import type { ShellRef } from "../layout/layout";
import { type AcceptableKind, acceptedKey, type FindingKind, type Rules } from "../layout/rules";
import { type Measures, measure, type ShellPair } from "./measure";

/** Something a layout falls short in. */
export interface Finding {
  readonly kind: FindingKind;
  readonly words: string;
  /** What was found and the limit it was compared with, in the measure of its kind. */
  readonly value: number;
  readonly limit: number;
  /** Shells it is about, the worst first; none where it is about all. */
  readonly shells: readonly ShellRef[];
}

const percent = (x: number): string =>
  x > 0 && x < 1e-4 ? "under 0.01 %" : `${(100 * x).toFixed(x < 0.01 ? 2 : 1)} %`;
const number = (n: number): string => n.toLocaleString("en");
const many = (n: number, one: string, more: string): string => `${number(n)} ${n === 1 ? one : more}`;

/** Whether a shell, or a pair of them, is reported. */
type Told = (kind: AcceptableKind, shells: readonly ShellRef[]) => boolean;

/**
 * Everything a layout falls short in by the rules, from its figures; but for what is accepted.
 *
 * @param set the UV set measured, by which accepted shells are known
 */
export function findingsOf(m: Measures, rules: Rules, set: UvSetId): readonly Finding[] {
  const kept = cached.get(m);
  if (kept?.rules === rules && kept.set === set) return kept.findings;
  const accepted = acceptedIn(rules, set);
  const findings = tell(m, rules, (kind, shells) => !accepted.has(acceptedKey(kind, set, shells)));
  cached.set(m, { rules, set, findings });
  return findings;
}

/** The last findings of figures: several places show them. */
const cached = new WeakMap<Measures, { rules: Rules; set: UvSetId; findings: readonly Finding[] }>();

/** What would be found if it were not accepted. */
export function acceptedOf(m: Measures, rules: Rules, set: UvSetId): readonly Finding[] {
  const accepted = acceptedIn(rules, set);
  if (!accepted.size) return [];
  const kinds = new Set(rules.accepted.map((a): FindingKind => a.kind));
  const all = tell(m, rules, (kind, shells) => accepted.has(acceptedKey(kind, set, shells)));
  return all.filter((f) => kinds.has(f.kind));
}

const acceptedIn = (rules: Rules, set: UvSetId): ReadonlySet<string> =>
  new Set(rules.accepted.filter((a) => a.set === set).map((a) => acceptedKey(a.kind, set, a.shells)));

function tell(m: Measures, rules: Rules, isTold: Told): Finding[] {
  const out: Finding[] = [];
  const note = (kind: FindingKind, words: string, value: number, limit: number, more: Partial<Finding> = {}) => {
    const isAllowed = rules.allowed.includes(kind) && kind !== "mirrored";
    if (value > limit && !isAllowed) out.push({ kind, words, value, limit, shells: [], ...more });
  };
  const unmapped = m.cornersWithoutUv;
  note("unmapped", `${many(unmapped, "corner has", "corners have")} no coordinates`, unmapped, 0, {
    shells: m.unmapped,
  });
  const withFlips = m.perShell.filter((s) => s.flipped && isTold("flipped", [s])).sort((a, b) => b.flipped - a.flipped);
  const flipped = withFlips.reduce((sum, s) => sum + s.flipped, 0);
  note("flipped", `${many(flipped, "triangle is", "triangles are")} flipped`, flipped, 0, {
    shells: refs(withFlips),
  });
  const collapsed = m.collapsedTriangles ?? 0;
  note("collapsed", `${many(collapsed, "triangle has", "triangles have")} no area in UV`, collapsed, 0);
  const overlap = overlapOf(m, rules, isTold);
  note("overlap", overlap.words, overlap.share, 1e-9, { shells: overlap.shells });
  const mirrored = mirroredOf(m, rules, isTold);
  note("mirrored", mirrored.words, mirrored.shells.length, 0, { shells: mirrored.shells });
  const outside = m.outOfBoundsTriangles ?? 0;
  note("out of tile", `${many(outside, "triangle lies", "triangles lie")} across a tile's border`, outside, 0);
  noteSpacing(m, rules, note);
  const stretched = m.perShell
    .filter((s) => s.energy > rules.stretch && isTold("stretch", [s]))
    .sort((a, b) => b.energy - a.energy);
  const words = `${many(stretched.length, "shell is", "shells are")} stretched over ${rules.stretch}`;
  note("stretch", words, stretched[0]?.energy ?? 1, rules.stretch, { shells: refs(stretched) });
  return out;
}

/** Mirrored shells; where these are as they should be, those alone whose lettering reads backwards. */
function mirroredOf(m: Measures, rules: Rules, isTold: Told): { words: string; shells: ShellRef[] } {
  const all = m.perShell.filter((s) => s.mirrored && isTold("mirrored", [s]));
  const bearing = all.filter((s) => s.lettering);
  if (rules.allowed.includes("mirrored"))
    return {
      words: `${many(bearing.length, "shell that bears lettering is", "shells that bear lettering are")} mirrored`,
      shells: refs(bearing),
    };
  const of = bearing.length ? `, ${bearing.length} of them bearing lettering` : "";
  const others = all.filter((s) => !s.lettering);
  return {
    words: `${many(all.length, "shell is", "shells are")} mirrored${of}`,
    shells: refs([...bearing, ...others]),
  };
}

const refs = (rows: Measures["perShell"]): ShellRef[] => rows.map(({ shape, face }) => ({ shape, face }));

/** Gaps and densities: of the whole layout, by no shell of its own. */
function noteSpacing(
  m: Measures,
  rules: Rules,
  note: (kind: FindingKind, words: string, value: number, limit: number) => void,
): void {
  // Shells that overlap are reported as such. What is missing of the padding is kept, so that more is worse as elsewhere.
  const scale = rules.resolution === undefined ? 1 : rules.resolution / m.resolution;
  const gap = typeof m.apartGapPx === "number" ? m.apartGapPx * scale : null;
  if (gap !== null)
    note("gap", `Shells are ${gap.toFixed(2)} px apart, less than ${rules.padding} px`, rules.padding - gap, 1e-6);
  const spread = m.texelDensityVariation ?? 0;
  note("density", `Densities differ by ${percent(spread)}, over ${percent(rules.spread)}`, spread, rules.spread);
}

/** The share of the covered area that overlaps, and the shells that do, from exact pairs where they are known. */
function overlapOf(m: Measures, rules: Rules, isTold: Told): { share: number; words: string; shells: ShellRef[] } {
  const share = (rules.stacks ? m.overlapShareUnstacked : m.overlapShare) ?? 0;
  const known = m.overlapPairs?.filter((p) => !rules.stacks || !p.stacked);
  if (!known) return { share, words: `${percent(share)} of the covered area overlaps`, shells: [] };
  const pairs = known.filter((p) => isTold("overlap", pairOf(p)));
  const shells: ShellRef[] = [];
  const seen = new Set<string>();
  for (const { a, b } of pairs)
    for (const s of [a, b]) {
      const key = `${s.shape}/${s.face}`;
      if (!seen.has(key)) shells.push(s);
      seen.add(key);
    }
  const own = pairs.filter((p) => pairOf(p).length === 1).length;
  const kinds = [
    ...(pairs.length > own ? [many(pairs.length - own, "pair of shells", "pairs of shells")] : []),
    ...(own ? [`${many(own, "shell", "shells")} with ${own === 1 ? "itself" : "themselves"}`] : []),
  ];
  // Texels see nothing of what is smaller than they are, and not which pairs are left out: then the area of pairs counts.
  const covered = m.perShell.reduce((sum, s) => sum + s.uvArea, 0) || 1;
  const byPairs = pairs.reduce((sum, p) => sum + p.area, 0) / covered;
  const least = pairs.length < known.length ? byPairs : share || byPairs;
  return { share: least, words: `${percent(least)} of the covered area overlaps: ${kinds.join(", ")}`, shells };
}

/** The shells that overlap: two, or one that lies over itself. */
export const pairOf = ({ a, b }: ShellPair): ShellRef[] => (a.shape === b.shape && a.face === b.face ? [a] : [a, b]);

/** The same for an asset that was not measured yet. */
export const findings = (asset: Asset, set: UvSetId, rules: Rules = asset.rules): readonly Finding[] =>
  findingsOf(measure(asset, rules.resolution, set), rules, set);
