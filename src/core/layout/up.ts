/** Ways of space that may count as up. */
export const UP_WAYS = ["x", "-x", "y", "-y", "z", "-z"] as const;
export type UpWay = (typeof UP_WAYS)[number];
type Vector = readonly [number, number, number];

/** Which way is up on a part: its own, where it has one. */
export const upOfPart = (asset: { readonly up: UpWay }, part: { readonly up?: UpWay } | undefined): UpWay =>
  part?.up ?? asset.up;

/** The axis that a way runs along, 0 to 2, and whether it is gone backwards. */
export const axisOf = (way: UpWay): { readonly axis: number; readonly sign: 1 | -1 } => ({
  axis: "xyz".indexOf(way.at(-1)!),
  sign: way.length > 1 ? -1 : 1,
});

export function vectorOf(way: UpWay): Vector {
  const { axis, sign } = axisOf(way);
  return [0, 1, 2].map((d) => (d === axis ? sign : 0)) as unknown as Vector;
}
