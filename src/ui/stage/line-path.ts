/** Decimals of a coordinate: a texel of the largest tile is four of them. */
const DECIMALS = 5;

/** Lines of the sheet as a path, 4 numbers each. */
export function pathOf(lines: Float32Array): string {
  const out: string[] = [];
  const at = (i: number) => lines[i]!.toFixed(DECIMALS);
  for (let i = 0; i < lines.length; i += 4) out.push(`M${at(i)} ${at(i + 1)}L${at(i + 2)} ${at(i + 3)}`);
  return out.join("");
}
