/** Fewer, longer-limbed shells have less seam and fill a tile worse. */
export const SEAMS_OR_SHEET = ["few seams", "balanced", "full sheet"] as const;
export type SeamsOrSheet = (typeof SEAMS_OR_SHEET)[number];

/** How Draft cuts: each form as it asks for, or all by creases, or as organic forms. */
export const DRAFT_STYLES = ["by its form", "creased", "rounded"] as const;
export type DraftStyle = (typeof DRAFT_STYLES)[number];

/** How a part was cut. */
export type DraftedAs = "turned" | "creased" | "rounded" | "in several ways";

/** What shells are kept apart at when they are joined. */
export const APART = ["nothing", "materials", "groups", "creases"] as const;
export type Apart = (typeof APART)[number];
