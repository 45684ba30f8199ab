/** Figures as aligned lines; lists are left to --json. */
export function printFigures(figures: Record<string, unknown>): string {
  const lines = Object.entries(figures)
    .filter(([, value]) => typeof value === "number" || value === null)
    .map(([name, value]) => `${name.padEnd(24)} ${typeof value === "number" ? +value.toPrecision(6) : "-"}`);
  return `${lines.join("\n")}\n`;
}
