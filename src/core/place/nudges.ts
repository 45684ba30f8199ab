/** Ways and steps in which shells are nudged. */
export const NUDGES = ["left", "right", "up", "down"] as const;
export const STEPS = ["a pixel", "a padding", "a grid square", "a tile"] as const;
