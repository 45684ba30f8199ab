import { UserError } from "./user-error";

/** What a brush does to the points under it: evens out their stretch, or smooths the lines through them. */
export const BRUSH_WAYS = ["even", "smooth"] as const;
export type BrushWay = (typeof BRUSH_WAYS)[number];

/** One touch of a brush: its middle and its radius, in tiles of the sheet. */
export interface Dab {
  readonly u: number;
  readonly v: number;
  readonly radius: number;
}

// Strokes of a brush in words, as they are written into the history and on the command line.

/** Dabs of one stroke, at the most: some minutes of brushing. */
export const MOST_DABS = 5000;
/** Decimals of a dab's place: a thousandth of a texel of a tile of 10,000; and digits of its radius. */
const [DECIMALS, DIGITS] = [7, 5];

const NUMBER = String.raw`-?\d+(?:\.\d+)?(?:e-?\d+)?`;
const DAB = new RegExp(`^${NUMBER} ${NUMBER} ${NUMBER}$`);

/** A dab in words, as it stands in a stroke. */
export const dabWords = ({ u, v, radius }: Dab): string =>
  [...[u, v].map((x) => Number(x.toFixed(DECIMALS))), Number(radius.toPrecision(DIGITS))].join(" ");

const partsOf = (stroke: string): string[] => stroke.split(",").map((dab) => dab.trim());

/** The dabs of a stroke, from one on. @throws UserError where they are not written as dabs are */
export const dabsOf = (stroke: string, from = 0): Dab[] => {
  if (!stroke) throw new UserError("Draw over the sheet with the relax brush, or write where it is to pass.");
  const parts = partsOf(stroke);
  if (parts.length > MOST_DABS) throw new UserError(`A stroke has at most ${MOST_DABS} dabs.`);
  return parts.slice(from).map((dab) => {
    const [u, v, radius] = dab.split(" ").map(Number) as [number, number, number];
    if (!DAB.test(dab) || !(radius > 0))
      throw new UserError(
        "Write each dab as u, v and a radius above 0, with commas between dabs: 0.5 0.5 0.1, 0.6 0.5 0.1.",
      );
    return { u, v, radius };
  });
};
