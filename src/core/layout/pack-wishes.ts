/** How shells may be turned: not, by halves, by quarters, by steps of some degrees, or as it fits. */
export const TURNS = ["none", "halves", "quarters", "steps", "free"] as const;
export type Turns = (typeof TURNS)[number];

/** How shells come by their sizes. */
export const SIZES = ["level and fill", "fill", "level", "keep"] as const;
export type Sizes = (typeof SIZES)[number];

/** What makes shells a group. */
export const GROUPED_BY = [
  "nothing",
  "material",
  "part",
  "group of parts",
  "named selection",
  "likeness",
  "density ratio",
  "tile",
] as const;
export type GroupedBy = (typeof GROUPED_BY)[number];

/** Where shells come to lie within their page. */
export const PLACES = ["anywhere", "as on the model", "near where they lie"] as const;
export type Places = (typeof PLACES)[number];

/** Which shells the first of several tiles get. */
export const FIRST_TILES = ["the largest", "the most important"] as const;
export type FirstTiles = (typeof FIRST_TILES)[number];

/** How long better places are looked for. */
export const SEARCHES = ["quick", "thorough", "long"] as const;
export type Search = (typeof SEARCHES)[number];

/**
 * How much is done: orders that are tried, beside a search of effort 1; samples that are looked up while shells are settled; and
 * how many searches there are side by side, of which many are short at first.
 */
export const EFFORTS: Readonly<
  Record<Search, { readonly effort: number; readonly work: number; readonly seeds: number }>
> = {
  quick: { effort: 0.5, work: 5e6, seeds: 2 },
  thorough: { effort: 1.5, work: 1e8, seeds: 2 },
  long: { effort: 2, work: 1e8, seeds: 24 },
};
