import { srgbOf } from "../numeric/srgb";

/** Quiet cloth tints, one lightness and chroma, hues spread by the golden angle; sRGB 0..1. */
export function tint(index: number): [number, number, number] {
  const hue = (index * 137.508 + 60) % 360;
  const lightness = 0.885 - 0.035 * (index % 3);
  return oklchToSrgb(lightness, 0.055, (hue * Math.PI) / 180);
}

/** How far shells of one shape are from those of the next in the list of tints. */
const SHAPES_APART = 31;

/** The tint of a shell wherever it is shown: by the place of its shape in the list, and its own among the shells of that. */
export const shellTint = (shape: number, shell: number): [number, number, number] => tint(SHAPES_APART * shape + shell);

export const toHex = (c: readonly number[]): string =>
  `#${c
    .map((x) =>
      Math.round(255 * Math.min(1, Math.max(0, x)))
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;

/** Source: B. Ottosson, A perceptual color space for image processing (2020). */
function oklchToSrgb(l: number, c: number, h: number): [number, number, number] {
  const a = c * Math.cos(h);
  const b = c * Math.sin(h);
  const x = (l + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const y = (l - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const z = (l - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    srgbOf(4.0767416621 * x - 3.3077115913 * y + 0.2309699292 * z),
    srgbOf(-1.2684380046 * x + 2.6097574011 * y - 0.3413193965 * z),
    srgbOf(-0.0041960863 * x - 0.7034186147 * y + 1.707614701 * z),
  ];
}
