/** Names of the patterns that the swatch view can lay on the faces, by id, in the order in which they are offered. */
export const SWATCHES = {
  letters: "Letters",
  checks: "Plain checks",
  circles: "Circles",
  grid: "Fine grid",
  arrows: "Nap arrows",
  stripes: "Stripes",
  gradient: "Gradient",
  noise: "Specks",
  strokes: "Brush strokes",
} as const;
/** Cells across a swatch, named by a letter across and a number up. */
export const CELLS_OF_SWATCH = 8;
export type SwatchId = keyof typeof SWATCHES;
export const SWATCH_IDS = Object.keys(SWATCHES) as [SwatchId, ...SwatchId[]];

/** Patterns that are all areas: the weight of lines means nothing to them. */
export const WITHOUT_LINES: ReadonlySet<SwatchId> = new Set<SwatchId>(["checks", "gradient"]);

/** Weights of a swatch's lines, by their names; 1 is the finest. */
export const SWATCH_WEIGHTS = { Fine: 1, Medium: 2, Heavy: 3 } as const;
