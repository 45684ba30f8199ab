import { findingsOf } from "../check/findings";
import type { Asset, UvSetId } from "../layout/asset";
import type { Context, SelectionKind } from "./operation";

/** The warning for seams that a file of coordinates cannot hold. */
export const seamWarnings = (edges: number): string[] =>
  edges
    ? [
        `${count(edges, "seam edge")} cannot be told apart from joined edges in this format, since their two sides coincide in UV. Tavlin keeps the seam.`,
      ]
    : [];

/** "1 vertex", "3 shells". */
export const elementWords = (n: number, kind: SelectionKind): string =>
  kind === "vertices" && n !== 1 ? `${n.toLocaleString("en")} vertices` : count(n, NOUN[kind]);

/** "vertices", "UV points". */
export const manyOf = (kind: SelectionKind): string => (kind === "points" ? "UV points" : kind);

const NOUN: Record<SelectionKind, string> = {
  vertices: "vertex",
  points: "UV point",
  edges: "edge",
  faces: "face",
  shells: "shell",
};

/** "1 shell", "3 shells". */
export const count = (n: number, noun: string): string => `${n.toLocaleString("en")} ${noun}${n === 1 ? "" : "s"}`;

/** What sets that go out fall short in, in a sentence each, where there is somebody who measures. */
export function findingWarnings(asset: Asset, sets: readonly UvSetId[], context: Context): string[] {
  return sets.flatMap((id) => {
    const m = context.figures?.(asset, id);
    const found = m ? findingsOf(m, asset.rules, id) : [];
    const { name } = asset.sets.find((s) => s.id === id)!;
    return found.length
      ? [`${name} went out with ${count(found.length, "finding")}: ${found.map((f) => f.words).join("; ")}.`]
      : [];
  });
}
