import type { Asset } from "../layout/asset";

/** Ways and steps in which shells are nudged. */
export const NUDGES = ["left", "right", "up", "down"] as const;
export const STEPS = ["a pixel", "a padding", "a grid square", "a tile"] as const;

const WAYS: Readonly<Record<(typeof NUDGES)[number], readonly [number, number]>> = {
  left: [-1, 0],
  right: [1, 0],
  up: [0, 1],
  down: [0, -1],
};

/** How far a nudge goes, u and v. */
export function nudged(
  { tiles, rules }: Pick<Asset, "tiles" | "rules">,
  way: (typeof NUDGES)[number],
  by: (typeof STEPS)[number],
): readonly [number, number] {
  const sizes = {
    "a pixel": 1 / tiles.resolution,
    "a padding": rules.padding / tiles.resolution,
    "a grid square": 1 / 8,
    "a tile": 1,
  };
  const [u, v] = WAYS[way];
  return [u * sizes[by], v * sizes[by]];
}
