/** What tells which elements are images of each other: their places, or how faces are joined. */
export const SYMMETRY_BY = ["position", "connectivity"] as const;
export type SymmetryBy = (typeof SYMMETRY_BY)[number];
