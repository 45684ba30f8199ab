/** What of a shape is picked. */
export type ElementKind = "vertices" | "edges" | "faces" | "shells";
