/** What of a shape is picked. */
export type SelectionKind = "vertices" | "edges" | "faces" | "shells";
