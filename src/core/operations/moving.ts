/** The wedges of a shape that are moved, and their places. */
export interface Moving {
  readonly shape: string;
  readonly uv: Float64Array;
  readonly wedges: ArrayLike<number>;
}
