/** Along which axes of the sheet points may go. */
export const WAYS = ["both", "u", "v"] as const;
export type Way = (typeof WAYS)[number];
