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
  tiles: "Tile numbers",
  strokes: "Brush strokes",
} as const;
/** Cells across a swatch, named by a letter across and a number up. */
export const CELLS_OF_SWATCH = 8;
export type SwatchId = keyof typeof SWATCHES;
/** A picture of the library, in place of a pattern. */
export type OwnSwatch = `own:${string}`;
export const ownSwatch = (picture: string): OwnSwatch => `own:${picture}`;
/** The id of the picture that a swatch is; null for one of the patterns. */
export const pictureOfSwatch = (swatch: SwatchId | OwnSwatch): string | null =>
  swatch.startsWith("own:") ? swatch.slice(4) : null;
export const SWATCH_IDS = Object.keys(SWATCHES) as [SwatchId, ...SwatchId[]];

/** Patterns that are all areas: the weight of lines means nothing to them. */
export const WITHOUT_LINES: ReadonlySet<SwatchId> = new Set<SwatchId>(["checks", "gradient"]);

/** Weights of a swatch's lines, by their names; 1 is the finest. */
export const SWATCH_WEIGHTS = { Fine: 1, Medium: 2, Heavy: 3 } as const;
