import { partById, placedShape } from "@/core/layout/asset";
import type { BenchState, Hover, Pane, PaneNotice } from "../session/store";
import { shellsUnder } from "./uv-at";

/** What is to be said of a click: that what was picked is locked, or that what would lie there is hidden. */
export function noticeFor(
  state: BenchState,
  hit: Hover | null,
  uv: readonly [number, number] | null,
  at: { x: number; y: number; pane: Pane },
): PaneNotice | null {
  const { asset, set, kind, hidden } = state;
  if (!asset) return null;
  if (hit) {
    const part = placedShape(asset, hit.shape).parts.find((p) => p.locked !== undefined);
    if (!part) return null;
    const why = part.locked ? `: ${part.locked}` : "";
    return {
      ...at,
      words: `${part.name} is locked${why}. Edits leave it as it is.`,
      cure: { act: "unlock", part: part.id },
    };
  }
  if (!uv || !hidden.size) return null;
  const shown = new Set(asset.parts.filter((p) => !hidden.has(p.id)).map((p) => p.id));
  const [under] = shellsUnder({ asset, set, kind, hidden: shown }, uv[0], uv[1]);
  if (!under) return null;
  const part = partById(asset, placedShape(asset, under.shape).parts.find((p) => hidden.has(p.id))!.id);
  return { ...at, words: `${part.name} is hidden, and cannot be picked.`, cure: { act: "show", part: part.id } };
}
