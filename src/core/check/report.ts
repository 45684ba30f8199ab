import { type Asset, placedShape, type UvSet } from "../layout/asset";
import type { ShellRef } from "../layout/layout";
import { acceptedOf, type Finding, findingsOf } from "./findings";
import type { Measures } from "./measure";

/** How one UV set stands: its findings, what of them is accepted, and its figures. */
export interface SetReport {
  readonly set: string;
  readonly findings: readonly Finding[];
  readonly accepted: readonly Finding[];
  readonly figures: Measures;
}

export const setReport = (asset: Asset, set: UvSet, figures: Measures): SetReport => ({
  set: set.name,
  findings: findingsOf(figures, asset.rules, set.id),
  accepted: acceptedOf(figures, asset.rules, set.id),
  figures,
});

/** Parts named for a finding before the others are only counted. */
const NAMED = 3;

/** The parts whose shells a finding is about: " (lid, rim and 2 more)"; nothing where it is about all. */
export function partsOf(asset: Asset, shells: readonly ShellRef[]): string {
  const names = [...new Set(shells.map((s) => placedShape(asset, s.shape).name))];
  if (!names.length) return "";
  const more = names.length - NAMED;
  return ` (${names.slice(0, NAMED).join(", ")}${more > 0 ? ` and ${more} more` : ""})`;
}

/** Reports as lines of plain text. */
export function reportText(asset: Asset, sets: readonly SetReport[]): string {
  const { rules, unit } = asset;
  const lines = [
    asset.name,
    `Held against: padding ${rules.padding} px, density spread ${rules.spread}, stretch ${rules.stretch}.`,
  ];
  for (const { set, findings, accepted, figures: m } of sets) {
    lines.push("", `${set}: ${findings.length ? `${findings.length} to look at` : "all well"}`);
    for (const f of findings) lines.push(`  ${f.words}${partsOf(asset, f.shells)}.`);
    for (const f of accepted) lines.push(`  Accepted: ${f.words}${partsOf(asset, f.shells)}.`);
    const number = (x: number | null | undefined, digits: number, after = "") =>
      typeof x === "number" ? `${x.toFixed(digits)}${after}` : "none";
    const share = (x: number | null | undefined) => number(typeof x === "number" ? 100 * x : x, 1, " %");
    lines.push(
      `  Shells ${m.allShells}, faces ${m.faces}, seams ${number(m.cutLength, 2, ` ${unit}`)}`,
      `  Stretch ${number(m.symmetricDirichlet, 4)}, angles ${number(m.quasiConformalMean, 4)}, areas ${number(m.areaRatioMean, 4)}`,
      `  Density ${number(m.texelDensityMean, 2, ` px/${unit}`)}, spread ${share(m.texelDensityVariation)}`,
      `  Filled ${share(m.coverage)}, overlap ${share(m.overlapShare)}, smallest gap ${number(m.shellGapPx, 2, " px")}`,
    );
  }
  return `${lines.join("\n")}\n`;
}
