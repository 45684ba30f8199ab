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

const hex = (color: string): number[] => [1, 3, 5].map((i) => Number.parseInt(color.slice(i, i + 2), 16) / 255);

export const COLORS: Readonly<Record<"light" | "dark", StageColors>> = {
  light: {
    paper: hex("#ffffff"),
    ink: hex("#22252e"),
    border: hex("#6b6a66"),
    seam: hex("#2e3a87"),
    picked: hex("#8e2449"),
    preview: hex("#c98a1b"),
    hover: hex("#1e7f86"),
  },
  // Shells keep their light cloth on the dark table, so that what lies on them stays as dark as by day; seams and marks
  // are a step lighter, so that they differ from the background too.
  dark: {
    paper: hex("#e9e2d3"),
    ink: hex("#1b1a18"),
    border: hex("#8d877b"),
    seam: hex("#5563c9"),
    picked: hex("#b8356a"),
    preview: hex("#d89a2b"),
    hover: hex("#2a9aa2"),
  },
};
