/** Which way of space counts as up. */
export const UPS = ["as the asset", "x", "-x", "y", "-y", "z", "-z"] as const;
export type Up = (typeof UPS)[number];
