import { type Asset, fileKey } from "./asset";

/** Returns ids that no part, shape or UV set has; the letter says which kind they are for. */
export type FreshId = (kind: "p" | "m" | "s") => string;

/**
 * Ids for what an edit makes. They follow from the asset's own ids and from what was asked, so that a step done again,
 * here or on the same file elsewhere, makes the same ones; and something else that was asked makes others, so that what
 * comes back by undo never meets a stranger of its name.
 *
 * @param asked returns what tells this edit from others, as JSON can hold it; called when the first id is made
 */
export function freshIds(asset: Asset, asked: () => unknown): FreshId {
  let seed: string | undefined;
  let made = 0;
  return (kind) => {
    seed ??= seedOf(asset, asked());
    return `${kind}-${seed}${made++}`;
  };
}

function seedOf(asset: Asset, asked: unknown): string {
  const there = [asset.parts.map((p) => p.id), [...asset.shapes.keys()], asset.sets.map((s) => s.id)];
  return fileKey(new TextEncoder().encode(JSON.stringify([there, asked]))).replaceAll("-", "");
}
