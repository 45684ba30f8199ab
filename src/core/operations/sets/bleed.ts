/** Texels that images are drawn on beyond their shells, as long as nothing else is said. */
export const BLEED = 16;
