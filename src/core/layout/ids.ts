/** Names of parts, shapes and UV sets: never used twice in an asset's history. */
export type PartId = string;
export type ShapeId = string;
export type UvSetId = string;
