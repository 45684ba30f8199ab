export const SELECTION_KINDS = ["vertices", "edges", "faces", "shells"] as const;
/** What of a shape is picked. */
export type SelectionKind = (typeof SELECTION_KINDS)[number];
