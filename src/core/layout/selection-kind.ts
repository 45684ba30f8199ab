export const SELECTION_KINDS = ["vertices", "points", "edges", "faces", "shells"] as const;
/** What of a shape is picked; points are those of the sheet, of which a vertex on a seam has several. */
export type SelectionKind = (typeof SELECTION_KINDS)[number];
