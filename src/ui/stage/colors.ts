/** Colours of what is drawn on the stage, sRGB 0..1, as the theme has them. */
export interface StageColors {
  readonly paper: readonly number[];
  readonly ink: readonly number[];
  readonly border: readonly number[];
  readonly seam: readonly number[];
  readonly picked: readonly number[];
  readonly preview: readonly number[];
  readonly hover: readonly number[];
}

/** A colour as its three parts, 0..1. */
export const colorOf = (color: string): number[] =>
  [1, 3, 5].map((i) => Number.parseInt(color.slice(i, i + 2), 16) / 255);

export const COLORS: Readonly<Record<"light" | "dark", StageColors>> = {
  light: {
    paper: colorOf("#ffffff"),
    ink: colorOf("#22252e"),
    border: colorOf("#6b6a66"),
    seam: colorOf("#2e3a87"),
    picked: colorOf("#8e2449"),
    preview: colorOf("#c98a1b"),
    hover: colorOf("#1e7f86"),
  },
  // Shells keep their light cloth on the dark table, so that what lies on them stays as dark as by day; seams and marks
  // are a step lighter, so that they differ from the background too.
  dark: {
    paper: colorOf("#e9e2d3"),
    ink: colorOf("#1b1a18"),
    border: colorOf("#8d877b"),
    seam: colorOf("#5563c9"),
    picked: colorOf("#b8356a"),
    preview: colorOf("#d89a2b"),
    hover: colorOf("#2a9aa2"),
  },
};
