/** What shells are turned, scaled or mirrored about. */
export const ABOUT = ["the common middle", "each its own middle"] as const;
export type About = (typeof ABOUT)[number];
