declare const kind: unique symbol;

/** A number that names an element of one kind, so that it is not taken for one of another where modules meet. */
type Index<K extends string> = number & { readonly [kind]: K };

export type Vertex = Index<"vertex">;
export type Corner = Index<"corner">;
export type Face = Index<"face">;
export type Edge = Index<"edge">;
export type Wedge = Index<"wedge">;
/** The place of a shell among those of its structure; what outlives edits is its name, which is its least face. */
export type Shell = Index<"shell">;

/** An array of indices of one kind. */
export type Indices<I extends number> = {
  [at: number]: I;
  [Symbol.iterator](): ArrayIterator<I>;
} & Uint32Array;

/** Takes an array for one of indices of a kind; whoever fills it knows. */
export const indices = <I extends number>(array: Uint32Array): Indices<I> => array as Indices<I>;
